import { formatBytes } from '../units/bytes.js';
import { densityReason, nominalDpi, storesDpi } from '../units/dpi.js';
import { demandedSizeWords, sizeAccepted } from './canvas.js';
import type { ColourMode, FileType, Requirement } from './requirement.js';

/** What a reader found in a finished file, from its bytes alone. */
export interface FileFacts {
  readonly fileType: FileType | 'other';
  readonly widthPx: number;
  readonly heightPx: number;
  /** Whole pixels per metre of each axis, or null when the file stores none. */
  readonly pixelsPerMetreX: number | null;
  readonly pixelsPerMetreY: number | null;
  readonly mode: ColourMode | 'palette' | 'other';
  readonly bitsPerChannel: number;
  readonly hasAlpha: boolean;
  /** Share of pixels that are wholly transparent, 0 to 1. */
  readonly transparentShare: number;
  readonly profile: string | null;
  readonly interlaced: boolean;
  /** Kinds of text, date or camera data in the file; empty when nothing leaks. */
  readonly privateData: readonly string[];
  readonly bytes: number;
}

/** One demand beside the value found. */
export interface CertificateRow {
  readonly demand: string;
  readonly demanded: string;
  readonly found: string;
  readonly ok: boolean;
  /** A sentence that explains a value that may surprise. */
  readonly reason?: string;
}

const MODE_WORDS = { rgb: 'RGB', cmyk: 'CMYK', grey: 'grey', palette: 'palette', other: 'unknown' } as const;

/** Every demand of a requirement beside what the file holds. The file is accepted when all rows are ok. */
export function certify(facts: FileFacts, requirement: Requirement): CertificateRow[] {
  const { pixelsPerMetreX: x, pixelsPerMetreY: y } = facts;
  const dpiOk = x !== null && y !== null && storesDpi(x, requirement.dpi) && storesDpi(y, requirement.dpi);
  const rows: CertificateRow[] = [
    {
      demand: 'Size', demanded: demandedSizeWords(requirement), found: `${facts.widthPx} × ${facts.heightPx} px`,
      ok: sizeAccepted(requirement, facts.widthPx, facts.heightPx),
    },
    {
      demand: 'DPI', demanded: `${requirement.dpi} DPI in both axes`,
      found: x === null || y === null ? 'not stored' : x === y ? `${nominalDpi(x)} DPI in both axes` : `${nominalDpi(x)} across, ${nominalDpi(y)} down`,
      ok: dpiOk, ...(dpiOk ? { reason: densityReason(x) } : {}),
    },
    {
      demand: 'Colour mode', demanded: MODE_WORDS[requirement.mode], found: `${MODE_WORDS[facts.mode]}, ${facts.bitsPerChannel} bits a channel`,
      ok: facts.mode === requirement.mode,
    },
    { demand: 'Colour profile', demanded: 'embedded', found: facts.profile ?? 'none', ok: facts.profile !== null },
    transparencyRow(facts, requirement),
    {
      demand: 'File type', demanded: requirement.fileTypes.map((type) => type.toUpperCase()).join(' or '), found: facts.fileType.toUpperCase(),
      ok: facts.fileType !== 'other' && requirement.fileTypes.includes(facts.fileType),
    },
    { demand: 'Row order', demanded: 'not interlaced', found: facts.interlaced ? 'interlaced' : 'not interlaced', ok: !facts.interlaced },
    {
      demand: 'Private data', demanded: 'none', found: facts.privateData.length ? facts.privateData.join(', ') : 'none', ok: facts.privateData.length === 0,
    },
  ];
  if (requirement.maxBytes !== null) {
    rows.push({
      demand: 'File size', demanded: `at most ${formatBytes(requirement.maxBytes)}`, found: formatBytes(facts.bytes), ok: facts.bytes <= requirement.maxBytes,
    });
  }
  return rows;
}

function transparencyRow(facts: FileFacts, requirement: Requirement): CertificateRow {
  const share = facts.transparentShare * 100;
  const clear = share > 0 && share < 1 ? 'under 1' : Math.round(share).toString();
  const found = facts.hasAlpha ? `yes, ${clear} % of the canvas is clear` : 'no';
  const ok = requirement.transparency === 'allowed'
    || (requirement.transparency === 'required' ? facts.hasAlpha && facts.transparentShare > 0 : !facts.hasAlpha);
  return { demand: 'Transparency', demanded: requirement.transparency, found, ok };
}
