import { Injectable, inject, signal } from '@angular/core';
import {
  type Point,
  type Scribble,
  type Stroke,
  diagonal,
  makeInk,
  newInkId,
  sampleRaster,
} from '@hazy-lens/core';
import { FocusPicturesSource } from '../engine/focus-pictures';
import { MatteCutter } from '../engine/matte-cutter';
import { Document } from '../state/document';
import { Workspace } from '../state/workspace';
import { addBand, defaultBand, placedBand } from '../steps/focus/bands';
import { addSounding } from '../steps/focus/soundings';
import { draggedEnd } from './handles/linear-handles';
import type { Spot } from './handles/handles';
import type { StageDrag } from './stage-tool';
import { type StrokePoint, simplified, strokePoint } from './stroke-points';

/** What the hand does on the picture, by what is in hand: place a band, paint, scribble, drop a sounding, pick a depth. */
@Injectable({ providedIn: 'root' })
export class StageTools {
  private readonly document = inject(Document);
  private readonly workspace = inject(Workspace);
  private readonly pictures = inject(FocusPicturesSource);
  private readonly cutter = inject(MatteCutter);
  /** The scribble that is being drawn. */
  readonly liveScribble = signal<Scribble | null>(null);
  /** Where the last stroke ended: a straight line may go on from there. */
  private lastEnd: StrokePoint | null = null;

  /** True where a hand works on the picture itself, and lines and grips do not take it. */
  get takesAll(): boolean {
    const { kind } = this.workspace.chosen();
    return this.workspace.placing() !== null || kind === 'brush' || kind === 'matte';
  }

  start(at: Spot, event: PointerEvent | KeyboardEvent): StageDrag | null {
    if (this.workspace.placing()) return this.place(at);
    switch (this.workspace.chosen().kind) {
      case 'brush':
        return this.paint(at, event);
      case 'matte':
        return this.scribble(at);
      case 'soundings':
        return this.sound(at);
      case 'depth':
        return this.pickDepth(at);
      default:
        return null;
    }
  }

  private point({ x, y }: Spot): Point {
    const { width, height } = this.document.size();
    return [x / width, y / height];
  }

  private place(from: Spot): StageDrag {
    const kind = this.workspace.placing()!;
    const id = crypto.randomUUID();
    const gesture = crypto.randomUUID();
    const size = this.document.size();
    const put = (to: Spot, stepped: boolean): void => {
      const [a, b] = [this.point(from), this.point(to)];
      const end = stepped ? draggedEnd(b, a, size, { grip: 'end', from: to, to, linked: false, stepped }) : b;
      addBand(this.document, placedBand(kind, a, end, size, id), gesture);
    };
    put(from, false);
    this.workspace.chooseBand(id);
    return { move: (to, event) => put(to, event.shiftKey), end: () => undefined };
  }

  /** Adds a band without a drag, for the keyboard. */
  placeDefault(): void {
    const kind = this.workspace.placing();
    if (!kind) return;
    const id = crypto.randomUUID();
    addBand(this.document, defaultBand(kind, this.document, id));
    this.workspace.chooseBand(id);
  }

  private paint(at: Spot, event: PointerEvent | KeyboardEvent): StageDrag {
    const settings = this.workspace.brush();
    const size = this.document.size();
    const hasPressure = 'pointerType' in event && event.pointerType === 'pen';
    const pointOf = (spot: Spot, one: Event): StrokePoint =>
      strokePoint(spot, size, hasPressure ? (one as PointerEvent).pressure : 1);
    const first = pointOf(at, event);
    // With Shift a straight line goes on from where the last stroke ended.
    const points = event.shiftKey && this.lastEnd ? [this.lastEnd, first] : [first];
    const fixed = points.length;
    let id = newInkId();
    const stroke = (): Stroke => ({ ...settings, points });
    this.workspace.liveInk.set(makeInk(stroke(), id));
    return {
      move: (to, moved) => {
        const next = pointOf(to, moved);
        if (moved.shiftKey) {
          // What is drawn so far does not grow but changes: it is another stroke.
          points.splice(fixed, points.length, next);
          id = newInkId();
        } else points.push(next);
        this.workspace.liveInk.set(makeInk(stroke(), id));
      },
      end: () => {
        const tolerance = Math.max(0.3, settings.radius * diagonal(size) * 0.02);
        const done = { ...settings, points: simplified(points, size, tolerance) };
        this.lastEnd = points.at(-1)!;
        this.document.edit(`${settings.mode} stroke`, (draft) => {
          draft.focus.strokes.push(done);
          draft.focus.strokesOn = true;
        });
        this.workspace.liveInk.set(null);
      },
    };
  }

  private scribble(at: Spot): StageDrag | null {
    const chosen = this.workspace.chosen();
    if (chosen.kind !== 'matte') return null;
    const { id } = chosen;
    const size = this.document.size();
    const { inside, radius } = this.workspace.scribble();
    const points = [strokePoint(at, size, 1)];
    const show = (): void => this.liveScribble.set({ inside, radius, points: [...points] });
    show();
    return {
      move: (to) => {
        points.push(strokePoint(to, size, 1));
        show();
      },
      end: () => {
        this.liveScribble.set(null);
        const done = {
          inside,
          radius,
          points: simplified(points, size, Math.max(0.5, radius * diagonal(size) * 0.2)),
        };
        const label = `scribble ${inside ? 'inside' : 'outside'}`;
        const gesture = crypto.randomUUID();
        this.document.edit(
          label,
          (draft) =>
            draft.focus.mattes.filter((one) => one.id === id).forEach((one) => one.scribbles.push(done)),
          gesture,
        );
        const matte = this.document.recipe().focus.mattes.find((one) => one.id === id);
        if (matte) void this.cutter.cut(id, matte.scribbles, label, gesture);
      },
    };
  }

  private sound(at: Spot): StageDrag {
    const gesture = crypto.randomUUID();
    const index = addSounding(this.document, this.point(at), gesture);
    this.workspace.choose({ kind: 'soundings', index });
    return {
      move: (to) =>
        this.document.edit(
          'new sounding',
          ({ focus }) => {
            // A step back may have taken it away under the hand.
            const sounding = focus.soundings[index];
            if (sounding) sounding.at = this.point(to);
          },
          gesture,
        ),
      end: () => undefined,
    };
  }

  private pickDepth(at: Spot): StageDrag | null {
    const gesture = crypto.randomUUID();
    const pick = (spot: Spot): void => {
      const map = this.pictures.pictures().depth?.levels[0];
      const [x, y] = this.point(spot);
      if (!map || x < 0 || y < 0 || x > 1 || y > 1) return;
      const depth = sampleRaster(map, x, y);
      this.document.edit(
        'depth in focus',
        (draft) => {
          if (draft.focus.depthMap) draft.focus.depthMap.focus = depth;
        },
        gesture,
      );
    };
    pick(at);
    return { move: pick, end: () => undefined };
  }
}
