import type { RenderTask, TaskRunner } from '@hazy-lens/core';
import { LostError, Watch } from './watch';
import { filesWords } from '../words/files';

/** Seconds in which a render worker may say nothing while it is asked: a task is a few rows. */
const PATIENCE = 10;

interface Waiting {
  task: RenderTask;
  resolve: () => void;
  reject: (reason: Error) => void;
}

/**
 * A thread that renders, and the only place where messages to and from a render worker are written and read; answers come
 * in order. One that breaks down or stands still is ended, and another does what it owed: a task reads what tasks before it
 * wrote and writes elsewhere, so that half of one does no harm. Where the same task is lost twice, it fails.
 */
export function renderThread(start: () => Worker): TaskRunner {
  /** What the worker knows of each render: that it is open, and the picture in hand. */
  const known = new Map<string, RenderTask[]>();
  const waiting: Waiting[] = [];
  /** Answers that nobody waits for. */
  let repeated = 0;
  let lostBefore: Waiting | null = null;
  const watch = new Watch(PATIENCE, () => lose(filesWords.itStoodStill));
  // It is there when the first picture is.
  let worker: Worker | null = begin();

  function begin(): Worker {
    const one = start();
    one.onmessage = ({ data }: MessageEvent<string | null>) => {
      if (one !== worker) return;
      watch.heard();
      if (repeated > 0) return void repeated--;
      const first = waiting.shift();
      if (waiting.length === 0) watch.stop();
      if (data !== null) return first?.reject(new Error(data));
      if (first) keep(first.task);
      first?.resolve();
    };
    one.onerror = ({ message }) => one === worker && lose(message || filesWords.itCouldntBeStarted);
    return one;
  }

  function keep(task: RenderTask): void {
    if (task.kind === 'open') known.set(task.render, [task]);
    else if (task.kind === 'begin') known.set(task.render, [known.get(task.render)![0]!, task]);
    else if (task.kind === 'close') known.delete(task.render);
  }

  function lose(why: string): void {
    worker?.terminate();
    worker = null;
    watch.stop();
    const first = waiting[0];
    if (first && first === lostBefore) {
      waiting.shift();
      first.reject(new LostError(filesWords.aPartOfHazyLens(why)));
    }
    lostBefore = waiting[0] ?? null;
    if (waiting.length > 0) ask();
  }

  /** Has a new worker do all that is owed. */
  function ask(): void {
    worker = begin();
    const again = [...known.values()].flat();
    repeated = again.length;
    for (const task of [...again, ...waiting.map((one) => one.task)]) worker.postMessage(task);
    watch.begin();
  }

  return (task) =>
    new Promise((resolve, reject) => {
      waiting.push({ task, resolve, reject });
      if (!worker) return ask();
      worker.postMessage(task);
      watch.begin();
    });
}
