import type { Requirement } from '@kettle/core';
import { ENGINE_VERSION, type Target } from '@kettle/core';
import type { AssetsById, Judgement } from '../render/derive.js';
import type { JudgementStore } from '../stores/judgements.js';
import type { StoredDesign } from '../stores/stored-design.js';
import type { Deriver } from './recipes.js';

export interface JudgedTarget { readonly target: Target; readonly requirement: Requirement }

const MOST_KEPT = 100_000;
const keyOf = (design: StoredDesign, { requirement }: JudgedTarget): string => `${design.id} ${design.revision} ${requirement.id} ${requirement.revision}`;

/** Judges targets. A revision never changes, so what was found of it once holds: large designs are judged once for ever, small ones once a process. */
export class Judge {
  private readonly known = new Map<string, Judgement>();
  /** Judging under way, by design and revision: who asks meanwhile waits for it. */
  private readonly underway = new Map<string, Promise<void>>();

  constructor(private readonly deriver: Deriver, private readonly store: JudgementStore) {}

  /** Judgements in the order of the targets. Targets are those of the design's own document. */
  async judge(design: StoredDesign, targets: readonly JudgedTarget[], assets: AssetsById): Promise<Judgement[]> {
    const key = `${design.id} ${design.revision}`;
    await this.underway.get(key);
    const unknown = targets.filter((one) => !this.known.has(keyOf(design, one)));
    if (unknown.length) {
      const work = this.find(design, unknown, assets).finally(() => { if (this.underway.get(key) === work) this.underway.delete(key); });
      this.underway.set(key, work);
      await work;
    }
    return targets.map((one) => this.known.get(keyOf(design, one))!);
  }

  private async find(design: StoredDesign, targets: readonly JudgedTarget[], assets: AssetsById): Promise<void> {
    const open = design.isLarge ? await this.recall(design, targets) : targets;
    if (!open.length) return;
    const found = await this.deriver.of(design, 'judge', { of: open, assets });
    open.forEach((one, i) => this.keep(keyOf(design, one), found[i]));
    if (design.isLarge) await this.store.add(design, ENGINE_VERSION, open.map((one, i) => ({ requirement: one.requirement, judgement: found[i] })));
  }

  /** Takes what the database knows already, and answers what it does not. */
  private async recall(design: StoredDesign, targets: readonly JudgedTarget[]): Promise<JudgedTarget[]> {
    const rows = await this.store.of(design, ENGINE_VERSION);
    return targets.filter((one) => {
      const row = rows.find(({ requirementId, requirementRevision }) => requirementId === one.requirement.id && requirementRevision === one.requirement.revision);
      if (row) this.keep(keyOf(design, one), row.judgement);
      return !row;
    });
  }

  private keep(key: string, judgement: Judgement): void {
    if (this.known.size >= MOST_KEPT) for (const oldest of this.known.keys()) { this.known.delete(oldest); if (this.known.size < MOST_KEPT * 0.9) break; }
    this.known.set(key, judgement);
  }
}
