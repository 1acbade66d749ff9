import { writeFile } from 'node:fs/promises';
import { gzipSync } from 'node:zlib';
import type { ColourConversion } from '@kettle/core/model';
import { packProof } from '@kettle/core/press';
import { proofTables } from '../colour/colour-engine.js';
import { profileOf } from '../colour/profiles.js';
import { wholeFile } from '../../floor/files/whole-file.js';

/** Writes the tables of a conversion, compressed. */
export async function writeProof(
  conversion: ColourConversion,
  paper: boolean,
  files: Readonly<Record<string, string>>,
  out: string,
): Promise<void> {
  const tables = await proofTables(await profileOf(conversion, files), conversion, paper);
  await wholeFile(out, (coming) => writeFile(coming, gzipSync(packProof(tables))));
}
