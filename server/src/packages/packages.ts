import type { Package, PackageDetail, PackageRequest, PrintFile } from '@kettle/contract';
import { shortName } from '@kettle/core/text';
import type { Requirement } from '@kettle/core/model';
import { versionsOf, versionWord } from '@kettle/core/document';
import { fileNameOf, nameBy, safeName, uniqueNames } from '@kettle/core/naming';
import type { Caller } from '../floor/basics/caller.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import { PackageStore, type PackedFile, type StoredPackage } from './package-store.js';
import type { RequirementStore } from '../requirements/requirement-store.js';
import { targetOf, type DesignService } from '../designs/designs.js';
import type { PictureOutputService } from '../mockups/picture-outputs.js';
import type { OutputService } from '../making/outputs.js';
import { packageZip, type FileAbout } from './package-zip.js';

interface Gathered {
  readonly files: readonly PackedFile<FileAbout>[];
  readonly missing: PackageDetail['missing'];
}

/** What it works with. */
export interface PackageDeps {
  readonly packageStore: PackageStore;
  readonly outputs: OutputService;
  readonly pictureOutputs: PictureOutputService;
  readonly designs: DesignService;
  readonly requirements: RequirementStore;
  readonly blobs: BlobStore;
}

/** Files made together, with what is in them written beside: kept as a list, written whenever somebody takes it. */
export class PackageService {
  constructor(private readonly deps: PackageDeps) {}

  list(who: Caller): Promise<Package[]> {
    return this.deps.packageStore.list(who.owner);
  }

  /** @throws ProblemError 409 when nothing would be in it */
  async pack(who: Caller, request: PackageRequest): Promise<PackageDetail> {
    const { files: all, missing } = await this.gather(who, request);
    const before = request.changedOnly
      ? await this.deps.packageStore.packedBefore(
          who.owner,
          all.map((file) => file.sha256),
        )
      : new Set<string>();
    const files = all.filter((file) => !before.has(PackageStore.nameOf(file)));
    if (!files.length)
      throw new ProblemError(
        409,
        'nothing-to-pack',
        all.length
          ? 'Nothing has changed since the last package: every file of these targets was packed before.'
          : `Nothing here is made yet${missing.length ? `: ${missing[0].design}, ${missing[0].requirement}, for one, ${missing[0].why}` : ''}. Make the files first.`,
      );
    const kept = await this.keep(
      who,
      { name: shortName(request.name, 120, 'Package'), folders: request.folders, changedOnly: request.changedOnly },
      files,
    );
    return { ...kept, entries: files.map(entryOf), missing };
  }

  /** Keeps a list of files as a package. */
  keep(
    who: Caller,
    package_: Pick<StoredPackage, 'name' | 'folders' | 'changedOnly'>,
    files: readonly PackedFile<FileAbout>[],
  ): Promise<StoredPackage> {
    return this.deps.packageStore.add(who.owner, package_, files);
  }

  async detail(who: Caller, id: string): Promise<PackageDetail> {
    const kept = await this.get(who, id);
    return { ...kept, entries: (await this.deps.packageStore.files<FileAbout>(id)).map(entryOf), missing: [] };
  }

  async remove(who: Caller, id: string): Promise<void> {
    await this.get(who, id);
    await this.deps.packageStore.remove(who.owner, id);
  }

  /** The archive, written while it is read. */
  async content(who: Caller, id: string): Promise<{ filename: string; stream: NodeJS.ReadableStream; length: number }> {
    const { name } = await this.get(who, id);
    const files = await this.deps.packageStore.files<FileAbout>(id);
    return {
      filename: safeName(name, 'zip'),
      ...(await packageZip(name, files, (sha256) => this.deps.blobs.stream(sha256))),
    };
  }

  /** Listing pictures of a design that show it as it is now. */
  private async picturesOf(who: Caller, designId: string, folders: PackageRequest['folders']): Promise<Candidate[]> {
    const { outline } = await this.deps.designs.get(who, designId);
    const folder = { channel: 'Pictures/', design: `${safeFolder(outline.name)}/`, none: '' }[folders];
    return (await this.deps.pictureOutputs.currentPictures(who, designId)).map((picture) => ({
      folder,
      name: picture.filename,
      sha256: picture.sha256,
      bytes: picture.bytes,
      about: {
        kind: 'picture',
        design: outline.name,
        designId,
        channel: 'Pictures',
        requirement: `${picture.blankId}, ${picture.colourway}`,
        requirementId: picture.blankId,
        version: null,
        recipe: picture.recipe,
        certificate: [],
      },
    }));
  }

  private async get(who: Caller, id: string): Promise<StoredPackage> {
    const kept = await this.deps.packageStore.get(who.owner, id);
    if (!kept) throw new ProblemError(404, 'no-such-package', 'There is no package with this id.');
    return kept;
  }

  /** The newest file of each target that is as its channel demands, and what there is none of. */
  private async gather(who: Caller, { targets, folders, pictures }: PackageRequest): Promise<Gathered> {
    const { pattern } = await this.deps.outputs.naming(who);
    const requirements = new Map((await this.deps.requirements.list(who.owner)).map((one) => [one.id, one]));
    const files: Candidate[] = [];
    const missing: { design: string; requirement: string; why: string }[] = [];
    for (const { designId, requirementIds } of targets) {
      const design = await this.deps.designs.get(who, designId);
      const { name, targets: own } = design.outline;
      const made = await this.deps.outputs.madeOf(who, designId);
      const wanted = requirementIds.length ? requirementIds : own.map((target) => target.requirementId);
      for (const requirementId of new Set(wanted)) {
        const requirement = requirements.get(requirementId);
        if (!requirement) continue;
        const placed = new Set<string>();
        for (const version of versionsOf(targetOf(design.outline, requirementId))) {
          const of = made.filter((file) => file.requirementId === requirementId);
          const file = of.find((one) => one.standsFor.includes(version));
          const words = `${requirement.channel}, ${requirement.name}${version ? ` ${versionWord(version)}` : ''}`;
          if (!file || !file.accepted) {
            missing.push({ design: name, requirement: words, why: whyNot(file, of.length > 0) });
            continue;
          }
          // One file may stand for both versions: it is in the package once.
          if (placed.has(file.id)) continue;
          placed.add(file.id);
          files.push({
            folder: folderOf(folders, name, requirement),
            name: nameBy(pattern, { design: name, requirement, version: file.version }, extensionOf(file.filename)),
            sha256: file.sha256,
            bytes: file.bytes,
            about: {
              kind: 'print-file',
              design: name,
              designId,
              channel: requirement.channel,
              requirement: requirement.name,
              requirementId,
              version: file.version,
              recipe: file.recipe,
              certificate: file.certificate,
            },
          });
        }
      }
    }
    if (pictures) for (const { designId } of targets) files.push(...(await this.picturesOf(who, designId, folders)));
    const paths = uniquePaths(files.map(({ folder, name }) => ({ folder, name })));
    return {
      missing,
      files: files
        .map(({ sha256, bytes, about }, i) => ({ path: paths[i], sha256, bytes, about }))
        .sort((a, b) => (a.path < b.path ? -1 : 1)),
    };
  }
}

/** A file on its way into a package. */
interface Candidate {
  readonly folder: string;
  readonly name: string;
  readonly sha256: string;
  readonly bytes: number;
  readonly about: FileAbout;
}

const entryOf = ({ path, bytes, sha256 }: PackedFile): PackageDetail['entries'][number] => ({ path, bytes, sha256 });

const whyNot = (file: PrintFile | undefined, some: boolean): string =>
  file ? 'misses a demand' : some ? 'is out of date' : 'is not made yet';

const extensionOf = (filename: string): string => filename.slice(filename.lastIndexOf('.') + 1);

const folderOf = (folders: PackageRequest['folders'], design: string, requirement: Requirement): string =>
  folders === 'none' ? '' : `${safeFolder(folders === 'channel' ? requirement.channel : design)}/`;

const safeFolder = (name: string): string => safeName(fileNameOf(name).slice(0, 80), 'x').replace(/\.x$/, '');

/** Paths of which no two are the same, folder by folder. */
function uniquePaths(files: readonly { readonly folder: string; readonly name: string }[]): string[] {
  const paths = new Array<string>(files.length);
  const folders = new Map<string, number[]>();
  files.forEach(({ folder }, i) => {
    const key = folder.toLowerCase();
    folders.set(key, [...(folders.get(key) ?? []), i]);
  });
  for (const members of folders.values())
    uniqueNames(members.map((i) => files[i].name)).forEach((name, k) => {
      paths[members[k]] = `${files[members[0]].folder}${name}`;
    });
  return paths;
}
