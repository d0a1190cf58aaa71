import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { type PlanarBand, SEAM_STEEPNESS, hazeField, planarFrame, planarProfile } from '@hazy-lens/core';
import { GRIP_NAMES, type GripKind, setEdge, sideOf } from '../stage/band-drag';
import { contourSteps } from '../stage/contours';
import { StageView } from '../stage/stage-view';
import { Document } from '../state/document';
import { Workspace } from '../state/workspace';
import { Moves } from '../ui/moves';
import { factor } from '../ui/number-field';

type KnotKind = Exclude<GripKind, 'line' | 'turn-start' | 'turn-end'>;

interface Knot {
  kind: KnotKind;
  x: number;
  y: number;
  text: string;
  value: number;
}

const [LEFT, RIGHT] = [12, 74];
const SAMPLES = 240;

/**
 * The cross-section of the field along the chosen band's normal, beside the picture like the height profile beside a
 * map: down the rail is along the normal, to the right is more blur. Its knots are the contours' values.
 */
@Component({
  selector: 'hl-profile-rail',
  template: `
    <section aria-label="Profile of the field">
      <h2>Profile</h2>
      <svg
        class="chart"
        width="84"
        [attr.height]="height()"
        role="presentation"
        (pointermove)="move($event)"
        (pointerrawupdate)="move($event)"
        (pointerup)="end()"
        (pointercancel)="end()"
      >
        @if (curve(); as shape) {
          <defs>
            <clipPath id="hl-rail-near">
              <rect x="0" [attr.y]="shape.middle" width="84" [attr.height]="height()" />
            </clipPath>
            <clipPath id="hl-rail-far">
              <rect x="0" [attr.y]="-height()" width="84" [attr.height]="height() + shape.middle" />
            </clipPath>
          </defs>
          <rect
            class="extent"
            [attr.x]="left"
            [attr.y]="shape.top"
            [attr.width]="right - left"
            [attr.height]="shape.bottom - shape.top"
          />
          @for (tick of ticks(); track tick.px) {
            <line
              class="tick"
              [attr.x1]="tick.x"
              [attr.x2]="tick.x"
              [attr.y1]="shape.top"
              [attr.y2]="shape.bottom"
            />
          }
          <path class="area near" clip-path="url(#hl-rail-near)" [attr.d]="shape.area" />
          <path class="area far" clip-path="url(#hl-rail-far)" [attr.d]="shape.area" />
          <path class="curve near" clip-path="url(#hl-rail-near)" [attr.d]="shape.line" />
          <path class="curve far" clip-path="url(#hl-rail-far)" [attr.d]="shape.line" />
          @if (shape.own) {
            <path class="own" [attr.d]="shape.own" />
          }
          @for (seam of shape.seams; track $index) {
            <path class="seam" [attr.d]="seam">
              <title>Steep: the blur sets in fast enough here to show as a seam</title>
            </path>
          }
          <line
            class="middle"
            [attr.x1]="left - 6"
            [attr.x2]="right"
            [attr.y1]="shape.middle"
            [attr.y2]="shape.middle"
          />
          @if (shape.seams.length > 0) {
            <text class="steep" x="42" [attr.y]="shape.top - 6">seam</text>
          }
        }
        @for (knot of knots(); track knot.kind) {
          <g
            class="knot"
            [class.near]="knot.kind.startsWith('near')"
            [class.far]="knot.kind.startsWith('far')"
            role="slider"
            tabindex="0"
            [attr.data-knot]="knot.kind"
            [attr.aria-label]="'Profile: ' + names[knot.kind]"
            [attr.aria-valuenow]="knot.value.toFixed(0)"
            [attr.aria-valuetext]="knot.text"
            [attr.transform]="'translate(' + knot.x + ' ' + knot.y + ')'"
            (pointerdown)="start($event, knot.kind)"
            (keydown)="key($event, knot.kind)"
          >
            <rect class="hit" x="-12" y="-10" width="24" height="20" />
            <rect class="mark" x="-3" y="-6.5" width="6" height="13" rx="1.5" />
            <title>{{ knot.text }}</title>
          </g>
        }
      </svg>
      <footer aria-hidden="true">
        <span>0</span><span>{{ most() }} px</span>
      </footer>
    </section>
  `,
  styles: `
    :host {
      background: var(--paper);
      border-left: 1px solid var(--line);
      position: relative;
      overflow: hidden;
    }
    section {
      height: 100%;
    }
    h2 {
      position: absolute;
      top: 0;
      left: 0;
      right: 0;
      z-index: 1;
      font-size: 11px;
      font-weight: 500;
      color: var(--ink-3);
      text-align: center;
      padding: 8px 0 4px;
      background: var(--paper);
    }
    .chart {
      display: block;
      touch-action: none;
    }
    .extent {
      fill: var(--field);
    }
    .tick {
      stroke: var(--line-strong);
      stroke-width: 1;
      opacity: 0.45;
    }
    .area {
      stroke: none;
      opacity: 0.3;
    }
    .area.near {
      fill: var(--near);
    }
    .area.far {
      fill: var(--far);
    }
    .curve {
      fill: none;
      stroke-width: 1.75;
    }
    .curve.near {
      stroke: var(--near);
    }
    .curve.far {
      stroke: var(--far);
    }
    .own {
      fill: none;
      stroke: var(--ink-2);
      stroke-width: 1;
    }
    .middle {
      stroke: var(--ink);
      stroke-width: 1;
    }
    .seam {
      fill: none;
      stroke: var(--ink);
      stroke-width: 3.5;
      stroke-dasharray: 1.5 2.5;
    }
    .steep {
      font-size: 11px;
      font-weight: 600;
      fill: var(--ink);
      text-anchor: middle;
    }
    .knot {
      cursor: ns-resize;
      outline: none;
    }
    .knot[data-knot$='outer'] {
      cursor: move;
    }
    .hit {
      fill: transparent;
    }
    .mark {
      fill: var(--raised);
      stroke-width: 1.75;
    }
    .near .mark {
      stroke: var(--near);
    }
    .far .mark {
      stroke: var(--far);
    }
    .knot:hover .mark,
    .knot:focus-visible .mark {
      fill: var(--ink);
    }
    footer {
      position: absolute;
      left: 8px;
      right: 6px;
      bottom: 0;
      display: flex;
      justify-content: space-between;
      font-size: 11px;
      color: var(--ink-3);
      padding: 4px 0 6px;
      background: var(--paper);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProfileRail {
  private readonly document = inject(Document);
  private readonly workspace = inject(Workspace);
  private readonly stageView = inject(StageView);
  protected readonly names = GRIP_NAMES;
  protected readonly left = LEFT;
  protected readonly right = RIGHT;
  protected readonly height = computed(() => this.stageView.stage().height);
  /** Blur radius at the right end of the rail, in pixels of the picture. */
  private readonly mostPx = computed(() => Math.max(0.001, this.document.radiusPx()));
  protected readonly most = computed(() => this.document.radiusPx().toFixed(0));
  protected readonly ticks = computed(() =>
    contourSteps(this.document.radiusPx()).map((px) => ({ px, x: this.xOf(px / this.mostPx()) })),
  );
  private readonly dragging = signal<{
    kind: KnotKind;
    start: PlanarBand;
    y: number;
    x: number;
    gesture: string;
    moves: Moves;
  } | null>(null);

  /** Screen y of a signed distance along the normal, and back; the band's centre is level with the picture's. */
  private readonly scale = computed(() => {
    const band = this.workspace.band();
    const size = this.document.size();
    const centre = band ? band.centre[1] * size.height : size.height / 2;
    const { zoom, y } = this.stageView.view();
    return { middle: centre * zoom + y, perUnit: this.document.diagonal() * zoom };
  });

  protected readonly curve = computed(() => {
    const band = this.workspace.band();
    const { isOpen } = this.document;
    if (!isOpen() || !band) return null;
    const { focus } = this.document.recipe();
    const size = this.document.size();
    const d = this.document.diagonal();
    const frame = planarFrame(band, size);
    const field = hazeField(focus, size);
    const { middle, perUnit } = this.scale();
    const along = (s: number): number =>
      field(frame.x + frame.normalX * s * d, frame.y + frame.normalY * s * d);
    const [first, last] = extentAlong(frame, size).map((px) => px / d) as [number, number];
    const points = Array.from({ length: SAMPLES + 1 }, (_, i) => {
      const s = first + ((last - first) * i) / SAMPLES;
      const haze = along(s);
      return { s, haze, x: this.xOf(haze), y: middle + s * perUnit };
    });
    const line = path(points);
    const [top, bottom] = [points[0]!.y, points.at(-1)!.y];
    const several = focus.bands.filter((one) => one.on).length > 1 && band.on;
    const ownProfile = planarProfile(band);
    const step = ((last - first) * d) / SAMPLES;
    const steep = points
      .slice(1)
      .map((p, i) => (Math.abs(p.haze - points[i]!.haze) * this.document.radiusPx()) / step > SEAM_STEEPNESS);
    return {
      middle,
      top,
      bottom,
      line,
      area: `${line}L${LEFT} ${bottom}L${LEFT} ${top}Z`,
      own: several ? path(points.map((p) => ({ x: this.xOf(ownProfile(p.s)), y: p.y }))) : null,
      seams: runs(steep).map(([from, to]) =>
        path(points.slice(from, to + 2).map((p) => ({ x: p.x + 4, y: p.y }))),
      ),
    };
  });

  protected readonly knots = computed<Knot[]>(() => {
    const band = this.workspace.band();
    if (!band?.on || !this.document.isOpen()) return [];
    const { middle, perUnit } = this.scale();
    const d = this.document.diagonal();
    return (['far', 'near'] as const).flatMap((name) => {
      const side = band[name];
      const sign = name === 'near' ? 1 : -1;
      const ends = band.invert ? { clear: side.haze, outer: 0 } : { clear: 0, outer: side.haze };
      const knot = (edge: 'clear' | 'outer', at: number): Knot => ({
        kind: `${name}-${edge}`,
        x: this.xOf(ends[edge]),
        y: middle + sign * at * perUnit,
        value: at * d,
        text: `${(at * d).toFixed(0)} px from the line, ${(ends[edge] * this.document.radiusPx()).toFixed(0)} px of blur`,
      });
      return [knot('clear', side.clear), knot('outer', side.clear + side.falloff)];
    });
  });

  protected start(event: PointerEvent, kind: KnotKind): void {
    const band = this.workspace.band();
    if (event.button !== 0 || !band) return;
    event.preventDefault();
    const knot = event.currentTarget as SVGGElement;
    knot.focus({ preventScroll: true });
    knot.setPointerCapture(event.pointerId);
    this.dragging.set({
      kind,
      start: structuredClone(band),
      x: event.clientX,
      y: event.clientY,
      gesture: crypto.randomUUID(),
      moves: new Moves(),
    });
  }

  protected move(raw: Event): void {
    const event = raw as PointerEvent;
    const drag = this.dragging();
    if (!drag?.moves.isNew(event)) return;
    const sign = drag.kind.startsWith('near') ? 1 : -1;
    const out = (sign * (event.clientY - drag.y)) / this.scale().perUnit;
    const haze = (event.clientX - drag.x) / (RIGHT - LEFT);
    this.apply(drag.kind, drag.start, out, drag.kind.endsWith('outer') ? haze : 0, drag.gesture);
  }

  protected end(): void {
    this.dragging.set(null);
  }

  protected key(event: KeyboardEvent, kind: KnotKind): void {
    const band = this.workspace.band();
    const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -0.01], ArrowRight: [0, 0.01] }[
      event.key
    ];
    if (!step || !band) return;
    event.preventDefault();
    event.stopPropagation();
    const by = factor(event);
    const sign = kind.startsWith('near') ? 1 : -1;
    this.apply(
      kind,
      structuredClone(band),
      (sign * step[0]! * by) / this.document.diagonal(),
      kind.endsWith('outer') ? step[1]! * by : 0,
      null,
    );
  }

  /** Moves a knot outwards by a length, and its haze by an amount. */
  private apply(kind: KnotKind, start: PlanarBand, out: number, haze: number, gesture: string | null): void {
    const own = sideOf(kind)!;
    const edge = kind.endsWith('clear') ? 'clear' : 'outer';
    const old = edge === 'clear' ? start[own].clear : start[own].clear + start[own].falloff;
    const turned = start.invert ? 0 : haze;
    this.document.editBand(
      start.id,
      `profile: ${GRIP_NAMES[kind].toLowerCase()}`,
      (band) => {
        for (const side of this.workspace.linkSides() ? (['near', 'far'] as const) : [own]) {
          band[side] = { ...start[side], haze: Math.min(1, Math.max(0, start[side].haze + turned)) };
          if (out !== 0) setEdge(band[side], edge, old + out);
        }
      },
      gesture,
    );
  }

  private xOf(haze: number): number {
    return LEFT + haze * (RIGHT - LEFT);
  }
}

/** From where to where the picture reaches along a band's normal, in pixels from its centre. */
function extentAlong(
  frame: { x: number; y: number; normalX: number; normalY: number },
  size: { width: number; height: number },
): [number, number] {
  const ends = [
    [0, 0],
    [size.width, 0],
    [0, size.height],
    [size.width, size.height],
  ].map(([x, y]) => (x! - frame.x) * frame.normalX + (y! - frame.y) * frame.normalY);
  return [Math.min(...ends), Math.max(...ends)];
}

function path(points: readonly { x: number; y: number }[]): string {
  return points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(2)} ${y.toFixed(2)}`).join('');
}

/** First and last index of each stretch of true. */
function runs(flags: readonly boolean[]): [number, number][] {
  const found: [number, number][] = [];
  flags.forEach((flag, i) => {
    if (flag && !flags[i - 1]) found.push([i, i]);
    else if (flag) found.at(-1)![1] = i;
  });
  return found;
}
