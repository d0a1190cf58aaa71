import { MEND_LIMITS, type Mend, parseRecipe } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { carriedMend, mendName, movedMend } from '../../src/app/model/mends';
import { Footage } from '../../src/app/project/footage/footage';
import { OpenProject } from '../../src/app/project/session/open-project';
import { Notices } from '../../src/app/project/session/notices';
import { MendBrush } from '../../src/app/stage/mend-brush';
import { CropTool } from '../../src/app/workspace/crop-tool';
import { MendTool } from '../../src/app/workspace/mend-tool';
import { QuietArea } from '../../src/app/workspace/quiet-area';
import { VariantView } from '../../src/app/workspace/variant-view';
import { openOne, services, size } from '../services';

vi.mock('../../src/app/project/footage/footage', () => ({ Footage: class {} }));

describe('the hand that crops', () => {
  let tool: CropTool;
  let project: OpenProject;
  beforeEach(() => {
    const { injector } = services(openOne);
    [tool, project] = [injector.get(CropTool), injector.get(OpenProject)];
  });

  it('holds to a form, lying or standing', () => {
    expect(tool.ratio()).toBeNull();
    tool.set({ form: '16:9' });
    expect(tool.ratio()).toBeCloseTo(16 / 9);
    tool.set({ isUpright: true });
    expect(tool.ratio()).toBeCloseTo(9 / 16);
    tool.set({ form: 'Original' });
    tool.set({ isUpright: false });
    expect(tool.ratio()).toBeCloseTo(size.width / size.height);
    tool.set({ form: 'Custom' });
    tool.set({ own: [1, 4] });
    expect(tool.ratio()).toBe(4);
  });

  it('has the crop as it takes effect, and its edits are steps back', () => {
    tool.edit('turn crop', { centre: [0.5, 0.5], size: [1, 1], turn: 30, flip: false });
    expect(tool.current.size[0]).toBeLessThan(1);
    expect(project.recipe().tidy.crop.size).toEqual([1, 1]);
    expect(project.undoLabel()).toBe('turn crop');
    expect(project.sheet().width).toBeLessThan(size.width);
    project.undo();
    expect(tool.current.turn).toBe(0);
    expect(project.sheet()).toMatchObject(size);
  });
});

describe('the hand that mends', () => {
  let hand: MendBrush;
  let tool: MendTool;
  let project: OpenProject;
  let notices: Notices;
  /** Of the frame of footage in view; null for a still. */
  let time: number | null;
  beforeEach(() => {
    const footage = { moment: () => time };
    const { injector } = services(openOne, { provide: Footage, useValue: footage }, MendBrush);
    time = null;
    [hand, tool, project] = [injector.get(MendBrush), injector.get(MendTool), injector.get(OpenProject)];
    notices = injector.get(Notices);
  });
  const mends = () => project.recipe().tidy.mends;
  const at = (x: number, y: number) => ({ x: x * size.width, y: y * size.height });
  const moved = {} as PointerEvent;

  it('notes on which frame of footage it was painted', () => {
    tool.set({ kind: 'fill' });
    hand.start(at(0.1, 0.1))!.end!();
    time = 1.5;
    hand.start(at(0.4, 0.1))!.end!();
    expect(mends().map((mend) => mend.at)).toEqual([undefined, 1.5]);
  });

  it('makes one mend of a stroke, when it lifts, of as few points as it takes', () => {
    expect(hand.start(at(0.1, 0.1))).toBeNull();
    tool.set({ kind: 'fill' });
    const drag = hand.start(at(0.1, 0.1))!;
    drag.move(at(0.15, 0.1), moved);
    drag.move(at(0.2, 0.1), moved);
    expect(mends()).toEqual([]);
    expect(tool.live()?.points).toHaveLength(3);
    drag.end!();
    expect(tool.live()).toBeNull();
    expect(mends()).toMatchObject([{ kind: 'fill', on: true, points: [[0.1, 0.1], [0.2, 0.1]] }]); // prettier-ignore
    expect(project.undoLabel()).toBe('fill');
    const dropped = hand.start(at(0.5, 0.5))!;
    dropped.cancel();
    dropped.end!();
    expect(mends()).toHaveLength(1);
  });

  it('asks a copy where it comes from, and keeps the way there for the next strokes', () => {
    tool.set({ kind: 'copy' });
    expect(hand.start(at(0.8, 0.5))).toBeNull();
    hand.start(at(0.2, 0.4))!.end!();
    hand.start(at(0.3, 0.3))!.end!();
    expect(mends()).toHaveLength(2);
    for (const { from } of mends()) {
      expect(from[0]).toBeCloseTo(0.6);
      expect(from[1]).toBeCloseTo(0.1);
    }
    tool.set({ source: null });
    expect(hand.start(at(0.3, 0.3))).toBeNull();
  });

  it('moves what it made as far as a recipe can hold it, in its own form', () => {
    const mend = parseRecipe({
      format: 'hazy-lens-recipe',
      version: 1,
      tidy: { mends: [{ id: 'a', kind: 'fill', points: [[0.1, 0.1], [0.3, 0.6]] }] },
    }).tidy.mends[0]!; // prettier-ignore
    expect(movedMend(mend, [0.05, -0.05], size).points.flat().map((v) => Math.round(v * 100))).toEqual([15, 5, 35, 55]); // prettier-ignore
    const far = movedMend(mend, [9, -9], size);
    expect(far.points.flat().map((v) => Math.round(v * 10))).toEqual([18, -10, 20, -5]);
    expect(Math.max(...far.points.flat())).toBeLessThanOrEqual(2);
    expect(movedMend(mend, [0, 0], size)).toEqual(mend);
    // On another frame it lies elsewhere, and larger: half the way there is a whole way here.
    const carried: Mend = { ...mend, carry: { shift: [0.2, 0], turn: 0, scale: 2 } };
    expect(carriedMend(carried, size).points[0]![0]).toBeCloseTo(0.5 + 2 * (0.1 - 0.5) + 0.2, 9);
    expect(carriedMend(carried, size).radius).toBeCloseTo(2 * mend.radius, 9);
    const moved = movedMend(carried, [0.1, 0], size);
    expect(moved.points[0]![0]).toBeCloseTo(0.15, 9);
    expect(mendName([mend, { ...mend, kind: 'copy' }, mend], 2)).toBe('Fill 2');
  });

  it('makes what a recipe can hold, wherever it goes and however long, and says when there is no more room', () => {
    tool.set({ kind: 'copy' });
    hand.start(at(-9, 4));
    const drag = hand.start(at(3, 0.5))!;
    for (let i = 0; i < 6000; i++) drag.move(at((i % 97) - 40, (i % 89) - 40), moved);
    drag.end!();
    expect(() => parseRecipe(project.recipe())).not.toThrow();
    const [{ from, points }] = mends() as [Mend];
    expect(from).toEqual([-1, 1]);
    expect(points.length).toBeLessThanOrEqual(MEND_LIMITS.points);
    for (let i = 1; i < MEND_LIMITS.mends; i++) hand.start(at(0.5, 0.5))!.end!();
    expect(() => parseRecipe(project.recipe())).not.toThrow();
    expect(hand.start(at(0.5, 0.5))).toBeNull();
    expect(mends()).toHaveLength(MEND_LIMITS.mends);
    expect(notices.all().at(-1)?.text).toContain('200 touch-ups');
  });
});

describe('a quiet area', () => {
  it('stays on the picture, however it is moved and sized', () => {
    const area = new QuietArea();
    area.toggle(true);
    const start = area.frame()!;
    area.move(start, 5, -5);
    expect(area.frame()).toEqual({ ...start, x: 1 - start.width, y: 0 });
    area.size(start, 9, 9);
    expect(area.frame()!.x + area.frame()!.width).toBe(1);
    area.size(start, -9, -9);
    expect(area.frame()!.width).toBeGreaterThan(0);
    area.toggle(false);
    expect(area.frame()).toBeNull();
  });
});

describe('variants beside each other', () => {
  let variants: VariantView;
  let project: OpenProject;
  beforeEach(() => {
    const { injector } = services(openOne);
    [variants, project] = [injector.get(VariantView), injector.get(OpenProject)];
  });
  const shown = (): string[] => variants.shown().map(({ name }) => name);

  it('are shown in their order, the present one always among them', () => {
    expect(variants.all()).toEqual([]);
    variants.show(2);
    expect(shown()).toEqual([]);
    expect(variants.beside()).toBe(1);
    variants.make();
    variants.make();
    expect(variants.all().map(({ name }) => name)).toEqual(['Variant 1', 'Variant 2', 'Variant 3']);
    expect(shown()).toEqual(['Variant 1', 'Variant 3']);
    variants.show(4);
    expect(shown()).toEqual(['Variant 1', 'Variant 2', 'Variant 3']);
    variants.show(1);
    expect(shown()).toEqual([]);
  });

  it('are chosen, named and taken away as steps back', () => {
    variants.make();
    const [first, second] = variants.all();
    project.edit('contrast', ({ colour }) => void (colour.contrast = 0.4));
    variants.choose(first!.id);
    expect(project.recipe().colour.contrast).toBe(0);
    variants.rename(first!.id, 'soft');
    expect(variants.all()[0]!.name).toBe('soft');
    variants.remove(first!.id);
    expect(variants.all()).toHaveLength(2);
    variants.remove(second!.id);
    expect(variants.all()).toEqual([]);
    expect(project.undoLabel()).toBe('delete variant');
    project.undo();
    expect(variants.all().map(({ name }) => name)).toEqual(['soft', 'Variant 2']);
    expect(variants.all()[1]!.recipe.colour.contrast).toBe(0.4);
  });
});
