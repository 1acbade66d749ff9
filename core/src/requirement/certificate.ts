import { formatBytes } from '../units/bytes.js';
import { densityReason, nominalDpi, storesDpi } from '../units/dpi.js';
import { demandedCanvas, demandedSizeWords, sizeAccepted } from '../model/canvas.js';
import { fileKind, fileTypeWords } from './file-kinds.js';
import type { ColourMode, FileType, Requirement } from '../model/requirement.js';

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
  /** Name of the profile that it should carry, when it carries another one. */
  readonly profileMeant?: string;
  readonly interlaced: boolean;
  /** Kinds of text, date or camera data in the file; empty when nothing leaks. */
  readonly privateData: readonly string[];
  readonly bytes: number;
  /** Size that a file of outlines is printed at, mm; absent where pixels and DPI say it. */
  readonly trueSize?: { readonly widthMm: number; readonly heightMm: number };
  /** Edge that a page says is cut away, mm; absent when it says none. */
  readonly bleedMm?: number;
  /** The libraries that wrote it and opened it again. */
  readonly readBy?: { readonly writer: string; readonly reader: string };
  /** How the pixels compare with a drawing of the design by another path; absent when nobody compared. */
  readonly likeness?: {
    readonly differing: number;
    readonly ok: boolean;
    readonly where: { readonly x: number; readonly y: number } | null;
  };
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
  const rows: CertificateRow[] = [
    {
      demand: 'Size',
      demanded: demandedSizeWords(requirement),
      found: `${facts.widthPx} × ${facts.heightPx} px`,
      ok: sizeAccepted(requirement, facts.widthPx, facts.heightPx),
    },
    facts.trueSize ? trueSizeRow(facts.trueSize, requirement) : densityRow(facts, requirement),
    {
      demand: 'Colour mode',
      demanded: MODE_WORDS[requirement.mode],
      found: `${MODE_WORDS[facts.mode]}, ${facts.bitsPerChannel} bits a channel`,
      ok: facts.mode === requirement.mode,
    },
    profileRow(facts),
    transparencyRow(facts, requirement),
    {
      demand: 'File type',
      demanded: fileTypeWords(requirement.fileTypes),
      found: facts.fileType === 'other' ? 'something else' : fileKind(facts.fileType).words,
      ok: facts.fileType !== 'other' && requirement.fileTypes.includes(facts.fileType),
    },
    {
      demand: 'Row order',
      demanded: 'not interlaced',
      found: facts.interlaced ? 'interlaced' : 'not interlaced',
      ok: !facts.interlaced,
    },
    {
      demand: 'Private data',
      demanded: 'none',
      found: facts.privateData.length ? facts.privateData.join(', ') : 'none',
      ok: facts.privateData.length === 0,
    },
  ];
  const bleed = requirement.bleedMm ?? 0;
  if (facts.fileType === 'pdf' && (bleed > 0 || facts.bleedMm))
    rows.push({
      demand: 'Bleed',
      demanded: bleed ? `${bleed} mm around the trimmed page` : 'none',
      found: facts.bleedMm ? `${Math.round(facts.bleedMm * 10) / 10} mm` : 'none',
      ok: Math.abs((facts.bleedMm ?? 0) - bleed) < 0.05,
    });
  if (requirement.mirrored)
    rows.push({
      demand: 'Mirrored',
      demanded: 'as for a transfer',
      found: 'made mirrored, and compared so',
      ok: facts.likeness?.ok ?? true,
    });
  if (facts.readBy)
    rows.push({
      demand: 'Read back',
      demanded: 'by another reader than the one that wrote it',
      found: `written by ${facts.readBy.writer}, opened by ${facts.readBy.reader}`,
      ok: true,
    });
  if (facts.likeness) rows.push(likenessRow(facts.likeness));
  if (requirement.maxBytes !== null) {
    rows.push({
      demand: 'File size',
      demanded: `at most ${formatBytes(requirement.maxBytes)}`,
      found: formatBytes(facts.bytes),
      ok: facts.bytes <= requirement.maxBytes,
    });
  }
  return rows;
}

function profileRow({ profile, profileMeant }: FileFacts): CertificateRow {
  return {
    demand: 'Colour profile',
    demanded: profileMeant ? `${profileMeant}, which its colours were made for` : 'embedded',
    found: profileMeant === profile ? `another one that is called ${profile} too` : (profile ?? 'none'),
    ok: profile !== null && profileMeant === undefined,
  };
}

function densityRow(
  { pixelsPerMetreX: x, pixelsPerMetreY: y, fileType }: FileFacts,
  { dpi }: Requirement,
): CertificateRow {
  const ok = x !== null && y !== null && storesDpi(x, dpi) && storesDpi(y, dpi);
  return {
    demand: 'DPI',
    demanded: `${dpi} DPI in both axes`,
    found:
      x === null || y === null
        ? 'not stored'
        : x === y
          ? `${nominalDpi(x)} DPI in both axes`
          : `${nominalDpi(x)} across, ${nominalDpi(y)} down`,
    ok,
    // Other kinds of file store dots per inch as they are.
    ...(ok && fileType === 'png' ? { reason: densityReason(x) } : {}),
  };
}

/** Outlines have no pixels: their file says how large they are printed. */
function trueSizeRow(
  { widthMm, heightMm }: NonNullable<FileFacts['trueSize']>,
  requirement: Requirement,
): CertificateRow {
  const demanded = demandedCanvas(requirement);
  const words = (width: number, height: number): string => `${width.toFixed(1)} × ${height.toFixed(1)} mm`;
  const near = (found: number, wanted: number): boolean => Math.abs(found - wanted) < 0.1;
  return {
    demand: 'True size',
    demanded: words(demanded.widthMm, demanded.heightMm),
    found: words(widthMm, heightMm),
    ok: requirement.sizeRule !== 'exact' || (near(widthMm, demanded.widthMm) && near(heightMm, demanded.heightMm)),
    reason: `At ${requirement.dpi} DPI that is ${demanded.widthPx} × ${demanded.heightPx} px; outlines are sharp at any.`,
  };
}

function likenessRow({ differing, ok, where }: NonNullable<FileFacts['likeness']>): CertificateRow {
  const percent = (share: number): string => `${Math.round(share * 100)} %`;
  return {
    demand: 'Picture',
    demanded: 'as the design is drawn',
    ok,
    found: ok
      ? 'the same, compared with a second drawing'
      : `${differing < 0.01 ? 'under 1 %' : percent(differing)} of it differs${where ? `, most at ${percent(where.x)} across and ${percent(where.y)} down` : ''}`,
    reason:
      'The finished file was opened again and compared with a small drawing of the design that was made in another way than the file.',
  };
}

function transparencyRow(facts: FileFacts, requirement: Requirement): CertificateRow {
  const share = facts.transparentShare * 100;
  const clear = share > 0 && share < 1 ? 'under 1' : Math.round(share).toString();
  const found = facts.hasAlpha ? `yes, ${clear} % of the canvas is clear` : 'no';
  const ok =
    requirement.transparency === 'allowed' ||
    (requirement.transparency === 'required' ? facts.hasAlpha && facts.transparentShare > 0 : !facts.hasAlpha);
  return { demand: 'Transparency', demanded: requirement.transparency, found, ok };
}
