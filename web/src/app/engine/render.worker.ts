import { type RenderTask, RenderWorker } from '@hazy-lens/core';

const worker = new RenderWorker();
let last = Promise.resolve();

addEventListener('message', ({ data }: MessageEvent<RenderTask>) => {
  last = last
    .then(() => worker.run(data))
    .then(
      () => postMessage(null),
      (error: Error) => postMessage(error.message),
    );
});
