import { joinCurrent } from '../documents/out-of-date.js';
import type { PictureSetFields } from '@kettle/core/mockup';
import type { Database } from '../floor/database/database.js';
import { OwnFieldsStore } from '../floor/database/own-fields.js';

/** What one picture of a design's set would be made of. */
export interface StoredShot {
  readonly designId: string;
  /** Of what it was worked out, 32 hex digits. */
  readonly stamp: string;
  /** Null when it cannot be made. */
  readonly recipe: string | null;
  readonly wrong: string | null;
  /** The picture that follows the recipe, when it is made. */
  readonly pictureId: string | null;
}

interface ShotRow {
  design_id: string;
  stamp: Buffer;
  recipe: Buffer | null;
  wrong: string | null;
  picture: string | null;
}

/** Sets of listing pictures, which design has which, and what their pictures would be made of. */
export class PictureSetStore extends OwnFieldsStore<PictureSetFields> {
  constructor(database: Database) {
    super(database, 'picture_set');
  }

  /** Says which set designs are to have. */
  async use(owner: string, designIds: readonly string[], setId: string | null): Promise<void> {
    await this.database.change(
      `UPDATE design d
       JOIN JSON_TABLE(?, '$[*]' COLUMNS (id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin PATH '$')) j ON j.id = d.id
       SET d.picture_set = ? WHERE d.owner = ? AND d.deleted_at IS NULL`,
      [JSON.stringify(designIds), setId, owner],
    );
  }

  /** What was worked out for some designs, in the order of their sets. */
  async shots(designIds: readonly string[]): Promise<StoredShot[]> {
    if (!designIds.length) return [];
    return (
      await this.database.rowsOnce<ShotRow>(
        `SELECT s.design_id, s.stamp, s.recipe, s.wrong, o.id AS picture
         FROM design_shot s
         ${joinCurrent('picture', 'o', 's')}
         WHERE s.design_id IN (?) ORDER BY s.design_id, s.seq`,
        [designIds],
      )
    ).map(({ design_id, stamp, recipe, wrong, picture }) => ({
      designId: design_id,
      stamp: stamp.toString('hex'),
      recipe: recipe?.toString('hex') ?? null,
      wrong,
      pictureId: picture,
    }));
  }

  /** Keeps what was worked out for a design, in place of what was before. */
  async keepShots(
    designId: string,
    stamp: string,
    shots: readonly Pick<StoredShot, 'recipe' | 'wrong'>[],
  ): Promise<void> {
    await this.database.transaction(async (within) => {
      // Several may have worked it out at once: they write it one after the other.
      await within.rowsOnce('SELECT id FROM design WHERE id = ? FOR UPDATE', [designId]);
      await within.change('DELETE FROM design_shot WHERE design_id = ?', [designId]);
      await within.change(
        `INSERT INTO design_shot (design_id, seq, stamp, recipe, wrong)
         SELECT ?, j.seq, UNHEX(?), UNHEX(j.recipe), j.wrong FROM JSON_TABLE(?, '$[*]' COLUMNS (
           seq INT UNSIGNED PATH '$.seq', recipe CHAR(64) CHARACTER SET ascii PATH '$.recipe',
           wrong VARCHAR(400) PATH '$.wrong')) j`,
        [
          designId,
          stamp,
          JSON.stringify(shots.map(({ recipe, wrong }, seq) => ({ seq, recipe, wrong: wrong?.slice(0, 400) ?? null }))),
        ],
      );
    });
  }
}
