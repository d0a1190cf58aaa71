import { type PlacedPatch, type MendPatch, evenTimes, parseRecipe } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import type { FrameMender } from '../src/app/engine/footage/frame-mender';
import { mendedFootage } from '../src/app/engine/footage/mended-footage';
import { type MediaSource, onLoan } from '../src/app/engine/media-source';
import { Picture } from '../src/app/engine/picture';

const SIZE = { width: 4, height: 2 };
const FRAMES = 30;
const times = evenTimes(FRAMES, 10);

describe('footage with mends', () => {
  const read: number[] = [];
  const back: number[] = [];
  const material = {
    ...SIZE,
    frames: FRAMES,
    keeps: 5,
    footage: {},
    unread: new Map(),
    hold: () => () => undefined,
    async frame(index: number) {
      read.push(index);
      const pixels = new SharedArrayBuffer(SIZE.width * SIZE.height * 3);
      return Picture.ofFrame({ ...SIZE, format: { channels: 3, bytes: 1 }, pixels }, `frame ${index}`);
    },
    async borrow(index: number) {
      return onLoan(await (this as MediaSource).frame(index), () => back.push(index));
    },
  } as unknown as MediaSource;
  /** Patches that are their mends' names, made of what lay on their frame. */
  const made: string[] = [];
  const laid: string[] = [];
  const mends = {
    async patch(
      _: MediaSource,
      home: number,
      { id }: { id: string },
      __: string,
      before: readonly PlacedPatch[],
    ) {
      made.push(
        `${id} on ${home} after ${before.map(({ patch }) => (patch as unknown as { id: string }).id).join()}`,
      );
      return id === 'outside' ? null : ({ id } as unknown as MendPatch);
    },
    async lay(frame: Picture, all: readonly PlacedPatch[], name: string) {
      laid.push(
        all
          .map(
            ({ patch, carry }) => `${(patch as unknown as { id: string }).id} ${carry.shift[0].toFixed(1)}`,
          )
          .join(),
      );
      return Picture.ofFrame(
        { ...SIZE, format: frame.format, pixels: frame.rawPixels },
        `${frame.id} ${name}`,
      );
    },
  } as unknown as FrameMender;
  const recipe = (parts: object) => parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });
  const mend = (id: string, more: object = {}) => ({ id, kind: 'fill', points: [[0.5, 0.5]], ...more });
  const how = recipe({
    tidy: {
      mends: [mend('a', { at: 1 }), mend('outside'), mend('off', { on: false }), mend('b', { at: 2 })],
    },
    keys: [
      { of: 'tidy/mends/a/carry/shift', at: 0, value: [0, 0], ease: 'linear' },
      { of: 'tidy/mends/a/carry/shift', at: 2, value: [1, 0], ease: 'linear' },
    ],
  });

  it('makes each on its own frame, after those before it, once; and lays them where they were carried to', async () => {
    const clip = mendedFootage(material, how, times, mends);
    const [first, again, other] = [await clip.frame(5), await clip.frame(5), await clip.frame(20)];
    expect(made.sort()).toEqual(['a on 10 after ', 'b on 20 after a', 'outside on 0 after a']);
    expect(laid).toEqual(['a 0.3,b 0.0', 'a 1.0,b 0.0']);
    expect(again).toBe(first);
    expect(back).toEqual([5, 20]);
    expect(first.id).toMatch(/^frame 5 mended-/);
    expect(other.id).not.toBe(first.id);
    expect(clip).toMatchObject({ ...SIZE, frames: FRAMES, keeps: 5 });
  });

  it('is read again where it is no longer kept, and is itself where nothing is mended', async () => {
    const clip = mendedFootage(material, how, times, mends);
    read.length = 0;
    for (let i = 0; i < 15; i++) await clip.frame(i);
    await clip.frame(14);
    await clip.frame(0);
    expect(read.filter((i) => i === 14)).toHaveLength(1);
    expect(read.filter((i) => i === 0).length).toBeGreaterThan(1);
    for (const none of [recipe({}), recipe({ tidy: { on: false, mends: [mend('a')] } })])
      expect(mendedFootage(material, none, times, mends)).toBe(material);
  });

  it('makes a patch again for a file where it was given up on the stage, which does without', async () => {
    let stops = 1;
    const stopped = {
      ...mends,
      patch: (...how: Parameters<FrameMender['patch']>) =>
        stops-- > 0 ? Promise.reject(new DOMException('', 'AbortError')) : mends.patch(...how),
    } as unknown as FrameMender;
    expect((await mendedFootage(material, how, times, stopped, true).frame(3)).width).toBe(SIZE.width);
    stops = 1;
    await expect(mendedFootage(material, how, times, stopped).frame(3)).rejects.toMatchObject({
      name: 'AbortError',
    });
  });

  it('tells a failure once, and tries again', async () => {
    let fails = true;
    const broken = {
      ...material,
      borrow: (i: number) => (fails ? Promise.reject(new Error('gone')) : material.borrow(i)),
    } as MediaSource;
    const clip = mendedFootage(broken, how, times, mends);
    await expect(clip.frame(3)).rejects.toThrow('gone');
    fails = false;
    expect((await clip.frame(3)).width).toBe(SIZE.width);
  });
});
