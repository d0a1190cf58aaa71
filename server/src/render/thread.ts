import { parentPort } from 'node:worker_threads';
import { type RenderTask, RenderWorker } from '@hazy-lens/core';

const worker = new RenderWorker();
let last = Promise.resolve();

parentPort!.on('message', (task: RenderTask) => {
  last = last
    .then(() => worker.run(task))
    .then(
      () => parentPort!.postMessage(null),
      (error: Error) => parentPort!.postMessage(error.message),
    );
});
