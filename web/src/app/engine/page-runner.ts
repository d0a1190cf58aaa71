import { RenderWorker, type TaskRunner } from '@hazy-lens/core';

const channel = new MessageChannel();
const waiting: (() => void)[] = [];
channel.port1.onmessage = () => waiting.shift()?.();

/** Lets the page draw, and hear what a person does, before it goes on. */
function nextTask(): Promise<void> {
  return new Promise((resolve) => {
    waiting.push(resolve);
    channel.port2.postMessage(null);
  });
}

/** Renders in the page itself, a task at a time: for where threads share no memory, which costs the others theirs. */
export function pageRunner(): TaskRunner {
  const worker = new RenderWorker();
  let last: Promise<void> = Promise.resolve();
  return (task) => {
    const done = last.then(nextTask).then(() => worker.run(task));
    last = done.catch(() => undefined);
    return done;
  };
}
