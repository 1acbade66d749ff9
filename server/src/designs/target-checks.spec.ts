import { emptyDesign, type Requirement } from '@kettle/core/model';
import type { StoredDesign } from '../documents/stored-design.js';
import { smallTee } from '../testing/test-house.js';
import { TargetChecks, targetsToCheck, type TargetChecksDeps } from './target-checks.js';

describe('what is found of targets', () => {
  it('is answered whole, though what was known is forgotten while the rest is found', async () => {
    const [tee, mug] = ['tee', 'mug'].map((id): Requirement => ({ ...smallTee(), id, revision: 1 }));
    const targets = [tee, mug].map((one) => targetsToCheck({ requirementId: one.id }, one)[0]);
    let meanwhile = (): void => undefined;
    const checks = new TargetChecks({
      processor: {
        of: async (_design: unknown, _task: string, { of }: { of: readonly { requirement: Requirement }[] }) => {
          await Promise.resolve();
          meanwhile();
          return of.map(({ requirement }) => ({ recipe: requirement.id, findings: [] }));
        },
      },
      onCloths: { nameOf: () => 'print', known: async () => new Map() },
      designStore: { some: async () => [] },
    } as unknown as TargetChecksDeps);
    const design = { id: 'd', revision: 1, isLarge: false, outline: emptyDesign('Fog') } as unknown as StoredDesign;
    await checks.of(design, [targets[0]], {});
    meanwhile = () => checks.forget();
    expect((await checks.of(design, targets, {})).map((one) => one.recipe)).toEqual(['tee', 'mug']);
  });
});
