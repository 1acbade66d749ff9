import { monitorEventLoopDelay } from 'node:perf_hooks';
import { parentPort, workerData } from 'node:worker_threads';
import { BLANKS, loadRequirements, PAGE, startServer } from '@kettle/server';

// A server on a thread of its own, so that nothing but its own work keeps its loop busy. Told «reset» it begins to
// watch, told «read» it answers the longest time, ms.

const server = await startServer({
  ...(workerData as { databaseUrl: string; cache: string }),
  blanks: BLANKS,
  page: PAGE,
  port: 0,
});
await loadRequirements(server.house);
const delay = monitorEventLoopDelay({ resolution: 1 });
parentPort!.on('message', (told: 'reset' | 'read' | 'stop') => {
  switch (told) {
    case 'reset':
      delay.reset();
      delay.enable();
      break;
    case 'read':
      delay.disable();
      parentPort!.postMessage(delay.max / 1e6);
      break;
    case 'stop':
      void server.stop().then(() => process.exit(0));
      break;
  }
});
parentPort!.postMessage(server.address);
