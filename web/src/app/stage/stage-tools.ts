import { Injectable, inject, signal } from '@angular/core';
import {
  type Point,
  type Scribble,
  type Stroke,
  type StrokePoint,
  diagonal,
  packStroke,
  newStrokeId,
  sampleRaster,
  simplified,
} from '@hazy-lens/core';
import { ProjectAssets } from '../project/session/project-assets';
import { Footage } from '../project/footage/footage';
import { MatteCutter } from '../project/subjects/matte-cutter';
import { OpenProject } from '../project/session/open-project';
import { SelectionStore } from '../workspace/selection-store';
import { ToolStore } from '../workspace/tool-store';
import { reanchorMatte, toReferenceFrame } from '../model/carry';
import { addBand, defaultBand, bandFromDrag } from '../model/bands';
import { focusOf } from '../model/elements';
import { MAX_SOUNDINGS, addSounding } from '../model/soundings';
import { draggedEnd } from './handles/linear-handles';
import type { Spot } from './handles/handles';
import type { StageDrag } from './stage-drag';
import { strokePoint } from './stroke-points';
import { stageWords } from '../words/stage';

/** What the hand does on the picture, by what is in hand: place a band, paint, scribble, drop a sounding, pick a depth. */
@Injectable()
export class StageTools {
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly cutter = inject(MatteCutter);
  private readonly footage = inject(Footage);
  /** The scribble that is being drawn. */
  readonly liveScribble = signal<Scribble | null>(null);
  /** Where the last stroke ended: a straight line may go on from there. */
  private lastEnd: StrokePoint | null = null;

  /** True where a hand works on the picture itself, and lines and grips do not take it. */
  get takesAll(): boolean {
    const { kind } = this.selection.chosen();
    return this.selection.placing() !== null || kind === 'brush' || kind === 'matte';
  }

  start(at: Spot, event: PointerEvent | KeyboardEvent): StageDrag | null {
    if (this.selection.placing()) return this.place(at);
    switch (this.selection.chosen().kind) {
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
    const { width, height } = this.project.size();
    return [x / width, y / height];
  }

  private place(from: Spot): StageDrag {
    const kind = this.selection.placing()!;
    const layer = this.selection.layer();
    const id = crypto.randomUUID();
    const gesture = crypto.randomUUID();
    const size = this.project.size();
    const put = (to: Spot, stepped: boolean): void => {
      const [a, b] = [this.point(from), this.point(to)];
      const end = stepped ? draggedEnd(b, a, size, { grip: 'end', from: to, to, linked: false, stepped }) : b;
      this.project.edit(
        stageWords.newBand(kind),
        (draft) => addBand(focusOf(draft, layer), bandFromDrag(kind, a, end, size, id)),
        gesture,
      );
    };
    put(from, false);
    this.selection.chooseBand(id);
    return {
      move: (to, event) => put(to, event.shiftKey),
      cancel: () => this.project.abandon(gesture),
    };
  }

  /** Adds a band without a drag, for the keyboard. */
  placeDefault(): void {
    const kind = this.selection.placing();
    if (!kind) return;
    const layer = this.selection.layer();
    const id = crypto.randomUUID();
    this.project.edit(stageWords.newBand(kind), (draft) => {
      const focus = focusOf(draft, layer);
      addBand(focus, defaultBand(kind, focus, this.project.size(), id));
    });
    this.selection.chooseBand(id);
  }

  private paint(at: Spot, event: PointerEvent | KeyboardEvent): StageDrag {
    const settings = this.settings.brush();
    const size = this.project.size();
    const hasPressure = 'pointerType' in event && event.pointerType === 'pen';
    const pointOf = (spot: Spot, one: Event): StrokePoint =>
      strokePoint(spot, size, hasPressure ? (one as PointerEvent).pressure : 1);
    const first = pointOf(at, event);
    // With Shift a straight line goes on from where the last stroke ended.
    const points = event.shiftKey && this.lastEnd ? [this.lastEnd, first] : [first];
    const fixed = points.length;
    let id = newStrokeId();
    const stroke = (): Stroke => ({ ...settings, points });
    this.selection.liveStroke.set(packStroke(stroke(), id));
    return {
      every: true,
      move: (to, moved) => {
        const next = pointOf(to, moved);
        if (moved.shiftKey) {
          // What is drawn so far does not grow but changes: it is another stroke.
          points.splice(fixed, points.length, next);
          id = newStrokeId();
        } else points.push(next);
        this.selection.liveStroke.set(packStroke(stroke(), id));
      },
      end: () => {
        const tolerance = Math.max(0.3, settings.radius * diagonal(size) * 0.02);
        const drawn = { ...settings, points: simplified(points, size, tolerance) };
        const done = toReferenceFrame(drawn, this.project.recipe().focus.strokesCarry, size);
        this.lastEnd = points.at(-1)!;
        this.project.edit(stageWords.stroke(settings.mode), (draft) => {
          draft.focus.strokes.push(done);
          draft.focus.strokesOn = true;
        });
        this.selection.liveStroke.set(null);
      },
      cancel: () => this.selection.liveStroke.set(null),
    };
  }

  private scribble(at: Spot): StageDrag | null {
    const chosen = this.selection.chosen();
    if (chosen.kind !== 'matte') return null;
    const { id } = chosen;
    const size = this.project.size();
    const { inside, radius } = this.settings.scribble();
    const points = [strokePoint(at, size, 1)];
    const show = (): void => this.liveScribble.set({ inside, radius, points: [...points] });
    show();
    return {
      every: true,
      cancel: () => this.liveScribble.set(null),
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
        const label = stageWords.scribble(inside ? 'inside' : 'outside');
        const gesture = crypto.randomUUID();
        const seen = this.project.recipe();
        const time = this.footage.moment();
        this.project.edit(
          label,
          (draft) => {
            reanchorMatte(draft, seen, id, time, size);
            draft.focus.mattes.filter((one) => one.id === id).forEach((one) => one.scribbles.push(done));
          },
          gesture,
        );
        const matte = this.project.recipe().focus.mattes.find((one) => one.id === id);
        if (matte) void this.cutter.cut(id, matte.scribbles, label, gesture);
      },
    };
  }

  private sound(at: Spot): StageDrag | null {
    const gesture = crypto.randomUUID();
    const layer = this.selection.layer();
    const index = this.selection.focus().soundings.length;
    if (index >= MAX_SOUNDINGS) return null;
    this.project.edit(
      stageWords.newSounding,
      (draft) => addSounding(focusOf(draft, layer), this.point(at), this.project.size()),
      gesture,
    );
    this.selection.choose({ kind: 'soundings', index });
    return {
      move: (to) =>
        this.project.edit(
          stageWords.newSounding,
          (draft) => {
            // A step back may have taken it away under the hand.
            const sounding = focusOf(draft, layer).soundings[index];
            if (sounding) sounding.at = this.point(to);
          },
          gesture,
        ),
      cancel: () => this.project.abandon(gesture),
    };
  }

  private pickDepth(at: Spot): StageDrag | null {
    const gesture = crypto.randomUUID();
    const pick = (spot: Spot): void => {
      const map = this.projectAssets.ofFocus().depth?.levels[0];
      const [x, y] = this.point(spot);
      if (!map || x < 0 || y < 0 || x > 1 || y > 1) return;
      const depth = sampleRaster(map, x, y);
      this.project.edit(
        stageWords.depthInFocus,
        (draft) => {
          if (draft.focus.depthMap) draft.focus.depthMap.focus = depth;
        },
        gesture,
      );
    };
    pick(at);
    return { move: pick, cancel: () => this.project.abandon(gesture) };
  }
}
