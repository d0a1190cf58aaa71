import { type RenderTask, RenderWorker } from '@hazy-lens/core';
import { reasonOf } from '../model/causes';

const worker = new RenderWorker();
let last = Promise.resolve();

addEventListener('message', ({ data }: MessageEvent<RenderTask>) => {
  last = last
    .then(() => worker.run(data))
    .then(
      () => postMessage(null),
      (error: Error) => postMessage(reasonOf(error)),
    );
});
