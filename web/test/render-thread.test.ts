import type { RenderTask } from '@hazy-lens/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { renderThread } from '../src/app/engine/render-thread';
import { LostError } from '../src/app/engine/watch';

/** A worker that is told of tasks, and answers when the test has it answer. */
class FakeWorker {
  readonly tasks: string[] = [];
  readonly terminate = vi.fn();
  onmessage: (event: { data: string | null }) => void = () => undefined;
  onerror: (event: { message: string }) => void = () => undefined;

  postMessage(task: RenderTask): void {
    this.tasks.push('render' in task ? `${task.kind} ${task.render}` : task.kind);
  }

  answer(count = 1, failure: string | null = null): void {
    for (let i = 0; i < count; i++) this.onmessage({ data: failure });
  }
}

const open = (render: string) => ({ kind: 'open', render }) as RenderTask;
const begin = (render: string) => ({ kind: 'begin', render }) as RenderTask;
const strip = (render: string) => ({ kind: 'strip', render, hasHaze: false, from: 0, to: 8 }) as RenderTask;

describe('a thread that renders', () => {
  let workers: FakeWorker[];
  let run: ReturnType<typeof renderThread>;

  beforeEach(() => {
    vi.useFakeTimers();
    workers = [];
    run = renderThread(() => {
      const worker = new FakeWorker();
      workers.push(worker);
      return worker as unknown as Worker;
    });
  });
  afterEach(() => vi.useRealTimers());

  const newest = (): FakeWorker => workers.at(-1)!;

  it('gives answers to tasks in their order, and tells of what failed', async () => {
    const tasks = [run(open('a')), run(strip('a'))];
    newest().answer();
    newest().answer(1, 'no memory');
    await tasks[0];
    await expect(tasks[1]).rejects.toThrow('no memory');
    expect(workers).toHaveLength(1);
  });

  it('has another do what one owed that fell silent, told first of what is open and in hand', async () => {
    const opened = [run(open('a')), run(open('b')), run(begin('b')), run(open('c')), run({ kind: 'close', render: 'c' })]; // prettier-ignore
    newest().answer(5);
    await Promise.all(opened);
    const drawn = [run(begin('a')), run(strip('a'))];
    newest().answer();
    vi.advanceTimersByTime(10_000);
    expect(workers[0]!.terminate).toHaveBeenCalledOnce();
    expect(newest().tasks).toEqual(['open a', 'begin a', 'open b', 'begin b', 'strip a']);
    // What the lost one still says is of no account.
    workers[0]!.answer();
    newest().answer(5);
    await Promise.all(drawn);
    // It is waited for no more, and goes on.
    vi.advanceTimersByTime(60_000);
    const next = run(strip('b'));
    newest().answer();
    await next;
    expect(workers).toHaveLength(2);
  });

  it('fails a task that is lost twice, and goes on with the next', async () => {
    const opened = run(open('a'));
    newest().answer();
    await opened;
    const [bad, good] = [run(strip('a')), run(strip('a'))];
    newest().onerror({ message: 'out of memory' });
    newest().onerror({ message: 'out of memory' });
    await expect(bad).rejects.toThrow(LostError);
    expect(newest().tasks).toEqual(['open a', 'strip a']);
    newest().answer(2);
    await good;
    expect(workers).toHaveLength(3);
  });
});
