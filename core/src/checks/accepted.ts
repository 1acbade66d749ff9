import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { Cloth, DesignDocument, Target } from '../model/design.js';
import { changeTarget, type Edit } from '../document/edits.js';
import { seenBy } from '../document/exception.js';
import { canonicalJson } from '../model/canonical-json.js';
import type { Requirement } from '../model/requirement.js';
import type { Finding } from './finding.js';

/** Names what a finding is about: the layer or all of them, where they lie, and what is demanded. */
function aboutOf(
  { layerId, code }: Pick<Finding, 'layerId' | 'code'>,
  whole: DesignDocument,
  target: Target,
  requirement: Requirement,
): string {
  const { layers } = seenBy(whole, target);
  const art = layerId === null ? layers : layers.filter((layer) => layer.id === layerId);
  const { placement = null, canvas = null, garment = null } = target;
  const text = canonicalJson({ code, art, placement, canvas, garment, demand: [requirement.id, requirement.revision] });
  return bytesToHex(sha256(utf8ToBytes(text))).slice(0, 24);
}

/** Findings with the reason of those that were accepted and are still about the same. */
export function markAccepted(
  found: readonly Finding[],
  whole: DesignDocument,
  target: Target,
  requirement: Requirement,
): Finding[] {
  if (!target.accepted?.length) return [...found];
  return found.map((finding) => {
    const taken = target.accepted!.find((one) => one.code === finding.code && one.layerId === finding.layerId);
    return taken && taken.about === aboutOf(finding, whole, target, requirement)
      ? { ...finding, accepted: taken.reason }
      : finding;
  });
}

/**
 * Takes a finding as it is. It comes back when the art, its place or the demand changes.
 * @param target as the version has it
 * @param reason in the seller's words
 */
export const acceptFinding =
  (
    finding: Finding,
    reason: string,
    { target, requirement, cloth }: { target: Target; requirement: Requirement; cloth: Cloth | null },
  ): Edit =>
  (design) => {
    const about = aboutOf(finding, design, target, requirement);
    const before = design.targets.find((one) => one.requirementId === requirement.id)?.accepted ?? [];
    const { code, layerId } = finding;
    const others = before.filter((one) => one.code !== code || one.layerId !== layerId || one.cloth !== cloth);
    return changeTarget(requirement.id, { accepted: [...others, { code, layerId, cloth, reason, about }] })(design);
  };

/** Looks at a finding again that was accepted. */
export const refuseFinding =
  ({ code, layerId }: Finding, requirementId: string, cloth: Cloth | null): Edit =>
  (design) => {
    const before = design.targets.find((one) => one.requirementId === requirementId)?.accepted ?? [];
    const left = before.filter((one) => one.code !== code || one.layerId !== layerId || one.cloth !== cloth);
    return changeTarget(requirementId, { accepted: left.length ? left : undefined })(design);
  };
