import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { type PlanarBand, planarFrame } from '@hazy-lens/core';
import { Document } from '../state/document';
import { Workspace } from '../state/workspace';
import { bandName } from '../steps/focus/bands';
import { Moves } from '../ui/moves';
import { factor } from '../ui/number-field';
import { GRIP_NAMES, type GripKind, applyDrag, normalAngle, setEdge, sideOf } from './band-drag';
import { contoursOf } from './contours';
import { StageView } from './stage-view';

interface Line {
  kind: GripKind;
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  look: 'middle' | 'clear' | 'near' | 'far';
}

interface Grip {
  kind: GripKind;
  x: number;
  y: number;
  look: 'middle' | 'clear' | 'near' | 'far';
  name: string;
  value: number;
  text: string;
}

interface Label {
  text: string;
  x: number;
  y: number;
  side: 'near' | 'far' | 'none';
}

/** Where along the focus line each grip stands, as a fraction of the diagonal: apart, so that none hides another. */
const STATIONS: Record<GripKind, number> = {
  line: 0,
  'turn-start': -0.3,
  'turn-end': 0.3,
  'near-clear': 0.09,
  'far-clear': 0.09,
  'near-outer': -0.09,
  'far-outer': -0.09,
};
/** How far grips keep from the rim of the stage. */
const RIM = 26;

/** The contours of the field on the picture, and the grips of the chosen band on them. */
@Component({
  selector: 'hl-band-handles',
  templateUrl: './band-handles.html',
  styleUrl: './band-handles.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BandHandles {
  protected readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly stageView = inject(StageView);
  protected readonly band = this.workspace.band;
  /** The grip in motion or in focus: it shows its label. */
  protected readonly moving = signal<GripKind | null>(null);
  protected readonly focused = signal<GripKind | null>(null);
  private drag: {
    kind: GripKind;
    start: PlanarBand;
    from: { x: number; y: number };
    gesture: string;
    moves: Moves;
  } | null = null;

  protected readonly frame = computed(() => {
    const { width, height } = this.document.size();
    const at = this.stageView.toStage(0, 0);
    const { zoom } = this.stageView.view();
    return { x: at.x, y: at.y, width: width * zoom, height: height * zoom };
  });

  private readonly contours = computed(() =>
    contoursOf(this.document.recipe().focus, this.document.size(), this.document.radiusPx()),
  );

  protected readonly contourPath = computed(() =>
    this.contours()
      .flatMap(({ lines }) => lines)
      .map((line) => line.map(([x, y], i) => this.point(i === 0 ? 'M' : 'L', x, y)).join(''))
      .join(''),
  );

  /** One number a contour and side, where it is best seen. */
  protected readonly labels = computed<Label[]>(() => {
    const frame = this.frame();
    const stage = this.stageView.stage();
    const right = Math.min(frame.x + frame.width, stage.width);
    const wantedX = Math.max(frame.x, 0) + (right - Math.max(frame.x, 0)) * 0.93;
    const { view } = this.stageView;
    const { zoom, x: offset } = view();
    return this.contours().flatMap(({ px, lines }) =>
      lines.flatMap((line) => {
        const [x, y] = pointAcross(line, (wantedX - offset) / zoom);
        const at = this.stageView.toStage(x, y);
        const seen = at.x > 8 && at.x < right - 30 && at.y > 12 && at.y < stage.height - 36;
        return seen ? [{ text: `${px} px`, ...at, side: this.sideAt(x, y) }] : [];
      }),
    );
  });

  /** Half planes of the chosen band, for colouring its contours by side. */
  protected readonly sides = computed(() => {
    const axes = this.axes();
    if (!axes) return null;
    const { x, y, lineX, lineY, normalX, normalY, diagonal } = axes;
    const far = 4 * diagonal;
    const corner = (l: number, n: number): string =>
      `${x + lineX * l + normalX * n},${y + lineY * l + normalY * n}`;
    const half = (n: number): string =>
      [corner(-far, 0), corner(far, 0), corner(far, n), corner(-far, n)].join(' ');
    return { near: half(far), far: half(-far) };
  });

  protected readonly lines = computed<Line[]>(() => {
    const band = this.band();
    const axes = this.axes();
    if (!band || !axes) return [];
    const { x, y, lineX, lineY, normalX, normalY, diagonal } = axes;
    const along = 2 * diagonal;
    return edgesOf(band).map(({ kind, at, look }) => {
      const [cx, cy] = [x + normalX * at * diagonal, y + normalY * at * diagonal];
      return {
        kind,
        look,
        x1: cx - lineX * along,
        y1: cy - lineY * along,
        x2: cx + lineX * along,
        y2: cy + lineY * along,
      };
    });
  });

  /** Focus lines of the other bands: faint, and a click chooses them. */
  protected readonly others = computed(() => {
    const size = this.document.size();
    return this.document
      .recipe()
      .focus.bands.filter((band) => band.on && band.id !== this.band()?.id)
      .map((band) => {
        const frame = planarFrame(band, size);
        const reach = 2 * this.document.diagonal();
        const a = this.stageView.toStage(frame.x - frame.lineX * reach, frame.y - frame.lineY * reach);
        const b = this.stageView.toStage(frame.x + frame.lineX * reach, frame.y + frame.lineY * reach);
        return { id: band.id, x1: a.x, y1: a.y, x2: b.x, y2: b.y };
      });
  });

  protected readonly grips = computed<Grip[]>(() => {
    const band = this.band();
    const axes = this.axes();
    if (!band || !axes) return [];
    const toPx = this.document.diagonal();
    const { width, height } = this.document.size();
    const edges: { kind: GripKind; at: number; look: Line['look'] }[] = [
      ...edgesOf(band),
      { kind: 'turn-start', at: 0, look: 'middle' },
      { kind: 'turn-end', at: 0, look: 'middle' },
    ];
    return edges.map(({ kind, at, look }) => {
      const side = sideOf(kind);
      const value = side ? Math.abs(at) * toPx : kind === 'line' ? band.centre[1] * height : band.angle;
      const text = side
        ? `${kind.endsWith('clear') ? 'clear' : 'outer'} ${value.toFixed(0)} px`
        : kind === 'line'
          ? `${(band.centre[0] * width).toFixed(0)}, ${(band.centre[1] * height).toFixed(0)} px`
          : `${band.angle.toFixed(1)}°`;
      const place = this.station(axes, at * axes.diagonal, STATIONS[kind] * axes.diagonal);
      return {
        kind,
        look,
        ...place,
        name: `${GRIP_NAMES[kind]} of ${bandName(band, this.document.recipe().focus)}`,
        value,
        text,
      };
    });
  });

  private readonly axes = computed(() => {
    const band = this.band();
    if (!band?.on) return null;
    const frame = planarFrame(band, this.document.size());
    return {
      ...frame,
      ...this.stageView.toStage(frame.x, frame.y),
      diagonal: this.document.diagonal() * this.stageView.view().zoom,
    };
  });

  protected start(event: PointerEvent, kind: GripKind): void {
    const band = this.band();
    if (event.button !== 0 || !band) return;
    event.preventDefault();
    event.stopPropagation();
    const element = event.currentTarget as HTMLElement;
    element.focus?.({ preventScroll: true });
    element.setPointerCapture(event.pointerId);
    this.drag = {
      kind,
      start: structuredClone(band),
      from: this.pictureAt(event),
      gesture: crypto.randomUUID(),
      moves: new Moves(),
    };
    this.moving.set(kind);
  }

  protected move(raw: Event): void {
    const event = raw as PointerEvent;
    const { drag } = this;
    if (!drag?.moves.isNew(event)) return;
    const to = this.pictureAt(event);
    const linked = this.workspace.linkSides();
    this.document.editBand(
      drag.start.id,
      GRIP_NAMES[drag.kind].toLowerCase(),
      (band) => applyDrag(band, this.document.size(), { ...drag, to, linked, stepped: event.shiftKey }),
      drag.gesture,
    );
  }

  protected end(): void {
    this.drag = null;
    this.moving.set(null);
  }

  /** Arrow keys: one pixel of the picture, or one degree; outwards is away from the focus line. */
  protected key(event: KeyboardEvent, kind: GripKind): void {
    const step = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
    const band = this.band();
    if (!step || !band) return;
    event.preventDefault();
    event.stopPropagation();
    const by = factor(event);
    const [dx, dy] = [step[0]! * by, step[1]! * by];
    const side = sideOf(kind);
    this.document.editBand(band.id, GRIP_NAMES[kind].toLowerCase(), (one) => {
      if (kind === 'line') {
        const from = { x: 0, y: 0 };
        applyDrag(one, this.document.size(), {
          kind,
          start: structuredClone(one),
          from,
          to: { x: dx, y: dy },
          linked: false,
          stepped: false,
        });
      } else if (!side) one.angle = normalAngle(one.angle + dx + dy);
      else {
        // Up and right grow a value, as in every number.
        const grow = (dx - dy) / this.document.diagonal();
        for (const name of this.workspace.linkSides() ? (['near', 'far'] as const) : [side]) {
          const edge = kind.endsWith('clear') ? 'clear' : 'outer';
          setEdge(
            one[name],
            edge,
            (edge === 'clear' ? one[name].clear : one[name].clear + one[name].falloff) + grow,
          );
        }
      }
    });
  }

  private pictureAt(event: PointerEvent): { x: number; y: number } {
    const at = this.stageView.fromPointer(event);
    return this.stageView.toPicture(at.x, at.y);
  }

  private point(command: string, x: number, y: number): string {
    const at = this.stageView.toStage(x, y);
    return `${command}${at.x.toFixed(1)} ${at.y.toFixed(1)}`;
  }

  private sideAt(x: number, y: number): Label['side'] {
    const axes = this.axes();
    if (!axes) return 'none';
    const at = this.stageView.toStage(x, y);
    return (at.x - axes.x) * axes.normalX + (at.y - axes.y) * axes.normalY >= 0 ? 'near' : 'far';
  }

  /** A place on a line parallel to the focus line, moved along it until it is on the stage. */
  private station(
    axes: { x: number; y: number; lineX: number; lineY: number; normalX: number; normalY: number },
    across: number,
    along: number,
  ): { x: number; y: number } {
    const { width, height } = this.stageView.stage();
    const [bx, by] = [axes.x + axes.normalX * across, axes.y + axes.normalY * across];
    let [low, high] = [-Infinity, Infinity];
    for (const [base, direction, room] of [
      [bx, axes.lineX, width],
      [by, axes.lineY, height],
    ] as const) {
      if (Math.abs(direction) < 1e-3) continue;
      const ends = [(RIM - base) / direction, (room - RIM - base) / direction].sort((a, b) => a - b);
      low = Math.max(low, ends[0]!);
      high = Math.min(high, ends[1]!);
    }
    const t = low <= high ? Math.min(high, Math.max(low, along)) : along;
    return { x: bx + axes.lineX * t, y: by + axes.lineY * t };
  }
}

/** The lines of a band as signed distances from its focus line, fractions of the diagonal. */
function edgesOf(band: PlanarBand): { kind: GripKind; at: number; look: Line['look'] }[] {
  const { near, far } = band;
  return [
    { kind: 'near-outer', at: near.clear + near.falloff, look: 'near' },
    { kind: 'far-outer', at: -(far.clear + far.falloff), look: 'far' },
    { kind: 'near-clear', at: near.clear, look: 'clear' },
    { kind: 'far-clear', at: -far.clear, look: 'clear' },
    { kind: 'line', at: 0, look: 'middle' },
  ];
}

/** Where a line crosses a vertical, or its point nearest to it. */
function pointAcross(line: readonly [number, number][], x: number): [number, number] {
  for (let i = 1; i < line.length; i++) {
    const [[x0, y0], [x1, y1]] = [line[i - 1]!, line[i]!];
    if ((x0 - x) * (x1 - x) <= 0 && x0 !== x1) return [x, y0 + ((y1 - y0) * (x - x0)) / (x1 - x0)];
  }
  return line.reduce((a, b) => (Math.abs(a[0] - x) < Math.abs(b[0] - x) ? a : b));
}
