import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  input,
  viewChild,
} from '@angular/core';
import { type Recipe, fromLinear, fromOklab } from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { Drag, type DragStart } from '../../ui/drag';
import { arrowOf, stepMultiplier } from '../../ui/arrow-keys';
import { colourWords } from '../../words/colour';

export type Tone = keyof Recipe['colour']['balance'];

/** Shift at the edge of a plate. */
const MOST = 0.1;
const STEP = 0.002;
const SIZE = 72;
/** In the names of undo steps. */
const TONE_NAMES = { shadows: 'shadows', middle: 'midtones', lights: 'highlights' } as const;
/** Lightness that the plate of each tone is drawn at. */
const LIGHT: Record<Tone, number> = { shadows: 0.42, middle: 0.62, lights: 0.82 };

/** A shift of a range of tones in the plane of colours: greens to the left, reds to the right, blues below, yellows above. */
@Component({
  selector: 'hl-balance-plate',
  imports: [Drag],
  template: `
    <div
      class="plate"
      role="group"
      [attr.aria-label]="label()"
      [hlDrag]="grasp"
      (dblclick)="put([0, 0], null)"
    >
      <canvas #canvas width="${SIZE}" height="${SIZE}" aria-hidden="true"></canvas>
      <span
        class="tab"
        [style.left.%]="50 + (50 * shift()[0]) / most"
        [style.top.%]="50 - (50 * shift()[1]) / most"
      ></span>
      @for (axis of axes; track axis.label) {
        <span
          class="axis"
          [class.upright]="axis.index === 1"
          role="slider"
          tabindex="0"
          [attr.aria-label]="label() + ', ' + axis.label"
          [attr.aria-orientation]="axis.index === 1 ? 'vertical' : 'horizontal'"
          aria-valuemin="-100"
          aria-valuemax="100"
          [attr.aria-valuenow]="round(shift()[axis.index])"
          [attr.aria-valuetext]="says()"
          (keydown)="key($event)"
        ></span>
      }
    </div>
    <span class="name">{{ label() }}</span>
  `,
  styles: `
    .plate {
      position: relative;
      aspect-ratio: 1;
      border-radius: 6px;
      cursor: crosshair;
    }
    canvas {
      display: block;
      width: 100%;
      height: 100%;
      border-radius: 6px;
    }
    .tab {
      position: absolute;
      width: 9px;
      height: 15px;
      translate: -50% -50%;
      border-radius: 3px;
      background: #fff;
      box-shadow: 0 0 0 1.5px rgb(12 14 20 / 0.75);
      pointer-events: none;
    }
    /* One for the keyboard along each edge; the hand takes the plate itself. */
    .axis {
      position: absolute;
      inset: auto 6px -1px;
      height: 3px;
      border-radius: 2px;
      pointer-events: none;
    }
    .axis.upright {
      inset: 6px auto 6px -1px;
      width: 3px;
      height: auto;
    }
    .axis:focus-visible {
      background: var(--focus);
    }
    .name {
      display: block;
      margin-top: 4px;
      text-align: center;
      font-size: 11.5px;
      color: var(--ink-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BalancePlate {
  readonly tone = input.required<Tone>();
  readonly label = input.required<string>();
  private readonly project = inject(OpenProject);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly most = MOST;
  protected readonly shift = computed(() => this.project.recipe().colour.balance[this.tone()]);
  protected readonly axes = [
    { index: 0, label: colourWords.greenToRed },
    { index: 1, label: colourWords.blueToYellow },
  ] as const;
  protected readonly round = (value: number): number => Math.round((value / MOST) * 100);
  protected readonly says = computed(() => {
    const [a, b] = this.shift().map((value) => this.round(value)) as [number, number];
    const words = [
      ...(a === 0 ? [] : [colourWords.towardsHue(Math.abs(a), a > 0 ? 'red' : 'green')]),
      ...(b === 0 ? [] : [colourWords.towardsHue(Math.abs(b), b > 0 ? 'yellow' : 'blue')]),
    ];
    return words.length > 0 ? words.join(', ') : colourWords.asItIs;
  });

  constructor() {
    effect(() => {
      const light = LIGHT[this.tone()];
      const image = new ImageData(SIZE, SIZE);
      for (let i = 0; i < SIZE * SIZE; i++) {
        const a = ((i % SIZE) / (SIZE - 1) - 0.5) * 2 * MOST;
        const b = (0.5 - Math.floor(i / SIZE) / (SIZE - 1)) * 2 * MOST;
        const rgb = fromOklab([light, a, b]).map((v) => fromLinear(Math.min(1, Math.max(0, v))) * 255);
        image.data.set([...rgb, 255], i * 4);
      }
      this.canvas().nativeElement.getContext('2d')!.putImageData(image, 0, 0);
    });
  }

  protected readonly grasp: DragStart = (event) => {
    if (event.button !== 0) return null;
    const gesture = crypto.randomUUID();
    const box = (event.currentTarget as Element).getBoundingClientRect();
    const move = ({ clientX, clientY }: PointerEvent): void =>
      this.put(
        [
          ((clientX - box.left) / box.width - 0.5) * 2 * MOST,
          (0.5 - (clientY - box.top) / box.height) * 2 * MOST,
        ],
        gesture,
      );
    return { move, cancel: () => this.project.abandon(gesture) };
  };

  protected key(event: KeyboardEvent): void {
    const step = arrowOf(event);
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const by = STEP * stepMultiplier(event);
    const [a, b] = this.shift();
    this.put([a + step[0] * by, b - step[1] * by], null);
  }

  protected put([a, b]: readonly [number, number], gesture: string | null): void {
    const held = (value: number): number => Math.min(MOST, Math.max(-MOST, value));
    const tone = this.tone();
    this.project.edit(
      colourWords.balance(TONE_NAMES[tone]),
      ({ colour }) => void (colour.balance[tone] = [held(a), held(b)]),
      gesture,
    );
  }
}
