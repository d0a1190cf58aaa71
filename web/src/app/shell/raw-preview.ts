import { ChangeDetectionStrategy, Component, type ElementRef, effect, input, viewChild } from '@angular/core';
import type { RawPreview } from '@hazy-lens/core';
import { logCause } from '../model/causes';
import { shellWords } from '../words/shell';

/** The preview in a raw file, upright, where its picture will be. */
@Component({
  selector: 'hl-raw-preview',
  template: `<canvas #canvas role="img" [aria-label]="words.previewFromTheCamera"></canvas>`,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      padding: 22px;
      background: var(--stage);
    }
    canvas {
      width: 100%;
      height: 100%;
      object-fit: contain;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RawPreviewView {
  protected readonly words = shellWords;
  readonly preview = input.required<RawPreview>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');

  constructor() {
    // What cannot be shown is only missed until the picture is there.
    effect(() => void this.draw(this.preview()).catch(logCause));
  }

  private async draw(preview: RawPreview): Promise<void> {
    const bitmap = await createImageBitmap(new Blob([preview], { type: 'image/jpeg' }));
    const canvas = this.canvas().nativeElement;
    canvas.width = bitmap.width;
    canvas.height = bitmap.height;
    canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
    bitmap.close();
  }
}
