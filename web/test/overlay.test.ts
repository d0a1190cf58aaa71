import type { BlurEdge } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { type OverlayScene, paintOverlay } from '../src/app/stage/overlay-paint';

interface Stroke {
  colour: string;
  width: number;
  alpha: number;
  points: number;
}

/** A canvas context that only notes what is drawn on it. */
function notebook() {
  const strokes: Stroke[] = [];
  const texts: { text: string; x: number; y: number; colour: string }[] = [];
  const clips: number[][] = [];
  let points = 0;
  let lastRect: number[] = [];
  const context = {
    globalAlpha: 1,
    lineWidth: 1,
    strokeStyle: '',
    fillStyle: '',
    clearRect: () => undefined,
    save: () => undefined,
    restore: () => undefined,
    beginPath: () => (points = 0),
    rect: (...rect: number[]) => (lastRect = rect),
    clip: () => clips.push(lastRect),
    moveTo: () => points++,
    lineTo: () => points++,
    strokeText: () => undefined,
    stroke() {
      const { strokeStyle, lineWidth, globalAlpha } = this;
      if (points > 0) strokes.push({ colour: strokeStyle, width: lineWidth, alpha: globalAlpha, points });
    },
    fillText(text: string, x: number, y: number) {
      texts.push({ text, x, y, colour: this.fillStyle });
    },
  };
  return { context: context as unknown as CanvasRenderingContext2D, strokes, texts, clips };
}

const line = (y: number): [number, number][] => [
  [0, y],
  [500, y],
  [1000, y],
];

const scene = (parts: Partial<OverlayScene> = {}): OverlayScene => ({
  toStage: ({ x, y }) => ({ x: x / 2 + 20, y: y / 2 + 50 }),
  frame: { x: 20, y: 50, width: 500, height: 300 },
  contours: [
    { px: 10, lines: [line(100)] },
    { px: 20, lines: [line(500)] },
  ],
  sideOf: ({ y }) => (y > 300 ? 'near' : 'far'),
  outlines: [],
  others: [],
  seam: null,
  stage: { width: 760, height: 756 },
  ...parts,
});

describe('the lines over the picture', () => {
  it('stay within the picture, take the colour of their side and a dark casing', () => {
    const { context, strokes, clips } = notebook();
    paintOverlay(context, scene());
    expect(clips).toEqual([[20, 50, 500, 300]]);
    expect(strokes[0]).toMatchObject({ colour: expect.stringMatching(/^rgb\(12 14 20/), points: 6 });
    expect(strokes.slice(1).map(({ colour }) => colour)).toEqual(['#ffc499', '#b4bcff']);
  });

  it('part where a contour crosses from one side to the other', () => {
    const { context, strokes } = notebook();
    const across: [number, number][] = Array.from({ length: 11 }, (_, i) => [500, i * 60]);
    paintOverlay(context, scene({ contours: [{ px: 5, lines: [across] }] }));
    const own = strokes.filter(({ colour }) => colour.startsWith('#'));
    expect(own.map(({ colour }) => colour)).toEqual(['#ffc499', '#b4bcff']);
    expect(own.reduce((sum, { points }) => sum + points, 0)).toBe(12);
  });

  it('are strong where they belong to the band in hand, and faint where not', () => {
    const { context, strokes } = notebook();
    const points = [{ x: 0, y: 200 }, { x: 900, y: 200 }]; // prettier-ignore
    paintOverlay(
      context,
      scene({
        contours: [],
        outlines: [{ grip: 'near-outer', look: 'near', points }],
        others: [{ grip: 'rim', look: 'clear', points }],
      }),
    );
    const [faintCasing, faint, casing, strong] = strokes.filter(({ points: n }) => n === 2);
    expect(faint).toMatchObject({ alpha: 0.4, colour: '#ffffff' });
    expect(strong).toMatchObject({ alpha: 1, width: 2, colour: '#ffc499' });
    expect(faintCasing!.width).toBeGreaterThan(faint!.width);
    expect(casing!.width).toBeGreaterThan(strong!.width);
  });

  it('carry their numbers at the right, inside the picture, one where they crowd', () => {
    const { context, texts } = notebook();
    const crowd = [60, 64, 68, 300, 590].map((y, i) => ({ px: 10 * (i + 1), lines: [line(y)] }));
    paintOverlay(context, scene({ contours: crowd }));
    expect(texts.map(({ text }) => text)).toEqual(['10 px', '40 px']);
    for (const { x, y } of texts) {
      expect(x).toBeGreaterThan(450);
      expect(x).toBeLessThan(500);
      expect(y).toBeGreaterThan(60);
      expect(y).toBeLessThan(340);
    }
  });

  it('number only the longest of many', () => {
    const { context, texts } = notebook();
    const lines = Array.from({ length: 12 }, (_, i) => line(40 + i * 45));
    paintOverlay(context, scene({ contours: [{ px: 7, lines }] }));
    expect(texts).toHaveLength(3);
  });

  it('mark the steepest place where it is not soft', () => {
    const seam = (grade: BlurEdge['grade']): BlurEdge => ({ rise: 0.5, at: [400, 200], grade });
    const marks = (grade: BlurEdge['grade']) => {
      const { context, texts } = notebook();
      paintOverlay(context, scene({ contours: [], seam: seam(grade) }));
      return texts;
    };
    expect(marks('soft')).toEqual([]);
    expect(marks('firm')).toMatchObject([{ text: 'firm 0.50', x: 232, y: 150 }]);
    expect(marks('hard edge')).toMatchObject([{ text: 'hard edge 0.50' }]);
  });
});
