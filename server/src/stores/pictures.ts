import type { Picture, PicturesRequest } from '@kettle/contract';
import { parseJson, type Database } from '../database/database.js';
import { newId } from './ids.js';

/** What was asked for, with the one colour of this picture. Kept so that it can be told whether the picture still holds. */
export type PictureRequest = Omit<PicturesRequest, 'colourways' | 'revision'> & { readonly colourway: { readonly name: string; readonly hex: string } };

export type StoredPicture = Omit<Picture, 'outOfDate'> & { readonly recipe: string; readonly sha256: string; readonly request: PictureRequest };

interface Row { id: string; design_id: string; blank_id: string; request: unknown; recipe: Buffer; sha256: Buffer; filename: string; bytes: number; made_at: Date }

function toPicture(row: Row): StoredPicture {
  const request = parseJson<PictureRequest>(row.request);
  return {
    id: row.id, designId: row.design_id, blankId: row.blank_id, request, recipe: row.recipe.toString('hex'), sha256: row.sha256.toString('hex'), filename: row.filename,
    bytes: Number(row.bytes), madeAt: row.made_at.toISOString(), colourway: request.colourway.name, garment: request.colourway.hex, size: request.size, format: request.format,
  };
}

export class PictureStore {
  constructor(private readonly database: Database) {}

  async get(id: string): Promise<StoredPicture | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM picture WHERE id = ?', [id]);
    return row ? toPicture(row) : null;
  }

  async byRecipe(designId: string, recipe: string): Promise<StoredPicture | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM picture WHERE design_id = ? AND recipe = ?', [designId, Buffer.from(recipe, 'hex')]);
    return row ? toPicture(row) : null;
  }

  async ofDesign(designId: string): Promise<StoredPicture[]> {
    return (await this.database.rows<Row>('SELECT * FROM picture WHERE design_id = ? ORDER BY made_at DESC, id LIMIT 500', [designId])).map(toPicture);
  }

  /** Gives a picture the name that its design has now. */
  async rename(id: string, filename: string): Promise<void> { await this.database.change('UPDATE picture SET filename = ? WHERE id = ?', [filename, id]); }

  async counts(): Promise<Record<string, number>> {
    const rows = await this.database.rows<{ design_id: string; n: number }>('SELECT design_id, COUNT(*) AS n FROM picture GROUP BY design_id');
    return Object.fromEntries(rows.map((row) => [row.design_id, Number(row.n)]));
  }

  async add(designId: string, request: PictureRequest, made: { recipe: string; sha256: string; filename: string; bytes: number }): Promise<StoredPicture> {
    await this.database.change(
      'INSERT IGNORE INTO picture (id, design_id, blank_id, request, recipe, sha256, filename, bytes) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [newId(), designId, request.blankId, JSON.stringify(request), Buffer.from(made.recipe, 'hex'), Buffer.from(made.sha256, 'hex'), made.filename, made.bytes],
    );
    return (await this.byRecipe(designId, made.recipe))!;
  }
}
