import { writeFile } from 'node:fs/promises';
import { gzipSync } from 'node:zlib';
import { packProof, type ColourConversion } from '@kettle/core';
import { proofTables } from './colour-engine.js';
import { profileOf } from './profiles.js';
import { wholeFile } from '../../safety/whole-file.js';

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
