import { ChangeDetectionStrategy, Component, type ElementRef, effect, input, viewChild } from '@angular/core';
import { type ResolvedFocus, type Size, hazeRamp, fieldOf } from '@hazy-lens/core';

const RAMP = new Uint32Array(hazeRamp().buffer);

/** A small picture of a field, in the colours of the haze map. */
@Component({
  selector: 'hl-field-thumb',
  template: `<canvas #canvas width="30" height="20" aria-hidden="true"></canvas>`,
  styles: `
    canvas {
      display: block;
      width: 30px;
      height: 20px;
      border-radius: 2px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldThumb {
  readonly look = input.required<ResolvedFocus>();
  readonly size = input.required<Size>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');

  constructor() {
    effect(() => {
      const { width, height } = this.size();
      const field = fieldOf(this.look(), this.size());
      const canvas = this.canvas().nativeElement;
      const pixels = new ImageData(canvas.width, canvas.height);
      const words = new Uint32Array(pixels.data.buffer);
      for (let i = 0; i < words.length; i++) {
        const haze = field(
          (((i % canvas.width) + 0.5) / canvas.width) * width,
          ((Math.floor(i / canvas.width) + 0.5) / canvas.height) * height,
        );
        words[i] = RAMP[Math.round(haze * 1023)]!;
      }
      canvas.getContext('2d')!.putImageData(pixels, 0, 0);
    });
  }
}
