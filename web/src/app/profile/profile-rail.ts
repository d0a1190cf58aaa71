import { ChangeDetectionStrategy, Component, ElementRef, computed, inject } from '@angular/core';
import { type Band, CUT_RISE, FIRM_RISE, type NumberRange } from '@hazy-lens/core';
import { contourSteps } from '../stage/contours';
import { FieldView } from '../stage/field-view';
import { Viewport } from '../workspace/viewport';
import { bandIn } from '../model/elements';
import { OpenProject } from '../project/session/open-project';
import { ViewStore } from '../workspace/view-store';
import { SelectionStore } from '../workspace/selection-store';
import { ToolStore } from '../workspace/tool-store';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { NumberField, plainRange } from '../ui/number-field';
import { LEFT, RIGHT, railCurve, xOf } from './rail-curve';
import { ScaleGauge } from './scale-gauge';
import {
  type KnotMove,
  type RailKnot,
  addKnot,
  axisExtent,
  moveKnot,
  railAxis,
  railKnots,
  removeKnot,
} from './rail-axis';
import { profileWords } from '../words/profile';

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
  imports: [Drag, NumberField, ScaleGauge],
  template: `
    <section [aria-label]="words.profileOfTheField">
      <h2>{{ words.profile }}</h2>
      @if (isRound()) {
        <hl-number
          class="ray"
          [range]="ray"
          [label]="words.direction"
          [value]="viewStore.rayAngle()"
          (changed)="viewStore.set({ rayAngle: $event.value })"
        />
      }
      <svg
        class="chart"
        width="84"
        [attr.height]="height()"
        [style.translate]="'0 ' + below() + 'px'"
        role="presentation"
        (dblclick)="add($event)"
      >
        @if (curve(); as shape) {
          <defs>
            <clipPath id="hl-rail-near">
              <rect x="0" [attr.y]="shape.near.top" width="84" [attr.height]="shape.near.height" />
            </clipPath>
            <clipPath id="hl-rail-far">
              <rect x="0" [attr.y]="shape.far.top" width="84" [attr.height]="shape.far.height" />
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
              <title>{{ words.steepTheBlurStartsAbruptly }}</title>
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
            [attr.aria-label]="words.profileNamed(knot.name)"
            aria-valuemin="0"
            [attr.aria-valuemax]="reach().toFixed(0)"
            [attr.aria-valuenow]="abs(knot.along).toFixed(0)"
            [attr.aria-valuetext]="knot.text"
            [attr.transform]="'translate(' + knot.x + ' ' + knot.y + ')'"
            [hlDrag]="grasp"
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
      @if (viewStore.step() === 'focus') {
        <hl-scale-gauge class="gauge" />
      }
      @if (seam(); as steepest) {
        <p class="seam-note" [title]="words.whereTheBlurSets(firm, cut)">
          <b>{{ steepest.grade }}</b>{{ steepest.rise.toFixed(2) }} px/px
        </p>
      }
      <footer aria-hidden="true">
        <span>0</span><span>{{ most() }} px</span>
      </footer>
    </section>
  `,
  styleUrl: './profile-rail.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProfileRail {
  protected readonly words = profileWords;
  private readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  private readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  private readonly viewport = inject(Viewport);
  private readonly fieldView = inject(FieldView);
  protected readonly abs = Math.abs;
  protected readonly left = LEFT;
  protected readonly right = RIGHT;
  protected readonly firm = FIRM_RISE;
  protected readonly cut = CUT_RISE;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  /** How much lower than the rail the stage begins, where it is one of several views. */
  protected readonly below = computed(() => {
    this.viewport.stage();
    return Math.max(0, this.viewport.origin().top - this.host.getBoundingClientRect().top);
  });
  protected readonly height = computed(() => this.viewport.stage().height);
  /** Blur radius at the right end of the rail, in pixels of the picture. */
  private readonly mostPx = computed(() => Math.max(0.001, this.project.radiusPx()));
  protected readonly most = computed(() => this.project.radiusPx().toFixed(0));
  protected readonly ticks = computed(() =>
    contourSteps(this.project.radiusPx()).map((px) => ({ px, x: xOf(px / this.mostPx()) })),
  );
  protected readonly seam = computed(() =>
    this.project.isOpen() && this.project.radiusPx() > 0 ? this.fieldView.seam() : null,
  );
  protected readonly ray: NumberRange = {
    ...plainRange(profileWords.direction, '°', -360, 360, 90),
    spoken: profileWords.profileDirection,
  };

  protected readonly isRound = computed(() => {
    const kind = this.selection.profileBand()?.kind;
    return kind === 'elliptical' || kind === 'iris';
  });

  /** Without a band the profile runs down the middle of the picture. */
  private readonly axis = computed(() => {
    const band = this.selection.profileBand();
    const size = this.project.size();
    if (band) return railAxis(band, size, this.viewStore.rayAngle());
    const origin = { x: size.width / 2, y: size.height / 2 };
    return { origin, direction: { x: 0, y: 1 }, sense: 1 as const };
  });

  /** Screen y of a place along the axis; the axis' origin is level with the picture's. */
  private readonly scale = computed(() => {
    const { origin } = this.axis();
    return {
      middle: this.viewport.toStage(origin.x, origin.y).y,
      perPixel: this.viewport.view().zoom,
    };
  });

  /** How far from the rail's zero the picture reaches, in its pixels. */
  protected readonly reach = computed(() =>
    Math.max(...axisExtent(this.axis(), this.project.size()).map(Math.abs)),
  );

  protected readonly curve = computed(() => {
    if (!this.project.isOpen()) return null;
    const { bands, strokes, keep, soundings, depth } = this.fieldView.calmLook();
    const isAlone = bands.length <= 1 && strokes.length === 0 && !keep && soundings.length === 0 && !depth;
    const band = this.selection.profileBand();
    return railCurve({
      axis: this.axis(),
      size: this.project.size(),
      field: this.fieldView.calmField(),
      radiusPx: this.project.radiusPx(),
      scale: this.scale(),
      height: this.height(),
      band,
      showsOwn: band?.on === true && !isAlone,
    });
  });

  protected readonly knots = computed<ShownKnot[]>(() => {
    const band = this.selection.profileBand();
    if (!band?.on || !this.project.isOpen()) return [];
    const { middle, perPixel } = this.scale();
    return railKnots(band, this.project.size(), this.axis()).map((knot) => ({
      ...knot,
      x: xOf(knot.haze),
      y: middle + knot.along * perPixel,
      text: profileWords.pxOutPxOfBlur(
        Math.abs(knot.along).toFixed(0),
        (knot.haze * this.project.radiusPx()).toFixed(0),
      ),
    }));
  });

  protected readonly grasp: DragStart = (event) => {
    const id = (event.currentTarget as SVGGElement).dataset['knot']!;
    const shown = this.selection.profileBand();
    const start = bandIn(this.project.recipe(), shown?.id);
    if (event.button !== 0 || !start) return null;
    const gesture = crypto.randomUUID();
    return {
      move: (to) => {
        const along = (to.clientY - event.clientY) / this.scale().perPixel;
        // A hand that goes up and down sways a little: that is no change of haze.
        const sideways = to.clientX - event.clientX;
        const meant = Math.sign(sideways) * Math.max(0, Math.abs(sideways) - SWAY);
        this.apply(start, id, along, meant / (RIGHT - LEFT), gesture);
      },
      cancel: () => this.project.abandon(gesture),
    };
  };

  protected key(event: KeyboardEvent, knot: RailKnot): void {
    const band = this.selection.profileBand();
    if (!band) return;
    if (event.key === 'Delete' || event.key === 'Backspace') {
      this.remove(event, knot);
      return;
    }
    const step = arrowOf(event);
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const by = stepMultiplier(event);
    this.apply(band, knot.id, step[1] * by, step[0] * by * 0.01, null);
  }

  /** A double click on the rail adds a knot to the profile. */
  protected add(event: MouseEvent): void {
    const band = this.selection.profileBand();
    if (!band) return;
    const { middle, perPixel } = this.scale();
    const box = (event.currentTarget as Element).getBoundingClientRect();
    const along = (event.clientY - box.top - middle) / perPixel;
    const haze = (event.clientX - box.left - LEFT) / (RIGHT - LEFT);
    const [size, axis] = [this.project.size(), this.axis()];
    this.project.editBand(band.id, profileWords.knotOfTheProfile, (one) =>
      addKnot(one, size, axis, along, haze),
    );
  }

  protected remove(event: Event, knot: RailKnot): void {
    if (!knot.own) return;
    event.preventDefault();
    event.stopPropagation();
    const band = this.selection.profileBand();
    if (band) this.project.editBand(band.id, profileWords.deleteKnot, (one) => removeKnot(one, knot.id));
  }

  private apply(start: Band, id: string, along: number, haze: number, gesture: string | null): void {
    const linked = start.kind === 'iris' ? this.settings.linkFalloffs() : this.settings.linkSides();
    const move: KnotMove = { id, along, haze, linked };
    const [size, axis] = [
      this.project.size(),
      railAxis(start, this.project.size(), this.viewStore.rayAngle()),
    ];
    this.project.editBand(
      start.id,
      profileWords.profileNamedName(
        this.knots()
          .find((knot) => knot.id === id)
          ?.name.toLowerCase() ?? 'knot',
      ),
      (band) => moveKnot(band, start, size, axis, move),
      gesture,
    );
  }
}
