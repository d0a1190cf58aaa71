import { ChangeDetectionStrategy, Component, type ElementRef, effect, input, viewChild } from '@angular/core';

/** Pixels of one stripe of the hatching. */
const STRIPE = 3;

/**
 * Hatches, in black and white, what counts as a clipped light: pixels whose strongest channel reaches a share of white.
 * @param pixels RGBA. @param threshold 0..1. @returns RGBA of the same size, clear elsewhere.
 */
export function hatchedLights(
  pixels: ArrayLike<number>,
  width: number,
  threshold: number,
): Uint8ClampedArray<ArrayBuffer> {
  const marks = new Uint8ClampedArray(pixels.length);
  const least = threshold * 255;
  for (let i = 0; i < pixels.length; i += 4) {
    if (Math.max(pixels[i]!, pixels[i + 1]!, pixels[i + 2]!) < least) continue;
    const at = i / 4;
    const shade = Math.floor(((at % width) + Math.floor(at / width)) / STRIPE) % 2 === 0 ? 0 : 255;
    marks.fill(shade, i, i + 3);
    marks[i + 3] = 255;
  }
  return marks;
}

/** Shows on the picture which pixels count as clipped lights. */
@Component({
  selector: 'hl-lights-mark',
  template: `<canvas #marks aria-hidden="true"></canvas>`,
  styles: `
    canvas {
      display: block;
      width: 100%;
      height: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LightsMark {
  /** The picture as it came, as it stands on the stage. */
  readonly source = input.required<ImageData>();
  readonly threshold = input.required<number>();
  private readonly marks = viewChild.required<ElementRef<HTMLCanvasElement>>('marks');

  constructor() {
    effect(() => {
      const { data, width, height } = this.source();
      const canvas = this.marks().nativeElement;
      [canvas.width, canvas.height] = [width, height];
      const image = new ImageData(hatchedLights(data, width, this.threshold()), width, height);
      canvas.getContext('2d')!.putImageData(image, 0, 0);
    });
  }
}
