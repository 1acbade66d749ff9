import { rename, writeFile } from 'node:fs/promises';
import { gzipSync } from 'node:zlib';
import { packProof, type ColourConversion } from '@kettle/core';
import { proofTables } from './colour-engine.js';
import { profileOf } from './profiles.js';

/** Writes the tables of a conversion, compressed. */
export async function writeProof(
  conversion: ColourConversion,
  paper: boolean,
  files: Readonly<Record<string, string>>,
  out: string,
): Promise<void> {
  const tables = await proofTables(await profileOf(conversion, files), conversion, paper);
  await writeFile(`${out}.part`, gzipSync(packProof(tables)));
  await rename(`${out}.part`, out);
}
