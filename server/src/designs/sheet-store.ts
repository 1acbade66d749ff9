import { joinCurrent } from '../documents/out-of-date.js';
import type { Cloth } from '@kettle/core/model';
import { readTargetKey } from '@kettle/core/document';
import type { Database } from '../floor/database/database.js';
import type { Judgement } from '../render/documents/derive.js';

/** A design as the job sheet shows it. */
export interface SheetDesign {
  readonly id: string;
  readonly revision: number;
  readonly name: string;
  readonly layers: number;
  readonly template: boolean;
  readonly pictures: number;
  readonly savedAt: string;
  /** Id of the picture set it is to have. */
  readonly pictureSet: string | null;
}

/** A target as the job sheet shows it: what was found of it, if that was worked out, and its files. */
export interface SheetTarget {
  readonly designId: string;
  readonly requirementId: string;
  readonly version: Cloth | null;
  readonly garment: string | null;
  /** Null when it was never judged. */
  readonly found:
    (Judgement & { readonly revision: number; readonly requirementRevision: number; readonly engine: number }) | null;
  /** The file that follows the recipe that was found. */
  readonly current: { readonly id: string; readonly accepted: boolean } | null;
  readonly newestFile: string | null;
  /** Why no file could be made when it was asked for last; null when it was, or was dismissed. */
  readonly failure: string | null;
}

interface DesignRow {
  id: string;
  revision: number;
  name: string;
  layers: number;
  template: number;
  pictures: number;
  saved_at: Date;
  picture_set: string | null;
  total?: number;
}
interface TargetRow {
  design_id: string;
  requirement_id: string;
  version: string;
  garment: string | null;
  revision: number | null;
  requirement_revision: number | null;
  engine: number | null;
  recipe: Buffer | null;
  printable: number | null;
  gravest: string | null;
  newest_file: string | null;
  file: string | null;
  accepted: number | null;
  failure: string | null;
}

/** What was judged of a target, to be kept. */
export interface JudgedRow {
  readonly designId: string;
  readonly revision: number;
  readonly requirementId: string;
  readonly requirementRevision: number;
  readonly version: Cloth | null;
  readonly judgement: Judgement;
}

const COLUMNS = 'd.id, d.revision, d.name, d.layers, d.template, d.pictures, d.picture_set, r.saved_at';
const SAVED = 'JOIN design_revision r ON r.design_id = d.id AND r.revision = d.revision';

/** A page of the sheet: found in an index, whatever the number of designs before it. */
export const PAGE_SQL = `SELECT ${COLUMNS}, (SELECT COUNT(*) FROM design WHERE owner = ? AND deleted_at IS NULL) AS total
  FROM (SELECT id FROM design WHERE owner = ? AND deleted_at IS NULL ORDER BY position LIMIT ? OFFSET ?) page
  JOIN design d ON d.id = page.id ${SAVED} ORDER BY d.position`;

/**
 * Targets of some designs, each with the one file that follows what was found: looked up by its recipe, whatever the
 * number of files.
 */
export const TARGETS_SQL = `SELECT t.design_id, t.requirement_id, t.version, t.garment,
    t.revision, t.requirement_revision, t.engine, t.recipe, t.printable, t.gravest, t.newest_file, f.id AS file, f.accepted, x.sentence AS failure
  FROM design_target t ${joinCurrent('print-file', 'f', 't')}
  LEFT JOIN failure x ON x.design_id = t.design_id AND x.kind = 'print-file' AND x.about = CONCAT_WS('/', t.requirement_id, NULLIF(t.version, ''))
  WHERE t.design_id IN (?) ORDER BY t.design_id, t.position`;

/** What the job sheet shows, kept beside the designs so that no document and no list of files is read for it. */
export class SheetStore {
  constructor(private readonly database: Database) {}

  async page(owner: string, from: number, count: number): Promise<{ total: number; designs: SheetDesign[] }> {
    const rows = await this.database.rowsOnce<DesignRow>(PAGE_SQL, [owner, owner, Math.trunc(count), Math.trunc(from)]);
    const total = rows.length ? Number(rows[0].total) : from === 0 ? 0 : (await this.page(owner, 0, 1)).total;
    return { total, designs: rows.map(toDesign) };
  }

  /** Those of the ids that are on the sheet. */
  async some(owner: string, ids: readonly string[]): Promise<SheetDesign[]> {
    if (!ids.length) return [];
    return (
      await this.database.rowsOnce<DesignRow>(
        `SELECT ${COLUMNS} FROM design d ${SAVED} WHERE d.id IN (?) AND d.owner = ? AND d.deleted_at IS NULL ORDER BY d.position`,
        [ids, owner],
      )
    ).map(toDesign);
  }

  async targets(designIds: readonly string[]): Promise<SheetTarget[]> {
    return designIds.length ? (await this.database.rowsOnce<TargetRow>(TARGETS_SQL, [designIds])).map(toTarget) : [];
  }

  /** Keeps what was found, unless a newer revision was saved meanwhile. */
  async keep(engine: number, rows: readonly JudgedRow[]): Promise<void> {
    if (!rows.length) return;
    const given = rows.map(
      ({
        designId: d,
        revision: r,
        requirementId: q,
        requirementRevision: v,
        version,
        judgement: { recipe, printable: p, gravest: g },
      }) => ({ d, r, q, v, w: version ?? '', recipe, p: Number(p), g }),
    );
    await this.database.change(
      `UPDATE design_target t
       JOIN JSON_TABLE(?, '$[*]' COLUMNS (
         d VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin PATH '$.d',
         q VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$.q',
         w VARCHAR(5) CHARACTER SET ascii COLLATE ascii_bin PATH '$.w',
         r INT UNSIGNED PATH '$.r', v INT UNSIGNED PATH '$.v', recipe CHAR(64) CHARACTER SET ascii PATH '$.recipe',
         p INT PATH '$.p', g VARCHAR(200) PATH '$.g')) j
         ON j.d = t.design_id AND j.q = t.requirement_id AND j.w = t.version
       JOIN design d ON d.id = t.design_id AND d.revision = j.r
       SET t.revision = j.r, t.requirement_revision = j.v, t.engine = ?, t.recipe = UNHEX(j.recipe), t.printable = j.p, t.gravest = j.g`,
      [JSON.stringify(given), engine],
    );
  }

  /** A design has another picture, or a target another file. */
  async made(designId: string, shown: 'target' | 'picture' | null, about: string, outputId: string): Promise<void> {
    if (shown === 'picture')
      await this.database.change(
        "UPDATE design SET pictures = (SELECT COUNT(*) FROM output WHERE design_id = ? AND kind = 'picture') WHERE id = ?",
        [designId, designId],
      );
    if (shown === 'target')
      await this.database.change(
        'UPDATE design_target SET newest_file = ? WHERE design_id = ? AND requirement_id = ? AND version = ?',
        [outputId, designId, readTargetKey(about).requirementId, readTargetKey(about).cloth ?? ''],
      );
  }
}

const toDesign = (row: DesignRow): SheetDesign => ({
  id: row.id,
  revision: row.revision,
  name: row.name,
  layers: Number(row.layers),
  template: Boolean(row.template),
  pictures: Number(row.pictures),
  savedAt: row.saved_at.toISOString(),
  pictureSet: row.picture_set,
});

const toTarget = (row: TargetRow): SheetTarget => ({
  designId: row.design_id,
  requirementId: row.requirement_id,
  version: row.version === 'light' || row.version === 'dark' ? row.version : null,
  garment: row.garment,
  found:
    row.recipe === null
      ? null
      : {
          revision: row.revision!,
          requirementRevision: row.requirement_revision!,
          engine: row.engine!,
          recipe: row.recipe.toString('hex'),
          printable: Boolean(row.printable),
          gravest: row.gravest,
        },
  current: row.file === null ? null : { id: row.file, accepted: Boolean(row.accepted) },
  newestFile: row.newest_file,
  failure: row.failure,
});
