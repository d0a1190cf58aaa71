import { ChangeDetectionStrategy, Component, type ElementRef, effect, input, viewChild } from '@angular/core';
import { type Focus, type Size, hazeField, hazeRamp } from '@hazy-lens/core';

const RAMP = new Uint32Array(hazeRamp().buffer);
const [WIDTH, HEIGHT] = [42, 28];

/** A small haze map. */
@Component({
  selector: 'hl-field-thumb',
  template: `<canvas #canvas [width]="width" [height]="height" aria-hidden="true"></canvas>`,
  styles: `
    canvas {
      display: block;
      width: 36px;
      height: 24px;
      border-radius: 3px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldThumb {
  readonly focus = input.required<Focus>();
  readonly size = input.required<Size>();
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');

  constructor() {
    effect(() => {
      const { width, height } = this.size();
      const field = hazeField(this.focus(), this.size());
      const pixels = new ImageData(WIDTH, HEIGHT);
      const words = new Uint32Array(pixels.data.buffer);
      for (let i = 0; i < words.length; i++) {
        const haze = field(
          (((i % WIDTH) + 0.5) / WIDTH) * width,
          ((Math.floor(i / WIDTH) + 0.5) / HEIGHT) * height,
        );
        words[i] = RAMP[Math.round(haze * 1023)]!;
      }
      this.canvas().nativeElement.getContext('2d')!.putImageData(pixels, 0, 0);
    });
  }
}
