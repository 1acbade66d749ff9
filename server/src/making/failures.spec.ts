import type { Failure, SheetRow } from '@kettle/contract';
import { ProblemError } from '../floor/basics/problem-error.js';
import { isOver, readyDesign, until, serverForAll } from '../testing/test-house.js';

describe('what could not be made', () => {
  const { server, call } = serverForAll();

  it('keeps its reason in its cell until it is made or dismissed, however often it is tried', async () => {
    const { id, requirementId } = await readyDesign(call);
    const failures = async (): Promise<Failure[]> => (await call('GET', `/api/designs/${id}/failures`)).body;
    const cell = async () =>
      ((await call('GET', `/api/sheet?designs=${id}`)).body.rows as SheetRow[])[0].cells.find(
        (one) => one.requirementId === requirementId,
      )!;
    const over = ({ body }: { body: { jobId: string } }) =>
      until(async () => (await call('GET', `/api/jobs/${body.jobId}`)).body, isOver);
    const make = async () =>
      over(await call('POST', `/api/designs/${id}/print-files`, { requirementIds: [requirementId] }));
    const path = spyOn(server.house.blobs, 'localPath').and.rejectWith(
      new ProblemError(507, 'disk-full', 'The disk is full.'),
    );
    expect((await make()).state).toBe('failed');
    const [first, ...none] = await failures();
    expect(none).toEqual([]);
    expect(first).toEqual(
      jasmine.objectContaining({ kind: 'print-file', about: requirementId, sentence: 'The disk is full.' }),
    );
    expect(first.filename).toMatch(/\.png$/);
    expect([(await cell()).state, (await cell()).finding]).toEqual(['not-made', 'Could not be made']);

    // Tried again it fails for another reason: the newest is what stands.
    path.and.rejectWith(new ProblemError(422, 'damaged', 'This file is damaged.'));
    const again = await call('POST', `/api/designs/${id}/failures/${first.id}/again`);
    expect(again.status).toBe(202);
    expect((await over(again)).state).toBe('failed');
    const [second, ...others] = await failures();
    expect([second.sentence, others.length]).toEqual(['This file is damaged.', 0]);
    expect((await call('POST', `/api/designs/${id}/failures/${first.id}/again`)).status).toBe(404);

    path.and.callThrough();
    expect((await over(await call('POST', `/api/designs/${id}/failures/${second.id}/again`))).state).toBe('done');
    expect(await failures()).toEqual([]);
    expect([(await cell()).state, (await cell()).finding]).toEqual(['ready', null]);
  });

  it('is dismissed once, by its seller alone', async () => {
    const { id, requirementId } = await readyDesign(call);
    const path = spyOn(server.house.blobs, 'localPath').and.rejectWith(
      new ProblemError(507, 'disk-full', 'The disk is full.'),
    );
    const { body } = await call('POST', `/api/designs/${id}/print-files`, { requirementIds: [requirementId] });
    await until(async () => (await call('GET', `/api/jobs/${body.jobId}`)).body, isOver);
    path.and.callThrough();
    const [{ id: failure }] = (await call('GET', `/api/designs/${id}/failures`)).body;
    await expectAsync(server.house.failures.of({ owner: 'another' }, id)).toBeRejected();
    await expectAsync(server.house.failures.dismiss({ owner: 'another' }, id, failure)).toBeRejected();
    for (let i = 0; i < 2; i++)
      expect((await call('DELETE', `/api/designs/${id}/failures/${failure}`)).status).toBe(204);
    expect((await call('GET', `/api/designs/${id}/failures`)).body).toEqual([]);
  });
});
