import type { PrintFile } from '@kettle/contract';
import type { CertificateRow } from '@kettle/core';
import { parseJson, type Database } from '../database/database.js';
import { newId } from './ids.js';

/** A print file as stored; whether it is out of date is found by comparing recipes. */
export type StoredPrintFile = Omit<PrintFile, 'outOfDate'> & { readonly recipe: string };

interface Row {
  id: string; design_id: string; requirement_id: string; recipe: Buffer; sha256: Buffer; filename: string; bytes: number; accepted: number; certificate: unknown; made_at: Date;
}

const toPrintFile = (row: Row): StoredPrintFile => ({
  id: row.id, designId: row.design_id, requirementId: row.requirement_id, recipe: row.recipe.toString('hex'), sha256: row.sha256.toString('hex'), filename: row.filename,
  bytes: Number(row.bytes), accepted: Boolean(row.accepted), certificate: parseJson<CertificateRow[]>(row.certificate), madeAt: row.made_at.toISOString(),
});

export class PrintFileStore {
  constructor(private readonly database: Database) {}

  async get(id: string): Promise<StoredPrintFile | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM print_file WHERE id = ?', [id]);
    return row ? toPrintFile(row) : null;
  }

  async byRecipe(designId: string, recipe: string): Promise<StoredPrintFile | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM print_file WHERE design_id = ? AND recipe = ?', [designId, Buffer.from(recipe, 'hex')]);
    return row ? toPrintFile(row) : null;
  }

  async ofDesign(designId: string): Promise<StoredPrintFile[]> {
    return (await this.database.rows<Row>('SELECT * FROM print_file WHERE design_id = ? ORDER BY made_at DESC, id', [designId])).map(toPrintFile);
  }

  /** Gives a file the name that its design has now. */
  async rename(id: string, filename: string): Promise<void> { await this.database.change('UPDATE print_file SET filename = ? WHERE id = ?', [filename, id]); }

  /** Recipe and acceptance of every print file, for the job sheet. */
  async overview(): Promise<{ id: string; designId: string; requirementId: string; recipe: string; accepted: boolean }[]> {
    const rows = await this.database.rows<Row>('SELECT id, design_id, requirement_id, recipe, accepted FROM print_file ORDER BY made_at DESC');
    return rows.map((row) => ({ id: row.id, designId: row.design_id, requirementId: row.requirement_id, recipe: row.recipe.toString('hex'), accepted: Boolean(row.accepted) }));
  }

  async add(file: Omit<StoredPrintFile, 'id' | 'madeAt'>): Promise<StoredPrintFile> {
    await this.database.change(
      'INSERT IGNORE INTO print_file (id, design_id, requirement_id, recipe, sha256, filename, bytes, accepted, certificate) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [newId(), file.designId, file.requirementId, Buffer.from(file.recipe, 'hex'), Buffer.from(file.sha256, 'hex'), file.filename, file.bytes, file.accepted, JSON.stringify(file.certificate)],
    );
    return (await this.byRecipe(file.designId, file.recipe))!;
  }
}
