import { legibility, type InkShare } from '../colour/legibility.js';
import { boundsOfPlace, unitToField } from '../design/place.js';
import { intersect, mapBox, unite, type Box } from '../design/affine.js';
import type { DesignDocument, Layer, Target } from '../design/design.js';
import { seenBy } from '../design/exception.js';
import { inkPlace, inksOf } from '../design/marks.js';
import { effectiveDpi, layoutTarget, type TargetLayout } from '../design/target.js';
import { demandedCanvas, demandedSizeWords, sizeAccepted } from '../requirement/canvas.js';
import type { Colourway, Requirement } from '../requirement/requirement.js';
import type { AssetFacts } from './asset-facts.js';
import { ownValue } from '../design/own-value.js';

/** `blocks`: the file would be refused or spoilt. `warns`: it prints, but perhaps not as meant. `tells`: good to know. */
export type Severity = 'blocks' | 'warns' | 'tells';

export type FindingCode =
  | 'no-art' | 'canvas-size' | 'canvas-dpi' | 'file-type' | 'white-box' | 'opaque-picture' | 'enlarged' | 'off-canvas' | 'outside-safe'
  | 'nothing-visible' | 'lost-on-garment' | 'partly-lost' | 'converted' | 'missing-asset' | 'missing-letters' | 'live-text';

/** A change that mends a finding. The interface turns it into an edit; `label` is on its button. */
export type Fix =
  | { readonly kind: 'demanded-canvas' | 'demanded-dpi' | 'centre' | 'move-inside'; readonly label: string }
  | { readonly kind: 'own-pixels'; readonly layerId: string; readonly width: number; readonly height: number; readonly label: string }
  | { readonly kind: 'garment'; readonly hex: string; readonly label: string }
  /** Needs a choice: the interface asks for the face. */
  | { readonly kind: 'face'; readonly layerId: string; readonly label: string };

export interface Finding {
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly title: string;
  readonly sentence: string;
  readonly layerId: string | null;
  /** Where it is, in canvas mm. */
  readonly where: Box | null;
  readonly fix: Fix | null;
}

/** Facts of the pictures of a design by asset id. */
export type FactsById = Readonly<Record<string, AssetFacts | undefined>>;

/** What is known of a layer: a picture's facts, or what a shape is by its making. */
export function factsOfLayer(layer: Layer, facts: FactsById): AssetFacts | undefined {
  if (layer.kind === 'picture') return ownValue(facts, layer.assetId);
  const inks = inksOf(layer);
  return {
    width: 1, height: 1, vector: true, dpi: null, hasAlpha: true, format: 'shape', conversions: [], opaque: false, flatBorder: null, inkBox: inks.length ? { x: 0, y: 0, width: 1, height: 1 } : null, inks,
  };
}

/** Enlargement below this is invisible in print and not worth a word. */
const ENLARGED_FROM = 1.02;
/** From here on the softness is seen at arm's length. */
const VERY_ENLARGED = 1.6;
/** Half a pixel at 72 DPI: rounding must not raise a finding. */
const SLACK_MM = 0.15;

/** All findings of one target, the gravest first. */
export function findTarget(whole: DesignDocument, target: Target, requirement: Requirement, facts: FactsById): Finding[] {
  const design = seenBy(whole, target);
  const layout = layoutTarget(design, target, requirement);
  const visible = design.layers.filter((layer) => !layer.hidden && layer.opacity > 0);
  const findings = [
    ...canvasFindings(requirement, layout),
    ...(design.layers.length === 0 ? [noArt()] : placeFindings(visible, layout, facts)),
    ...visible.flatMap((layer) => pictureFindings(layer, layout, requirement, facts)),
    ...garmentFindings(visible, garmentOf(target, requirement), requirement, facts),
  ];
  const order: Severity[] = ['blocks', 'warns', 'tells'];
  return findings.sort((a, b) => order.indexOf(a.severity) - order.indexOf(b.severity));
}

/** Colour a target is seen on. */
export function garmentOf(target: Target, requirement: Requirement): string {
  return target.garment ?? requirement.colourways[0]?.hex ?? '#ffffff';
}

const noArt = (): Finding => ({
  code: 'no-art', severity: 'blocks', title: 'No artwork yet', sentence: 'Drop a picture on the sheet or on this canvas to begin.', layerId: null, where: null, fix: null,
});

function canvasFindings(requirement: Requirement, { canvas }: TargetLayout): Finding[] {
  const findings: Finding[] = [];
  const base = { severity: 'blocks', layerId: null, where: null } as const;
  if (!sizeAccepted(requirement, canvas.widthPx, canvas.heightPx)) {
    findings.push({
      ...base, code: 'canvas-size', title: 'The canvas has the wrong size',
      sentence: `${requirement.channel} wants ${demandedSizeWords(requirement)}; this canvas is ${canvas.widthPx} × ${canvas.heightPx} px.`,
      fix: { kind: 'demanded-canvas', label: `Make it ${demandedCanvas(requirement).widthPx} × ${demandedCanvas(requirement).heightPx} px` },
    });
  }
  if (canvas.dpi !== requirement.dpi) {
    findings.push({
      ...base, code: 'canvas-dpi', title: `The canvas says ${canvas.dpi} DPI`,
      sentence: `${requirement.channel} wants ${requirement.dpi} DPI in both axes.`,
      fix: { kind: 'demanded-dpi', label: `Set ${requirement.dpi} DPI` },
    });
  }
  if (!requirement.fileTypes.includes('png') || requirement.mode === 'cmyk') {
    findings.push({
      ...base, code: 'file-type', title: 'This file type is not made here yet',
      sentence: `${requirement.channel} wants ${requirement.mode === 'cmyk' ? 'CMYK ' : ''}${requirement.fileTypes.map((type) => type.toUpperCase()).join(' or ')}. `
        + 'Kettle Sheet writes RGB and grey PNG print files today, so no file is made for this target.',
      fix: null,
    });
  }
  return findings;
}

/** Part of a layer that holds ink, on the canvas in mm; the whole layer when its facts are unknown. */
function inkOnCanvas(layer: Layer, layout: TargetLayout, facts: FactsById): Box | null {
  const known = factsOfLayer(layer, facts);
  if (known && known.inkBox === null) return null;
  if (!known?.inkBox) return mapBox(layout.toCanvas, boundsOfPlace(layer.place));
  return mapBox(layout.toCanvas, mapBox(unitToField(inkPlace(layer)), known.inkBox));
}

function placeFindings(visible: readonly Layer[], layout: TargetLayout, facts: FactsById): Finding[] {
  const page: Box = { x: 0, y: 0, width: layout.canvas.widthMm, height: layout.canvas.heightMm };
  const inks = visible.map((layer) => ({ layer, box: inkOnCanvas(layer, layout, facts) }));
  const onPage = inks.filter(({ box }) => box && intersect(box, page));
  if (!onPage.length) {
    const all = unite(inks.flatMap(({ box }) => box ?? []));
    return [{
      code: 'nothing-visible', severity: 'blocks', title: 'Nothing would be printed', layerId: null, where: null,
      sentence: all ? 'All artwork lies outside this canvas.' : visible.length ? 'The artwork has no visible ink at all.' : 'Every layer is hidden.',
      fix: all ? { kind: 'centre', label: 'Centre it' } : null,
    }];
  }
  return inks.flatMap(({ layer, box }): Finding[] => {
    if (!box) return [];
    const cut = overhang(box, page);
    if (cut > SLACK_MM) {
      // A picture that covers the canvas on all sides is meant to be cut: that is how all-over art is laid.
      const covers = box.x <= 0 && box.y <= 0 && box.x + box.width >= page.width && box.y + box.height >= page.height;
      if (covers) return [];
      const outside = !intersect(box, page);
      return [{
        code: 'off-canvas', severity: 'blocks', title: outside ? 'Off the canvas' : 'Cut off at the edge', layerId: layer.id, where: box,
        sentence: outside ? `“${layer.name}” lies wholly outside the canvas and would not be printed.` : `“${layer.name}” runs ${cut.toFixed(1)} mm over the edge of the canvas and would be cut there.`,
        fix: { kind: 'move-inside', label: 'Move it inside' },
      }];
    }
    const over = overhang(box, layout.safe);
    return over <= SLACK_MM ? [] : [{
      code: 'outside-safe', severity: 'warns', title: 'Outside the safe area', layerId: layer.id, where: box,
      sentence: `“${layer.name}” is ${over.toFixed(1)} mm outside the safe line; a shift in printing could cut it.`,
      fix: { kind: 'move-inside', label: 'Move it inside' },
    }];
  });
}

/** Farthest distance by which a box stands out of a frame, mm. */
function overhang(box: Box, frame: Box): number {
  return Math.max(frame.x - box.x, frame.y - box.y, box.x + box.width - frame.x - frame.width, box.y + box.height - frame.y - frame.height, 0);
}

function pictureFindings(layer: Layer, layout: TargetLayout, requirement: Requirement, factsById: FactsById): Finding[] {
  const facts = factsOfLayer(layer, factsById);
  const where = mapBox(layout.toCanvas, boundsOfPlace(layer.place));
  const base = { layerId: layer.id, where } as const;
  if (!facts) {
    return [{ ...base, code: 'missing-asset', severity: 'blocks', title: 'The picture file is missing', sentence: `The file behind “${layer.name}” could not be found. Put it in again.`, fix: null }];
  }
  const findings: Finding[] = [];
  if (layer.kind === 'text' && layer.missing) {
    findings.push({
      ...base, code: 'missing-letters', severity: 'blocks', title: 'Letters are missing', fix: null,
      sentence: `The face of “${layer.name}” has no ${[...layer.missing].join(' ')}: nothing would be printed there. Choose another face, or other words.`,
    });
  }
  const page: Box = { x: -SLACK_MM, y: -SLACK_MM, width: layout.canvas.widthMm + 2 * SLACK_MM, height: layout.canvas.heightMm + 2 * SLACK_MM };
  const fillsPage = where.x <= 0.5 && where.y <= 0.5 && where.x + where.width >= page.width - 1 && where.y + where.height >= page.height - 1;
  if ((facts.opaque || facts.flatBorder) && requirement.transparency !== 'forbidden' && !fillsPage) {
    findings.push(facts.flatBorder
      ? {
        ...base, code: 'white-box', severity: 'blocks', title: isWhite(facts.flatBorder) ? 'White box' : 'A box of flat colour', fix: null,
        sentence: `“${layer.name}” stands on a field of one flat colour (${facts.flatBorder}) that reaches its edges. It would be printed as a box around the art.`,
      }
      : {
        ...base, code: 'opaque-picture', severity: 'tells', title: 'Opaque picture', fix: null,
        sentence: `“${layer.name}” has no transparency: it prints as a full rectangle.`,
      });
  }
  if (!facts.vector) {
    const dpi = effectiveDpi(layer, facts, layout.factor);
    const enlargement = layout.canvas.dpi / dpi;
    if (enlargement > ENLARGED_FROM) {
      const own = { width: ((facts.width / layout.canvas.dpi) * 25.4) / layout.factor, height: ((facts.height / layout.canvas.dpi) * 25.4) / layout.factor };
      findings.push({
        ...base, code: 'enlarged', severity: enlargement >= VERY_ENLARGED ? 'blocks' : 'warns', title: 'Soft print',
        sentence: `“${layer.name}” is enlarged to ${Math.round(enlargement * 100)} % of its own pixels: ${Math.round(dpi)} DPI where ${layout.canvas.dpi} DPI is wanted.`,
        fix: { kind: 'own-pixels', layerId: layer.id, ...own, label: 'Shrink to its own pixels' },
      });
    }
  }
  if (facts.liveText) {
    const asked = facts.liveText.length ? `asks for ${facts.liveText.map((family) => `“${family}”`).join(', ')}, which ${facts.liveText.length === 1 ? 'is' : 'are'} not in the file` : 'names no font';
    findings.push({
      ...base, code: 'live-text', severity: 'warns', title: 'Text in another font',
      sentence: `“${layer.name}” holds text that is not outlines and ${asked}. It is drawn in a shipped face that stands in for it. Choose the face, upload the font first, or turn the text into outlines in the program that made it.`,
      fix: { kind: 'face', layerId: layer.id, label: 'Choose its face' },
    });
  }
  if (facts.conversions.length) {
    findings.push({ ...base, code: 'converted', severity: 'tells', title: 'Converted on the way in', sentence: facts.conversions.join(' '), fix: null });
  }
  return findings;
}

const isWhite = (hex: string): boolean => /^#[f][0-9a-f][f][0-9a-f][f][0-9a-f]$/i.test(hex);

/** Inks of all visible layers together, weighted by the area each covers. */
function allInks(visible: readonly Layer[], facts: FactsById): InkShare[] {
  const weighted = visible.flatMap((layer) => {
    const known = factsOfLayer(layer, facts);
    if (!known?.inkBox) return [];
    const area = layer.place.width * layer.place.height * known.inkBox.width * known.inkBox.height;
    return known.inks.map((ink) => ({ hex: ink.hex, share: ink.share * area }));
  });
  const total = weighted.reduce((sum, ink) => sum + ink.share, 0);
  return total > 0 ? weighted.map((ink) => ({ hex: ink.hex, share: ink.share / total })) : [];
}

/** Ink lost in the cloth from these shares on: nearly all of it, or enough to be missed. */
const MOSTLY_LOST = 0.6;
const PARTLY_LOST = 0.12;

function garmentFindings(visible: readonly Layer[], garmentHex: string, requirement: Requirement, facts: FactsById): Finding[] {
  const inks = allInks(visible, facts);
  if (!inks.length) return [];
  const { lost, lostHex } = legibility(inks, garmentHex);
  if (lost < PARTLY_LOST) return [];
  const name = requirement.colourways.find((colourway) => colourway.hex.toLowerCase() === garmentHex.toLowerCase())?.name ?? garmentHex;
  const better = clearestColourway(inks, requirement.colourways);
  const mostly = lost >= MOSTLY_LOST;
  return [{
    code: mostly ? 'lost-on-garment' : 'partly-lost', severity: mostly ? 'blocks' : 'warns', layerId: null, where: null,
    title: mostly ? `Vanishes on ${name}` : `Partly lost on ${name}`,
    sentence: `${Math.round(lost * 100)} % of the ink (${lostHex}) can hardly be told from this garment colour.`,
    fix: better && better.hex.toLowerCase() !== garmentHex.toLowerCase() ? { kind: 'garment', hex: better.hex, label: `See it on ${better.name}` } : null,
  }];
}

/** The colourway on which least of the art is lost; among equals the one with most contrast. */
export function clearestColourway(inks: readonly InkShare[], colourways: readonly Colourway[]): Colourway | null {
  const judged = colourways.map((colourway) => ({ colourway, seen: legibility(inks, colourway.hex) }));
  judged.sort((a, b) => a.seen.lost - b.seen.lost || b.seen.bestContrast - a.seen.bestContrast);
  return judged[0]?.colourway ?? null;
}

/** True when a print file may be made: nothing blocks it. */
export const isPrintable = (findings: readonly Finding[]): boolean => !findings.some((finding) => finding.severity === 'blocks');

/** Findings that make a file impossible, as opposed to unwise: the button to make the file is off. */
export const CANNOT_MAKE: readonly FindingCode[] = ['no-art', 'nothing-visible', 'file-type', 'missing-asset', 'missing-letters'];
