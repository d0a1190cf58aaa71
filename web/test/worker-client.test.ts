import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { expose } from 'comlink';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { LostError } from '../src/app/engine/watch';
import { WorkerClient } from '../src/app/engine/worker-client';

/** A worker as the page sees it, what runs in it at the other end of a channel. */
function worker(runs: object) {
  const { port1, port2 } = new MessageChannel();
  expose(runs, port2);
  let told: (event: { message: string }) => void = () => undefined;
  const terminate = vi.fn(() => port1.close());
  const page = Object.assign(port1, {
    terminate,
    addEventListener: (type: string, listener: never) =>
      type === 'error'
        ? (told = listener)
        : EventTarget.prototype.addEventListener.call(port1, type, listener),
  });
  page.start();
  return {
    page: page as unknown as Worker,
    breakDown: (message: string) => told({ message }),
    say: (message: unknown) => port2.postMessage(message),
    terminate,
  };
}

interface Runs {
  double(value: number): number;
  never(): Promise<void>;
  frame(): Uint8Array;
}

const runs: Runs = {
  double: (value) => 2 * value,
  never: () => new Promise(() => undefined),
  frame: () => new Uint8Array(1000),
};

function collectGarbage(): void {
  setFlagsFromString('--expose-gc');
  (runInNewContext('gc') as () => void)();
}

describe('a worker client', () => {
  afterEach(() => vi.useRealTimers());

  it('starts its worker when first called, and answers as functions of the page do', async () => {
    const one = worker(runs);
    const start = vi.fn(() => one.page);
    const client = await Promise.resolve(new WorkerClient<Runs>(start));
    expect(start).not.toHaveBeenCalled();
    expect(await client.call.double(21)).toBe(42);
    expect(await client.call.double(4)).toBe(8);
    expect(start).toHaveBeenCalledOnce();
    client.end();
    expect(one.terminate).toHaveBeenCalledOnce();
  });

  it('fails what is asked where the worker breaks down, ends it, and starts another for the next call', async () => {
    const [first, second] = [worker(runs), worker(runs)];
    const start = vi.fn().mockReturnValueOnce(first.page).mockReturnValueOnce(second.page);
    const client = new WorkerClient<Runs>(start as () => Worker);
    const asked = client.call.never();
    first.breakDown('');
    await expect(asked).rejects.toThrow('couldn’t be started; reload the page');
    expect(first.terminate).toHaveBeenCalledOnce();
    expect(await client.call.double(3)).toBe(6);
    // What the first still says is of no account.
    first.breakDown('late');
    expect(await client.call.double(5)).toBe(10);
    client.end();
  });

  it('ends one that says nothing for as long as it may, and asks the next where each call stands by itself', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] });
    const silent = (): Runs => ({ ...runs, double: () => new Promise(() => undefined) as never });
    const [first, second, third, fourth] = [silent(), runs, silent(), silent()].map(worker);
    const start = vi.fn<() => Worker>();
    for (const one of [first, second, third, fourth]) start.mockReturnValueOnce(one!.page);
    const client = new WorkerClient<Runs>(start, { patience: 5, isStateless: true });
    const asked = client.call.double(4);
    await Promise.resolve();
    vi.advanceTimersByTime(4000);
    expect(first!.terminate).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1000);
    expect(first!.terminate).toHaveBeenCalledOnce();
    expect(await asked).toBe(8);
    // Nothing is waited for: nothing is silent.
    vi.advanceTimersByTime(60_000);
    expect(second!.terminate).not.toHaveBeenCalled();
    client.end();
    // Twice is enough.
    const twice = expect(client.call.double(4)).rejects.toThrow(LostError);
    for (const one of [third, fourth]) {
      await vi.waitFor(() => expect(start.mock.results.at(-1)?.value).toBe(one!.page));
      vi.advanceTimersByTime(5000);
    }
    await twice;
    expect(start).toHaveBeenCalledTimes(4);
  });

  it('waits for one that tells that it gets on', async () => {
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] });
    const one = worker(runs);
    const client = new WorkerClient<Runs>(() => one.page, { patience: 5 });
    const asked = client.call.never();
    asked.catch(() => undefined);
    await Promise.resolve();
    for (let i = 0; i < 3; i++) {
      vi.advanceTimersByTime(4000);
      one.say(null);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect(one.terminate).not.toHaveBeenCalled();
    vi.advanceTimersByTime(5000);
    expect(one.terminate).toHaveBeenCalledOnce();
    await expect(asked).rejects.toThrow('stood still');
  });

  it('leaves off waiting where the caller says so, and goes on working for others', async () => {
    const one = worker(runs);
    const client = new WorkerClient<Runs>(() => one.page);
    const stop = new AbortController();
    const asked = client.with({ signal: stop.signal }).never();
    stop.abort();
    await expect(asked).rejects.toMatchObject({ name: 'AbortError' });
    await expect(client.with({ signal: stop.signal }).double(1)).rejects.toMatchObject({
      name: 'AbortError',
    });
    expect(await client.call.double(2)).toBe(4);
    client.end();
  });

  it('tells who waits why it ends', async () => {
    const client = new WorkerClient<Runs>(() => worker(runs).page);
    const asked = client.call.never();
    await Promise.resolve();
    client.end(new Error('The clip is closed.'));
    await expect(asked).rejects.toThrow('The clip is closed.');
  });

  it('holds nothing of what it has delivered', async () => {
    const client = new WorkerClient<Runs>(() => worker(runs).page);
    const refs: WeakRef<object>[] = [];
    for (let i = 0; i < 20; i++) refs.push(new WeakRef(await client.call.frame()));
    // The last may still be on the stack.
    await new Promise((resolve) => setTimeout(resolve, 20));
    collectGarbage();
    expect(refs.slice(0, -1).filter((ref) => ref.deref() !== undefined)).toHaveLength(0);
    client.end();
  });
});
