import { expose } from 'comlink';
import { describe, expect, it } from 'vitest';
import { remoteOf } from '../src/app/engine/remote';

/** A worker as the page sees it, what runs in it at the other end of a channel. */
function worker(runs: object) {
  const { port1, port2 } = new MessageChannel();
  expose(runs, port2);
  let told: (event: { message: string }) => void = () => undefined;
  const page = Object.assign(port1, {
    addEventListener: (type: string, listener: never) =>
      type === 'error'
        ? (told = listener)
        : EventTarget.prototype.addEventListener.call(port1, type, listener),
  });
  page.start();
  return {
    page: page as unknown as Worker,
    breakDown: (message: string) => told({ message }),
    end: () => port1.close(),
  };
}

interface Runs {
  double(value: number): number;
  never(): Promise<void>;
}

describe('what a worker offers', () => {
  const runs: Runs = { double: (value) => 2 * value, never: () => new Promise(() => undefined) };

  it('answers as functions of the page do', async () => {
    const { page, end } = worker(runs);
    const remote = await Promise.resolve(remoteOf<Runs>(page));
    expect(await remote.double(21)).toBe(42);
    end();
  });

  it('fails with a sentence where the worker breaks down, also what is asked later', async () => {
    const { page, breakDown, end } = worker(runs);
    const remote = remoteOf<Runs>(page);
    const asked = remote.never();
    breakDown('');
    await expect(asked).rejects.toThrow('could not be started; please reload the page');
    await expect(remote.never()).rejects.toThrow('please reload');
    end();
  });
});
