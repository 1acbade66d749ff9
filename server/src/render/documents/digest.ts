import { createHash } from 'node:crypto';
import type { Cloth, DesignDocument, Layer } from '@kettle/core/model';
import { fontIdsOf, assetIdsOf, bulkOf, kindOf } from '@kettle/core/layers';
import { backdropIdsOf, versionsOf } from '@kettle/core/document';

/** A document as it is stored: its long pieces apart, and what is asked of it without reading it. */
export interface Digest {
  readonly name: string;
  readonly layers: number;
  readonly template: boolean;
  /** Targets, once for each of their versions. */
  readonly targets: readonly {
    readonly requirementId: string;
    readonly version: Cloth | null;
    readonly garment: string | null;
  }[];
  readonly assetIds: readonly string[];
  readonly fontIds: readonly string[];
  /** The document's JSON, with {@link placeholder}s where long pieces were. */
  readonly skeleton: string;
  /** Those pieces by their content's SHA-256, hex. */
  readonly parts: Readonly<Record<string, string>>;
  /** Characters of the whole document's JSON. */
  readonly length: number;
}

/** Documents shorter than this are stored whole. */
const WHOLE_BELOW = 16 * 1024;
/** Pieces shorter than this stay where they are. */
const LEAST_PART = 2048;
/** A list is cut into runs that end once they are this long: a list that grows at its end keeps the runs it has. */
const RUN_LENGTH = 8192;

/**
 * No string of a document can look like this in JSON, because quotes in strings are escaped; and no object has such a
 * key, because the schema allows none.
 */
const placeholder = (sha256: string): object => ({ $part: sha256 });
const PLACEHOLDER = /\{"\$part":"([0-9a-f]{64})"\}/g;

/** Works out how a document is stored. It may be any JSON: a damaged one is stored whole, and names nothing. */
export function digestOf(document: DesignDocument): Digest {
  const whole = JSON.stringify(document);
  const parts: Record<string, string> = {};
  const cut =
    whole.length >= WHOLE_BELOW && isSound(document)
      ? JSON.stringify({ ...document, layers: document.layers.map((layer) => withoutBulk(layer, parts)) })
      : whole;
  return { ...namesOf(document), skeleton: cut, parts, length: whole.length };
}

function namesOf(
  document: DesignDocument,
): Pick<Digest, 'name' | 'layers' | 'template' | 'targets' | 'assetIds' | 'fontIds'> {
  const given = document as Partial<DesignDocument> | null;
  const layers = (Array.isArray(given?.layers) ? given.layers : []).filter(
    (layer: Layer | null) => layer && kindOf(layer),
  ) as readonly Layer[];
  const targets = (Array.isArray(given?.targets) ? given.targets : []).filter(
    (target) => typeof target?.requirementId === 'string' && target.requirementId.length <= 64,
  );
  return {
    name: typeof given?.name === 'string' ? given.name : '',
    layers: layers.length,
    template: given?.template === true,
    targets: targets.flatMap((target) =>
      versionsOf(target).map((version) => ({
        requirementId: target.requirementId,
        version,
        garment: target.garment ?? null,
      })),
    ),
    assetIds: [...new Set([...assetIdsOf(layers), ...backdropsOf(given)])],
    fontIds: [...new Set(fontIdsOf(layers))],
  };
}

/** Of any JSON, which may be damaged. */
function backdropsOf(given: Partial<DesignDocument> | null): string[] {
  const scenes = Array.isArray(given?.scenes) ? given.scenes : [];
  const ids = backdropIdsOf({ scene: given?.scene, scenes });
  return ids.filter((id) => typeof id === 'string' && id.length <= 64);
}

const isSound = (document: DesignDocument): boolean =>
  Array.isArray(document?.layers) && document.layers.every((layer) => layer && kindOf(layer));

function withoutBulk(layer: Layer, parts: Record<string, string>): object {
  const fields = Object.entries(layer) as [string, unknown][];
  const bulk = bulkOf(layer);
  return Object.fromEntries(
    fields.map(([key, value]) => [
      key,
      !bulk.includes(key)
        ? value
        : Array.isArray(value)
          ? runsOf(value, parts)
          : (partOf(JSON.stringify(value), parts) ?? value),
    ]),
  );
}

/**
 * A list with each long run of its members as one part. A run's text is its members with commas between, so that it
 * can be put back as it is.
 */
function runsOf(list: readonly unknown[], parts: Record<string, string>): unknown[] {
  const out: unknown[] = [];
  let [run, texts, length]: [unknown[], string[], number] = [[], [], 0];
  const end = (): void => {
    const part = partOf(texts.join(','), parts);
    if (part) out.push(part);
    else out.push(...run);
    [run, texts, length] = [[], [], 0];
  };
  for (const member of list) {
    const text = JSON.stringify(member);
    run.push(member);
    texts.push(text);
    length += text.length;
    if (length >= RUN_LENGTH) end();
  }
  if (run.length) end();
  return out;
}

function partOf(text: string, parts: Record<string, string>): object | null {
  if (text.length < LEAST_PART) return null;
  const sha256 = createHash('sha256').update(text).digest('hex');
  parts[sha256] = text;
  return placeholder(sha256);
}

/** Hashes of the parts that a skeleton names, each once. */
export const partsNamedBy = (skeleton: string): string[] => [
  ...new Set([...skeleton.matchAll(PLACEHOLDER)].map(([, sha256]) => sha256)),
];

/** A document's JSON with its parts back in place. @throws Error when one of them is missing */
export function assembled(skeleton: string, parts: ReadonlyMap<string, string>): string {
  return skeleton.replace(PLACEHOLDER, (_whole, sha256: string) => {
    const part = parts.get(sha256);
    if (part === undefined) throw new Error(`A part of a stored document is missing: ${sha256.slice(0, 12)}.`);
    return part;
  });
}
