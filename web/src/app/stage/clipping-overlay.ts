import { type Primaries, isInSrgb } from '@hazy-lens/core';
import { ChangeDetectionStrategy, Component, type ElementRef, effect, input, viewChild } from '@angular/core';

/** Pixels of one stripe of the hatching. */
const STRIPE = 3;

/**
 * Hatches, in black and white, what counts as clipped: pixels whose strongest channel reaches a share of white, with
 * stripes that rise, and where that is asked for those that have a channel at black, with stripes that fall.
 * @param pixels RGBA. @param threshold 0..1. @param fits says of a pixel’s channels, 0..255, whether its file can hold them.
 * @returns RGBA of the same size, clear elsewhere.
 */
export function hatchClipped(
  pixels: ArrayLike<number>,
  width: number,
  threshold: number,
  marksBlack: boolean,
  fits: (r: number, g: number, b: number) => boolean = () => true,
): Uint8ClampedArray<ArrayBuffer> {
  const marks = new Uint8ClampedArray(pixels.length);
  const light = threshold * 255;
  const dark = marksBlack ? 0 : -1;
  for (let i = 0; i < pixels.length; i += 4) {
    const [r, g, b] = [pixels[i]!, pixels[i + 1]!, pixels[i + 2]!];
    const isLight = Math.max(r, g, b) >= light;
    if (!isLight && Math.min(r, g, b) > dark && fits(r, g, b)) continue;
    const at = i / 4;
    const [x, y] = [at % width, Math.floor(at / width)];
    const along = isLight ? x + y : x - y + 3 * STRIPE * pixels.length;
    const shade = Math.floor(along / STRIPE) % 2 === 0 ? 0 : 255;
    marks.fill(shade, i, i + 3);
    marks[i + 3] = 255;
  }
  return marks;
}

/** Shows on the picture which pixels count as clipped. */
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
export class ClippingOverlay {
  /** The picture that is looked at, as it stands on the stage. */
  readonly source = input.required<ImageData>();
  /** From which share of white on a pixel counts. */
  readonly threshold = input.required<number>();
  readonly marksBlack = input(false);
  /** Primaries of the file that is wanted: what it cannot hold is marked, too. */
  readonly space = input<Primaries | null>(null);
  private readonly marks = viewChild.required<ElementRef<HTMLCanvasElement>>('marks');

  constructor() {
    effect(() => {
      const { data, width, height, colorSpace } = this.source();
      const isNarrower = colorSpace === 'display-p3' && this.space() === 'srgb';
      const canvas = this.marks().nativeElement;
      [canvas.width, canvas.height] = [width, height];
      const image = new ImageData(
        hatchClipped(data, width, this.threshold(), this.marksBlack(), isNarrower ? isInSrgb : undefined),
        width,
        height,
      );
      canvas.getContext('2d')!.putImageData(image, 0, 0);
    });
  }
}
