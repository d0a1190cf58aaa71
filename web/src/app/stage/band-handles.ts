import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { type Band, planarDistance } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { SelectionStore } from '../workspace/selection-store';
import { ToolStore } from '../workspace/tool-store';
import { bandName } from '../model/bands';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { FieldView } from './field-view';
import type { Grip, Spot } from './handles/handles';
import { handlesOf } from './handles/handles-of';
import { type OverlayScene, paintOverlay } from './overlay-paint';
import { type StageDrag, handOf } from './stage-drag';
import { Viewport } from '../workspace/viewport';
import { stageWords } from '../words/stage';

/** How far grips keep from the rim of the stage. */
const RIM = 26;
/** How near a line a hand has to be to take it. */
const REACH = 8;

/** The contours of the field on the picture, and the grips of the band in hand on them. */
@Component({
  selector: 'hl-band-handles',
  imports: [Drag],
  template: `
    <canvas #overlay aria-hidden="true"></canvas>
    @for (grip of grips(); track grip.id) {
      <div
        class="grip"
        [class]="grip.look"
        [class.turn]="grip.turns"
        role="slider"
        tabindex="0"
        [attr.data-grip]="grip.id"
        [attr.aria-label]="words.gripOfBand(grip.name, name())"
        [attr.aria-valuemin]="grip.range[0].toFixed(0)"
        [attr.aria-valuemax]="grip.range[1].toFixed(0)"
        [attr.aria-valuenow]="grip.value.toFixed(1)"
        [attr.aria-valuetext]="grip.text"
        [style.transform]="'translate(' + grip.x + 'px, ' + grip.y + 'px)'"
        [hlDrag]="grasp"
        (keydown)="key($event, grip.id)"
        (focus)="focused.set(grip.id)"
        (blur)="focused.set(null)"
      >
        <span class="tab"></span>
        @if (moving() === grip.id || focused() === grip.id) {
          <span class="says">{{ grip.text }}</span>
        }
      </div>
    }
  `,
  styleUrl: './band-handles.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BandHandles {
  protected readonly words = stageWords;
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  private readonly viewport = inject(Viewport);
  private readonly fieldView = inject(FieldView);
  private readonly overlay = viewChild.required<ElementRef<HTMLCanvasElement>>('overlay');
  /** The grip in motion or in focus: it shows its label. */
  protected readonly moving = signal<string | null>(null);
  protected readonly focused = signal<string | null>(null);

  /** The band in hand, where it is part of the field. */
  private readonly band = computed(() => {
    const band = this.selection.seenBand();
    return band?.on ? band : null;
  });
  protected readonly name = computed(() => {
    const band = this.band();
    return band ? bandName(band, this.selection.calmFocus()) : '';
  });

  private readonly outlines = computed(() => {
    const band = this.band();
    return band ? handlesOf(band).outlines(band, this.project.size()) : [];
  });

  /** The main outline of each other band. */
  private readonly others = computed(() => {
    const size = this.project.size();
    return this.selection
      .seenFocus()
      .bands.flatMap((band) =>
        band.on && band.id !== this.band()?.id
          ? [{ band, outline: handlesOf(band).outlines(band, size).at(-1)! }]
          : [],
      );
  });

  protected readonly grips = computed<Grip[]>(() => {
    const band = this.band();
    if (!band) return [];
    const { width, height } = this.viewport.stage();
    const sight = ([[RIM, RIM], [width - RIM, RIM], [width - RIM, height - RIM], [RIM, height - RIM]] as const).map(
      ([x, y]) => this.viewport.toPicture(x, y),
    ); // prettier-ignore
    return handlesOf(band)
      .grips(band, this.project.size(), sight)
      .map((grip) => ({ ...grip, ...this.viewport.toStage(grip.x, grip.y) }));
  });

  /** The part of the stage that the picture covers: the overlay is no larger. */
  private readonly sheet = computed(
    () => {
      const { x, y, zoom } = this.viewport.view();
      const size = this.viewport.sheet();
      const stage = this.viewport.stage();
      const [left, top] = [Math.max(0, Math.floor(x)), Math.max(0, Math.floor(y))];
      const right = Math.min(stage.width, Math.ceil(x + size.width * zoom));
      const bottom = Math.min(stage.height, Math.ceil(y + size.height * zoom));
      return { left, top, width: Math.max(1, right - left), height: Math.max(1, bottom - top) };
    },
    {
      equal: (a, b) => a.left === b.left && a.top === b.top && a.width === b.width && a.height === b.height,
    },
  );

  private readonly scene = computed<OverlayScene>(() => {
    const size = this.project.size();
    const { zoom, x, y } = this.viewport.view();
    const sheet = this.viewport.sheet();
    const band = this.selection.seenBand() ?? this.selection.profileBand();
    const sideOf =
      band?.kind === 'planar'
        ? (spot: Spot) => (planarDistance(band, size, spot.x, spot.y) >= 0 ? 'near' : 'far')
        : band
          ? () => 'far' as const
          : () => 'none' as const;
    return {
      toStage: (spot) => this.viewport.toStage(spot.x, spot.y),
      frame: { x, y, width: sheet.width * zoom, height: sheet.height * zoom },
      contours: this.fieldView.contours(),
      sideOf,
      outlines: this.outlines(),
      others: this.others().map(({ outline }) => outline),
      seam: this.fieldView.seam(),
      stage: this.viewport.stage(),
    };
  });

  constructor() {
    effect(() => {
      const canvas = this.overlay().nativeElement;
      const { left, top, width, height } = this.sheet();
      const ratio = this.viewport.pixelRatio();
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
      Object.assign(canvas.style, {
        left: `${left}px`,
        top: `${top}px`,
        width: `${width}px`,
        height: `${height}px`,
      });
    });
    effect(() => {
      const scene = this.scene();
      const context = this.overlay().nativeElement.getContext('2d')!;
      const ratio = this.viewport.pixelRatio();
      const { left, top } = this.sheet();
      context.setTransform(ratio, 0, 0, ratio, -left * ratio, -top * ratio);
      paintOverlay(context, scene);
    });
  }

  /** What a hand at a place of the stage would take: a line of the band in hand, or another band. */
  hit(at: Spot): { grip: string } | { band: Band } | null {
    const own = this.nearestLine(
      this.outlines().map(({ grip, points }) => ({ points, grip })),
      at,
    );
    if (own) return { grip: own.grip };
    const other = this.nearestLine(
      this.others().map(({ band, outline }) => ({ points: outline.points, band })),
      at,
    );
    return other ? { band: other.band } : null;
  }

  private nearestLine<T extends { points: readonly Spot[] }>(lines: readonly T[], at: Spot): T | null {
    let [best, least] = [null as T | null, REACH];
    for (const line of lines) {
      const spots = line.points.map(({ x, y }) => this.viewport.toStage(x, y));
      for (let i = 1; i < spots.length; i++) {
        const far = distanceToSegment(at, spots[i - 1]!, spots[i]!);
        if (far < least) [best, least] = [line, far];
      }
    }
    return best;
  }

  /** A drag of a line or a grip that begins at a place of the picture. */
  dragOf(grip: string, from: Spot): StageDrag | null {
    const start = this.selection.band();
    if (!start) return null;
    const gesture = crypto.randomUUID();
    const label = this.labelOf(grip);
    this.moving.set(grip);
    return {
      move: (to, event) => {
        const linked = start.kind === 'iris' ? this.settings.linkFalloffs() : this.settings.linkSides();
        this.project.editBand(
          start.id,
          label,
          (band) =>
            handlesOf(start).drag(band, start, this.project.size(), {
              grip,
              from,
              to,
              linked,
              stepped: event.shiftKey,
            }),
          gesture,
        );
      },
      end: () => this.moving.set(null),
      cancel: () => {
        this.moving.set(null);
        this.project.abandon(gesture);
      },
    };
  }

  /** What a grip moves, for the list of steps back; a rim has no grip of its own. */
  private labelOf(grip: string): string {
    return (
      this.grips()
        .find(({ id }) => id === grip)
        ?.name.toLowerCase() ?? grip
    );
  }

  protected readonly grasp: DragStart = (event) => {
    const grip = (event.currentTarget as HTMLElement).dataset['grip'];
    const drag = event.button === 0 && grip ? this.dragOf(grip, this.viewport.pictureAt(event)) : null;
    return drag && handOf(drag, this.viewport);
  };

  /** Arrow keys: one pixel of the picture, one degree or one percent; up and right grow a value. */
  protected key(event: KeyboardEvent, grip: string): void {
    const step = arrowOf(event);
    const band = this.band();
    if (!step || !band) return;
    event.preventDefault();
    event.stopPropagation();
    const by = stepMultiplier(event);
    const linked = band.kind === 'iris' ? this.settings.linkFalloffs() : this.settings.linkSides();
    this.project.editBand(band.id, this.labelOf(grip), (one) =>
      handlesOf(band).nudge(one, this.project.size(), grip, step[0] * by, step[1] * by, linked),
    );
  }
}

function distanceToSegment(at: Spot, a: Spot, b: Spot): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const square = dx * dx + dy * dy;
  const t = square === 0 ? 0 : Math.min(1, Math.max(0, ((at.x - a.x) * dx + (at.y - a.y) * dy) / square));
  return Math.hypot(at.x - a.x - t * dx, at.y - a.y - t * dy);
}
