import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import { emptyDesign, type DesignDocument, type Requirement } from '@kettle/core/model';
import { freehandLayer } from '@kettle/core/drawing';
import { against, measureOf, type Row } from './timing.js';

const BUDGET_MS = 50;
const ROUNDS = 3;

/**
 * The longest time a server answers nobody else while an honest drawing of 20 strokes of 2,000 points (about 1 MB) is
 * saved, judged, shown on the sheet and made.
 */
export async function largeDrawing(databaseUrl: string, cache: string): Promise<Row> {
  const worker = new Worker(new URL('served-apart.js', import.meta.url), { workerData: { databaseUrl, cache } });
  const [address] = (await once(worker, 'message')) as [string];
  const call = async (
    method: string,
    path: string,
    body?: string,
    headers: Record<string, string> = {},
  ): Promise<Response> => {
    const answer = await fetch(`${address}${path}`, {
      method,
      body,
      headers: { ...(body && { 'Content-Type': 'application/json' }), ...headers },
    });
    if (!answer.ok) throw new Error(`${method} ${path} answered ${answer.status}: ${await answer.text()}`);
    return answer;
  };
  const ids = ((await (await call('GET', '/api/requirements')).json()) as Requirement[])
    .slice(0, 4)
    .map((one) => one.id);
  const text = JSON.stringify(drawing(ids));
  const longest: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    worker.postMessage('reset');
    const { id } = (await (await call('POST', '/api/designs', text)).json()) as { id: string };
    for (let revision = 1; revision < 4; revision++)
      await call('PUT', `/api/designs/${id}`, text, { 'If-Match': `"${revision}"` });
    await call('GET', '/api/sheet');
    await (await call('GET', `/api/designs/${id}/miniature?size=160`)).arrayBuffer();
    const { jobId } = (await (
      await call('POST', `/api/designs/${id}/print-files`, JSON.stringify({ requirementIds: ids.slice(0, 1) }))
    ).json()) as { jobId: string };
    while (
      ['queued', 'running'].includes(
        ((await (await call('GET', `/api/jobs/${jobId}`)).json()) as { state: string }).state,
      )
    )
      await new Promise((resolve) => setTimeout(resolve, 100));
    worker.postMessage('read');
    const [busy] = (await once(worker, 'message')) as [number];
    longest.push(busy);
  }
  worker.postMessage('stop');
  await once(worker, 'exit');
  return against(
    `Longest the server’s main thread is busy while a drawing of ${(text.length / 1e6).toFixed(1)} MB is saved, judged, shown and made`,
    measureOf(longest),
    BUDGET_MS,
  );
}

function drawing(requirementIds: readonly string[]): DesignDocument {
  const stroke = (n: number) => ({
    points: Array.from({ length: 2000 }, (_, i) => [
      20 + ((i * 0.13) % 260),
      20 + n * 14 + 6 * Math.sin(i / 9 + n),
      0.3 + 0.4 * Math.abs(Math.sin(i / 40)),
    ]).flat(),
    size: 3,
    hardness: 1,
    opacity: 1,
    hex: '#b4532a',
    erase: false,
  });
  const empty = emptyDesign('Contour lines', { width: 300, height: 340 });
  return {
    ...empty,
    layers: [{ ...freehandLayer('hand', stroke(0)), strokes: Array.from({ length: 20 }, (_, n) => stroke(n)) }],
    targets: requirementIds.map((requirementId) => ({ requirementId })),
  };
}
