import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import {
  type Lens,
  type RecipePath,
  aperturePoints,
  discLight,
  fromLinear,
  numberSpecAt,
  displayRange,
} from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { Drag, type DragStart } from '../../ui/drag';
import { arrowOf, stepMultiplier } from '../../ui/arrow-keys';
import { blurWords } from '../../words/blur';

const SIZE = 200;
/** Radius of a disc that is not squeezed, in pixels of the drawing; one that is may have to be drawn smaller. */
const MAX_RADIUS = 70;
/** How far beyond the outline the turn has its tab, as a share of the radius; and what is left to the rim. */
const TURN_BEYOND = 0.28;
const RIM = 8;
/** How bright an even disc is drawn: one with a rim gets brighter in places. */
const LEVEL = 0.55;
/** Discs of the picture's corners, where a barrel cuts them: their radius, and their middles from the drawing's, across and down. */
const CORNER = { radius: 13, at: 82, from: 66 };

type GripName = 'rotation' | 'roundness' | 'squeeze';

interface Grip {
  name: GripName;
  x: number;
  y: number;
  label: string;
  value: number;
  says: string;
  min: number;
  max: number;
}

/** The aperture drawn large, as a point of light shows it, and shaped by hand: turned beside its corner, rounded at a side, squeezed. */
@Component({
  selector: 'hl-aperture-bench',
  imports: [Drag],
  template: `
    <canvas #canvas width="${SIZE}" height="${SIZE}" role="img" [attr.aria-label]="says()"></canvas>
    @for (grip of grips(); track grip.name) {
      <button
        type="button"
        role="slider"
        [class]="grip.name"
        [style.left.px]="grip.x"
        [style.top.px]="grip.y"
        [attr.aria-label]="grip.label"
        [attr.aria-valuemin]="grip.min"
        [attr.aria-valuemax]="grip.max"
        [attr.aria-valuenow]="grip.value"
        [attr.aria-valuetext]="grip.says"
        [hlDrag]="dragOf(grip.name)"
        (keydown)="key(grip, $event)"
      ></button>
    }
  `,
  styles: `
    :host {
      display: block;
      position: relative;
      width: ${SIZE}px;
      height: ${SIZE}px;
      margin: 4px auto 8px;
    }
    canvas {
      display: block;
      border-radius: 6px;
      box-shadow: 0 0 0 1px var(--line-strong);
    }
    button {
      position: absolute;
      width: 10px;
      height: 19px;
      margin: -9.5px 0 0 -5px;
      padding: 0;
      border: 1.5px solid rgb(12 14 20 / 0.8);
      border-radius: 3px 3px 1px 1px;
      background: #fff;
      cursor: move;
    }
    button:hover,
    button:focus-visible {
      outline: 2px solid #fff;
    }
    .rotation {
      height: 11px;
      margin-top: -5.5px;
      border-radius: 6px 6px 1px 1px;
      cursor: alias;
    }
    .squeeze {
      cursor: ew-resize;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ApertureBench {
  private readonly project = inject(OpenProject);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly lens = computed(() => this.project.recipe().blur.lens);
  /** So large that the widest place of the outline, and the turn's tab beyond it, are inside the drawing. */
  private readonly radius = computed(() => {
    const widest = Math.max(...aperturePoints(this.lens(), 64).map(([x, y]) => Math.hypot(x, y)));
    return Math.min(MAX_RADIUS, (SIZE / 2 - RIM) / (widest + TURN_BEYOND));
  });

  protected readonly says = computed(() => {
    const { blades, squeeze } = this.lens();
    const shape = blades === 0 ? 'round' : blurWords.blades(blades);
    return blurWords.aperture(shape, squeeze === 1 ? '' : blurWords.squeeze(squeeze.toFixed(2)));
  });

  /** Where a place of the aperture's own frame, (1, 0) along its x axis, lies in the drawing. */
  protected readonly grips = computed<Grip[]>(() => {
    const lens = this.lens();
    const at = (degrees: number, far: number): { x: number; y: number } => {
      const a = (degrees * Math.PI) / 180;
      const way = this.radius() * far;
      return { x: SIZE / 2 + way * Math.cos(a), y: SIZE / 2 + way * Math.sin(a) };
    };
    const grip = (name: GripName, place: { x: number; y: number }): Grip => {
      const range = displayRange(this.spec(name), this.project.size());
      const value = lens[name] * range.scale;
      const [min, max] = range.slider;
      const says = `${value.toFixed(range.decimals)} ${range.unit}`;
      return { name, ...place, label: range.spoken, value, says, min, max };
    };
    // The turn has its tab beyond the outline, the squeeze on the far side along the same axis.
    const along = Math.sqrt(lens.squeeze);
    const grips = [
      grip('rotation', at(lens.rotation, along + TURN_BEYOND)),
      grip('squeeze', at(lens.rotation + 180, along)),
    ];
    if (lens.blades >= 3) {
      const side = Math.cos(Math.PI / lens.blades) * (1 - lens.roundness) + lens.roundness;
      grips.push(grip('roundness', this.onSide(lens, side)));
    }
    return grips;
  });

  constructor() {
    effect(() => this.draw(this.lens()));
  }

  private spec(name: GripName) {
    return numberSpecAt(this.project.calmRecipe(), this.path(name));
  }

  private path(name: GripName): RecipePath {
    return ['blur', 'lens', name];
  }

  /** The middle of the side after the corner on the x axis, so far from the middle. */
  private onSide({ blades, rotation, squeeze }: Lens, far: number): { x: number; y: number } {
    const theta = Math.PI / blades;
    const a = (rotation * Math.PI) / 180;
    const [p, q] = [far * Math.cos(theta) * Math.sqrt(squeeze), (far * Math.sin(theta)) / Math.sqrt(squeeze)];
    return {
      x: SIZE / 2 + this.radius() * (p * Math.cos(a) - q * Math.sin(a)),
      y: SIZE / 2 + this.radius() * (p * Math.sin(a) + q * Math.cos(a)),
    };
  }

  private draw(lens: Lens): void {
    const context = this.canvas().nativeElement.getContext('2d')!;
    const image = context.createImageData(SIZE, SIZE);
    const light = discLight(lens, this.radius());
    const corners = [-1, 1].flatMap((y) =>
      [-1, 1].map((x) =>
        discLight(lens, CORNER.radius, [x * lens.cat * Math.SQRT1_2, y * lens.cat * Math.SQRT1_2]),
      ),
    );
    for (let i = 0; i < SIZE * SIZE; i++) {
      const [x, y] = [(i % SIZE) - SIZE / 2 + 0.5, Math.floor(i / SIZE) - SIZE / 2 + 0.5];
      const isCorner = lens.cat > 0 && Math.min(Math.abs(x), Math.abs(y)) > CORNER.from;
      const rgb = isCorner
        ? corners[(y > 0 ? 2 : 0) + (x > 0 ? 1 : 0)]!(
            x - Math.sign(x) * CORNER.at,
            y - Math.sign(y) * CORNER.at,
          )
        : light(x, y);
      for (let c = 0; c < 3; c++)
        image.data[4 * i + c] = 255 * fromLinear(0.012 + Math.min(0.98, LEVEL * rgb[c]!));
      image.data[4 * i + 3] = 255;
    }
    context.putImageData(image, 0, 0);
  }

  protected dragOf(name: GripName): DragStart {
    return (event) => {
      const gesture = crypto.randomUUID();
      const box = this.canvas().nativeElement.getBoundingClientRect();
      const start = this.lens();
      const radius = this.radius();
      const from = { x: event.clientX, y: event.clientY };
      return {
        move: ({ clientX, clientY, shiftKey }) => {
          const x = clientX - box.left - SIZE / 2;
          const y = clientY - box.top - SIZE / 2;
          const a = (start.rotation * Math.PI) / 180;
          // How far the hand went along the aperture's own x axis, outwards on the squeeze's side.
          const out = -((clientX - from.x) * Math.cos(a) + (clientY - from.y) * Math.sin(a)) / radius;
          if (name === 'rotation') {
            const turned = (Math.atan2(y, x) * 180) / Math.PI;
            this.put(name, shiftKey ? Math.round(turned / 15) * 15 : turned, gesture);
          } else if (name === 'squeeze') this.put(name, (Math.sqrt(start.squeeze) + out) ** 2, gesture);
          else {
            const grip = this.onSide(start, 1);
            const full = Math.hypot(grip.x - SIZE / 2, grip.y - SIZE / 2);
            const flat = Math.cos(Math.PI / start.blades);
            this.put(name, (Math.hypot(x, y) / full - flat) / (1 - flat), gesture);
          }
        },
        cancel: () => this.project.abandon(gesture),
      };
    };
  }

  protected key({ name }: Grip, event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (!arrow) return;
    event.preventDefault();
    const range = displayRange(this.spec(name), this.project.size());
    const step = ((arrow[0] - arrow[1]) * range.step * stepMultiplier(event)) / range.scale;
    this.put(name, this.lens()[name] + step, null);
  }

  private put(name: GripName, value: number, gesture: string | null): void {
    const { min, max, spoken, label } = this.spec(name);
    const held = Math.min(max, Math.max(min, value));
    this.project.edit((spoken ?? label).toLowerCase(), ({ blur }) => void (blur.lens[name] = held), gesture);
  }
}
