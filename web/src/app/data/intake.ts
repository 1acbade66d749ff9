import { Injectable, inject } from '@angular/core';
import type { Asset, SavedDesign } from '@kettle/contract';
import { shortName } from '@kettle/core/text';
import { emptyDesign, type Requirement } from '@kettle/core/model';
import { addLayer, layOnTarget, pictureLayer } from '@kettle/core/document';
import { EMPTY, catchError, concat, concatMap, from, map, of, switchMap, toArray, type Observable } from 'rxjs';
import { Api } from './api';
import { sentenceOf as sentence } from './problems';
import { AssetShelf } from './asset-shelf';
import { Notices } from './notices';
import { RequirementShelf } from './requirement-shelf';

/** Names of files that hold a whole design. */
const DESIGN_FILE = /\.(zip|ora)$/i;

export const newLayerId = (): string => crypto.randomUUID();

/** Files that are dropped or chosen: taken in one after the other; a bad one is told and does not stop the rest. */
@Injectable({ providedIn: 'root' })
export class Intake {
  private readonly api = inject(Api);
  private readonly assets = inject(AssetShelf);
  private readonly notices = inject(Notices);
  private readonly requirements = inject(RequirementShelf);

  takeIn(files: readonly File[]): Observable<Asset> {
    return from(files).pipe(
      concatMap((file) =>
        this.api.ask('post /api/assets', { body: file }).pipe(
          catchError((error: unknown) => {
            this.notices.complain(`“${file.name}”: ${sentence(error)}`);
            return EMPTY;
          }),
        ),
      ),
      map((asset) => {
        this.assets.put(asset);
        return asset;
      }),
    );
  }

  /**
   * A new design for each file: design files as they were kept, art named after it and for the usual requirement.
   */
  makeDesigns(files: readonly File[]): Observable<SavedDesign[]> {
    const kept = files.filter((file) => DESIGN_FILE.test(file.name));
    return concat(this.openDesigns(kept), this.makeFromArt(files.filter((file) => !kept.includes(file)))).pipe(
      toArray(),
    );
  }

  private openDesigns(files: readonly File[]): Observable<SavedDesign> {
    return from(files).pipe(
      concatMap((file) =>
        this.api.ask('post /api/design-files', { body: file }).pipe(
          map(({ design, told }) => {
            if (told.length) this.notices.complain(`“${file.name}” was opened, but: ${told.join(' ')}`);
            return design;
          }),
          catchError((error: unknown) => {
            this.notices.complain(`“${file.name}”: ${sentence(error)}`);
            return EMPTY;
          }),
        ),
      ),
    );
  }

  private makeFromArt(files: readonly File[]): Observable<SavedDesign> {
    if (!files.length) return EMPTY;
    return this.usual().pipe(
      switchMap((usual) =>
        this.takeIn(files).pipe(
          concatMap((asset) => {
            const name = nameOf(asset.filename);
            const empty = emptyDesign(name);
            const design = addLayer(pictureLayer(newLayerId(), name, asset, empty.field))(empty);
            const document = usual ? layOnTarget(usual)(design) : design;
            return this.api.ask('post /api/designs', { body: document }).pipe(
              catchError((error: unknown) => {
                this.notices.complain(error);
                return EMPTY;
              }),
            );
          }),
        ),
      ),
    );
  }

  /** A design without art, for those who start from a canvas. */
  makeEmptyDesign(requirement: Requirement): Observable<SavedDesign> {
    return this.api.ask('post /api/designs', {
      body: { ...emptyDesign('Untitled design'), targets: [{ requirementId: requirement.id }] },
    });
  }

  /**
   * Art may be dropped before the requirements have come in: they are waited for, so that no design starts without a
   * canvas.
   */
  private usual(): Observable<Requirement | null> {
    const all = this.requirements.loaded() ? of(this.requirements.all()) : this.requirements.refresh();
    return all.pipe(map(() => this.requirements.usual()));
  }
}

/** A design's name from a file name: without its ending, hyphens and underscores as blanks. */
export function nameOf(filename: string): string {
  const words = filename
    .replace(/\.[A-Za-z0-9]{1,5}$/, '')
    .replace(/[_-]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const [first = ''] = words;
  return shortName(first.toUpperCase() + words.slice(first.length), 120, 'Untitled design');
}
