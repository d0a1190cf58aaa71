import { ChangeDetectionStrategy, Component, type ElementRef, effect, input, viewChild } from '@angular/core';
import { type LayerImage, fromLinear } from '@hazy-lens/core';

const [WIDTH, HEIGHT] = [60, 40];

/** A small picture of an element on the grey of the stage. */
@Component({
  selector: 'hl-element-thumb',
  template: `<canvas #canvas [width]="width" [height]="height" aria-hidden="true"></canvas>`,
  styles: `
    canvas {
      display: block;
      width: 30px;
      height: 20px;
      border-radius: 2px;
      background: var(--stage);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ElementThumb {
  readonly image = input.required<LayerImage | null>();
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');

  constructor() {
    effect(() => {
      const image = this.image();
      const context = this.canvas().nativeElement.getContext('2d')!;
      context.clearRect(0, 0, WIDTH, HEIGHT);
      if (image) context.putImageData(smallPicture(image), 0, 0);
    });
  }
}

/** All of an image within the canvas, in its middle. */
function smallPicture({ levels }: LayerImage): ImageData {
  const full = levels[0];
  const scale = Math.min(WIDTH / full.width, HEIGHT / full.height);
  const level = levels.filter(({ width }) => width >= full.width * scale).at(-1) ?? full;
  const [wide, tall] = [full.width * scale, full.height * scale];
  const out = new ImageData(WIDTH, HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const u = (x + 0.5 - (WIDTH - wide) / 2) / wide;
      const v = (y + 0.5 - (HEIGHT - tall) / 2) / tall;
      if (u < 0 || v < 0 || u >= 1 || v >= 1) continue;
      const from = 4 * (Math.floor(v * level.height) * level.width + Math.floor(u * level.width));
      const share = level.samples[from + 3]! / 65535;
      const at = 4 * (y * WIDTH + x);
      for (let c = 0; c < 3; c++)
        out.data[at + c] = share > 0 ? 255 * fromLinear(level.samples[from + c]! / 65535 / share) : 0;
      out.data[at + 3] = 255 * share;
    }
  return out;
}
