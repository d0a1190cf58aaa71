import { describe, expect, it } from 'vitest';
import { LatestTask } from '../src/app/engine/latest-task';

interface Wish {
  name: string;
}

/** Work that is finished by hand. */
function byHand() {
  const begun: string[] = [];
  let closed = 0;
  let finish: (fails?: boolean) => void = () => undefined;
  const newest = new LatestTask<Wish>(
    ({ name }) =>
      new Promise((resolve, reject) => {
        begun.push(name);
        finish = (fails = false) => (fails ? reject(new Error(name)) : resolve());
      }),
    () => closed++,
  );
  const done = async (fails = false): Promise<void> => {
    finish(fails);
    await new Promise((resolve) => setTimeout(resolve));
  };
  return { newest, begun, done, closed: () => closed };
}

describe('the newest of what is wanted', () => {
  it('is worked on next, and what came between is left out', async () => {
    const { newest, begun, done } = byHand();
    for (const name of ['a', 'b', 'c']) newest.submit({ name });
    expect(begun).toEqual(['a']);
    await done();
    expect(begun).toEqual(['a', 'c']);
    await done();
    newest.submit({ name: 'd' });
    expect(begun).toEqual(['a', 'c', 'd']);
  });

  it('goes on after work that failed', async () => {
    const { newest, begun, done } = byHand();
    newest.submit({ name: 'a' });
    newest.submit({ name: 'b' });
    await done(true);
    expect(begun).toEqual(['a', 'b']);
  });

  it('closes once, when nothing is worked on any more, and wants nothing after that', async () => {
    const { newest, begun, done, closed } = byHand();
    newest.submit({ name: 'a' });
    newest.submit({ name: 'b' });
    newest.end();
    expect(closed()).toBe(0);
    await done();
    expect(closed()).toBe(1);
    newest.submit({ name: 'c' });
    expect(begun).toEqual(['a']);
    const idle = byHand();
    idle.newest.end();
    expect(idle.closed()).toBe(1);
  });
});
