import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { type Band, CUT_RISE, FIRM_RISE } from '@hazy-lens/core';
import { Engine } from '../engine/engine';
import { contourSteps } from '../stage/contours';
import { FieldView } from '../stage/field-view';
import { StageView } from '../stage/stage-view';
import { Document } from '../state/document';
import { Workspace } from '../state/workspace';
import { Moves } from '../ui/moves';
import { arrowOf, factor } from '../ui/keys';
import { NumberField } from '../ui/number-field';
import {
  type KnotMove,
  type RailKnot,
  addKnot,
  axisExtent,
  moveKnot,
  ownAlong,
  railAxis,
  railKnots,
  removeKnot,
} from './rail-axis';

const [LEFT, RIGHT] = [12, 74];
const SAMPLES = 240;
const SWAY = 4;

interface ShownKnot extends RailKnot {
  x: number;
  y: number;
  text: string;
}

/**
 * The cross-section of the field, beside the picture like the height profile beside a map: down the rail is along the
 * band's normal, its gradient or a ray, to the right is more blur. Its knots are the contours' values.
 */
@Component({
  selector: 'hl-profile-rail',
  imports: [NumberField],
  template: `
    <section aria-label="Profile of the field">
      <h2>Profile</h2>
      @if (isRound()) {
        <hl-number
          class="ray"
          label="ray"
          name="Direction of the profile's ray"
          unit="°"
          [min]="-360"
          [max]="360"
          [initial]="90"
          [value]="workspace.rayAngle()"
          (changed)="workspace.rayAngle.set($event.value)"
        />
      }
      <svg
        class="chart"
        width="84"
        [attr.height]="height()"
        role="presentation"
        (pointermove)="move($event)"
        (pointerrawupdate)="move($event)"
        (pointerup)="end()"
        (pointercancel)="end()"
        (dblclick)="add($event)"
      >
        @if (curve(); as shape) {
          <defs>
            <clipPath id="hl-rail-near">
              <rect x="0" [attr.y]="shape.nearTop" width="84" [attr.height]="shape.nearHeight" />
            </clipPath>
            <clipPath id="hl-rail-far">
              <rect x="0" [attr.y]="shape.farTop" width="84" [attr.height]="shape.farHeight" />
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
        }
        @for (knot of knots(); track knot.id) {
          <g
            class="knot"
            [class.near]="knot.side === 'near'"
            [class.far]="knot.side === 'far'"
            [class.own]="knot.own"
            role="slider"
            tabindex="0"
            [attr.data-knot]="knot.id"
            [attr.aria-label]="'Profile: ' + knot.name"
            [attr.aria-valuenow]="abs(knot.along).toFixed(0)"
            [attr.aria-valuetext]="knot.text"
            [attr.transform]="'translate(' + knot.x + ' ' + knot.y + ')'"
            (pointerdown)="start($event, knot.id)"
            (keydown)="key($event, knot)"
            (dblclick)="remove($event, knot)"
          >
            <rect class="hit" x="-12" y="-10" width="24" height="20" />
            @if (knot.own) {
              <rect class="mark" x="-2.5" y="-4" width="5" height="8" rx="1.5" />
            } @else {
              <rect class="mark" x="-3" y="-6.5" width="6" height="13" rx="1.5" />
            }
            <title>{{ knot.text }}</title>
          </g>
        }
      </svg>
      @if (seam(); as steepest) {
        <p
          class="seam-note"
          title="Where the blur sets in fastest: pixels of blur a pixel of picture. Soft below {{
            firm
          }}, a cut edge from {{ cut }}"
        >
          <b>{{ steepest.grade }}</b>{{ steepest.rise.toFixed(2) }} px/px
        </p>
      }
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
    .knot {
      cursor: move;
      outline: none;
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
    .ray {
      position: absolute;
      top: 26px;
      left: 6px;
      right: 4px;
      z-index: 1;
      --number-width: 19px;
      grid-template-columns: auto auto;
      gap: 0 3px;
      font-size: 11px;
    }
    .seam-note {
      position: absolute;
      left: 0;
      right: 0;
      bottom: 22px;
      text-align: center;
      font-size: 11px;
      line-height: 1.25;
      color: var(--ink-2);
      background: var(--paper);
      padding: 4px 0;
    }
    .seam-note b {
      display: block;
      font-weight: 600;
      color: var(--ink);
    }
    .knot.own .mark {
      fill: var(--ink-2);
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
  protected readonly workspace = inject(Workspace);
  private readonly stageView = inject(StageView);
  private readonly fieldView = inject(FieldView);
  private readonly engine = inject(Engine);
  protected readonly abs = Math.abs;
  protected readonly left = LEFT;
  protected readonly right = RIGHT;
  protected readonly firm = FIRM_RISE;
  protected readonly cut = CUT_RISE;
  protected readonly height = computed(() => this.stageView.stage().height);
  /** Blur radius at the right end of the rail, in pixels of the picture. */
  private readonly mostPx = computed(() => Math.max(0.001, this.document.radiusPx()));
  protected readonly most = computed(() => this.document.radiusPx().toFixed(0));
  protected readonly ticks = computed(() =>
    contourSteps(this.document.radiusPx()).map((px) => ({ px, x: this.xOf(px / this.mostPx()) })),
  );
  protected readonly seam = computed(() =>
    this.document.isOpen() && this.document.radiusPx() > 0 ? this.fieldView.seam() : null,
  );
  private drag: { start: Band; x: number; y: number; id: string; gesture: string } | null = null;
  private readonly moves = new Moves();

  protected readonly isRound = computed(() => {
    const kind = this.workspace.profileBand()?.kind;
    return kind === 'elliptical' || kind === 'iris';
  });

  /** Without a band the profile runs down the middle of the picture. */
  private readonly axis = computed(() => {
    const band = this.workspace.profileBand();
    const size = this.document.size();
    if (band) return railAxis(band, size, this.workspace.rayAngle());
    const origin = { x: size.width / 2, y: size.height / 2 };
    return { origin, direction: { x: 0, y: 1 }, sense: 1 as const };
  });

  /** Screen y of a place along the axis; the axis' origin is level with the picture's. */
  private readonly scale = computed(() => {
    const { zoom, y } = this.stageView.view();
    return { middle: this.axis().origin.y * zoom + y, perPixel: zoom };
  });

  protected readonly curve = computed(() => {
    if (!this.document.isOpen()) return null;
    const size = this.document.size();
    const band = this.workspace.profileBand();
    const axis = this.axis();
    const field = this.fieldView.calmField();
    const { middle, perPixel } = this.scale();
    const [first, last] = axisExtent(axis, size);
    const points = Array.from({ length: SAMPLES + 1 }, (_, i) => {
      const along = first + ((last - first) * i) / SAMPLES;
      const haze = field(axis.origin.x + axis.direction.x * along, axis.origin.y + axis.direction.y * along);
      return { along, haze, x: this.xOf(haze), y: middle + along * perPixel };
    });
    const line = path(points);
    const [top, bottom] = [points[0]!.y, points.at(-1)!.y];
    const { bands, ink, keep, soundings, depth } = this.fieldView.calmLook();
    const alone = bands.length <= 1 && ink.length === 0 && !keep && soundings.length === 0 && !depth;
    const own = band?.on && !alone ? ownAlong(band, size, axis) : null;
    const step = (last - first) / SAMPLES;
    const steep = points
      .slice(1)
      .map((p, i) => (Math.abs(p.haze - points[i]!.haze) * this.document.radiusPx()) / step > CUT_RISE);
    // The near side lies below the line, unless the band's own direction is up; other kinds have one side.
    const nearIs = band?.kind === 'planar' ? (axis.sense === 1 ? 'below' : 'above') : 'nowhere';
    const high = this.height();
    const below = { top: middle, height: Math.max(0, high - middle) };
    const above = { top: 0, height: Math.max(0, Math.min(high, middle)) };
    const near = nearIs === 'below' ? below : nearIs === 'above' ? above : { top: 0, height: 0 };
    const far = nearIs === 'below' ? above : nearIs === 'above' ? below : { top: 0, height: high };
    return {
      middle,
      top,
      bottom,
      line,
      nearTop: near.top,
      nearHeight: near.height,
      farTop: far.top,
      farHeight: far.height,
      area: `${line}L${LEFT} ${bottom}L${LEFT} ${top}Z`,
      own: own ? path(points.map(({ along, y }) => ({ x: this.xOf(own(along)), y }))) : null,
      seams: runs(steep).map(([from, to]) =>
        path(points.slice(from, to + 2).map((p) => ({ x: p.x + 4, y: p.y }))),
      ),
    };
  });

  protected readonly knots = computed<ShownKnot[]>(() => {
    const band = this.workspace.profileBand();
    if (!band?.on || !this.document.isOpen()) return [];
    const { middle, perPixel } = this.scale();
    return railKnots(band, this.document.size(), this.axis()).map((knot) => ({
      ...knot,
      x: this.xOf(knot.haze),
      y: middle + knot.along * perPixel,
      text: `${Math.abs(knot.along).toFixed(0)} px out, ${(knot.haze * this.document.radiusPx()).toFixed(0)} px of blur`,
    }));
  });

  protected start(event: PointerEvent, id: string): void {
    const shown = this.workspace.profileBand();
    const band = this.document.recipe().focus.bands.find(({ id: own }) => own === shown?.id);
    if (event.button !== 0 || !band) return;
    event.preventDefault();
    const knot = event.currentTarget as SVGGElement;
    knot.focus({ preventScroll: true });
    knot.setPointerCapture(event.pointerId);
    this.document.hand.set(true);
    this.drag = { id, start: band, x: event.clientX, y: event.clientY, gesture: crypto.randomUUID() };
  }

  protected move(raw: Event): void {
    const event = raw as PointerEvent;
    const { drag } = this;
    if (!drag || !this.moves.isNew(event, this.engine.isAnswering)) return;
    const along = (event.clientY - drag.y) / this.scale().perPixel;
    // A hand that goes up and down sways a little: that is no change of haze.
    const sideways = event.clientX - drag.x;
    const meant = Math.sign(sideways) * Math.max(0, Math.abs(sideways) - SWAY);
    this.apply(drag.start, drag.id, along, meant / (RIGHT - LEFT), drag.gesture);
  }

  protected end(): void {
    this.document.hand.set(false);
    this.drag = null;
  }

  protected key(event: KeyboardEvent, knot: RailKnot): void {
    const band = this.workspace.profileBand();
    if (!band) return;
    if (event.key === 'Delete' || event.key === 'Backspace') {
      this.remove(event, knot);
      return;
    }
    const step = arrowOf(event);
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const by = factor(event);
    this.apply(band, knot.id, step[1] * by, step[0] * by * 0.01, null);
  }

  /** A double click on the rail adds a knot to the profile. */
  protected add(event: MouseEvent): void {
    const band = this.workspace.profileBand();
    if (!band) return;
    const { middle, perPixel } = this.scale();
    const box = (event.currentTarget as Element).getBoundingClientRect();
    const along = (event.clientY - box.top - middle) / perPixel;
    const haze = (event.clientX - box.left - LEFT) / (RIGHT - LEFT);
    const [size, axis] = [this.document.size(), this.axis()];
    this.document.editBand(band.id, 'knot of the profile', (one) => addKnot(one, size, axis, along, haze));
  }

  protected remove(event: Event, knot: RailKnot): void {
    if (!knot.own) return;
    event.preventDefault();
    event.stopPropagation();
    const band = this.workspace.profileBand();
    if (band) this.document.editBand(band.id, 'delete knot', (one) => removeKnot(one, knot.id));
  }

  private apply(start: Band, id: string, along: number, haze: number, gesture: string | null): void {
    const linked = start.kind === 'iris' ? this.workspace.linkFalloffs() : this.workspace.linkSides();
    const move: KnotMove = { id, along, haze, linked };
    const [size, axis] = [
      this.document.size(),
      railAxis(start, this.document.size(), this.workspace.rayAngle()),
    ];
    this.document.editBand(
      start.id,
      `profile: ${
        this.knots()
          .find((knot) => knot.id === id)
          ?.name.toLowerCase() ?? 'knot'
      }`,
      (band) => moveKnot(band, start, size, axis, move),
      gesture,
    );
  }

  private xOf(haze: number): number {
    return LEFT + haze * (RIGHT - LEFT);
  }
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
