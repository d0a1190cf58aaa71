import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  effect,
  inject,
  untracked,
  viewChild,
} from '@angular/core';
import { frameAt } from '@hazy-lens/core';
import { StageRenderLoop } from '../engine/stage-render-loop';
import type { MediaSource } from '../engine/media-source';
import { Footage } from '../project/footage/footage';
import { Player } from '../workspace/player';
import { ReelView } from './reel-view';

const HEIGHT = 40;
const MAX_KEPT = 400;

/** Small pictures of the source along the track. They are made when nothing else is asked of the decoder. */
@Component({
  selector: 'hl-film-strip',
  template: `<canvas #canvas aria-hidden="true"></canvas>`,
  styles: `
    :host,
    canvas {
      display: block;
      width: 100%;
      height: 40px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FilmStrip {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly footage = inject(Footage);
  private readonly view = inject(ReelView);
  private readonly player = inject(Player);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly made = new Map<number, ImageData>();
  private turn = 0;

  constructor() {
    effect(() => {
      this.renderLoop.material();
      untracked(() => this.made.clear());
    });
    effect(() => {
      const material = this.renderLoop.material();
      this.view.shown();
      this.view.width();
      // What is being drawn ends where the reel runs: the decoder is wanted there.
      this.turn++;
      this.footage.isSurveyed.set(false);
      if (material?.footage && !this.player.isPlaying()) void this.draw(material);
    });
  }

  private async draw(material: MediaSource): Promise<void> {
    const { turn } = this;
    const canvas = this.canvas().nativeElement;
    const ratio = devicePixelRatio;
    const [width, height] = [Math.round(this.view.width() * ratio), Math.round(HEIGHT * ratio)];
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    const context = canvas.getContext('2d')!;
    context.clearRect(0, 0, width, height);
    this.footage.isSurveyed.set(true);
    const own = { width: Math.max(8, Math.round((height * material.width) / material.height)), height };
    for (let x = 0; x < width; x += own.width + 1) {
      const frame = frameAt(this.footage.times(), this.view.time((x + own.width / 2) / ratio));
      const picture = this.made.get(frame) ?? (await this.make(material, frame, own).catch(() => null));
      if (turn !== this.turn) return;
      if (picture) context.putImageData(picture, x, 0);
    }
    this.footage.isSurveyed.set(false);
  }

  private async make(
    material: MediaSource,
    frame: number,
    size: { width: number; height: number },
  ): Promise<ImageData> {
    const { picture, giveBack } = await material.borrow(frame);
    const whole = { x: 0, y: 0, width: 1, height: 1 };
    const { width, height, data } = await picture.pixels(
      this.renderLoop.pool,
      whole,
      Math.max(size.width, size.height),
    );
    giveBack();
    const image = new ImageData(width, height);
    const channels = data.length / (width * height);
    for (let i = 0; i < width * height; i++) {
      for (let c = 0; c < 3; c++) image.data[i * 4 + c] = data[i * channels + c]!;
      image.data[i * 4 + 3] = 255;
    }
    if (this.made.size > MAX_KEPT) this.made.clear();
    this.made.set(frame, image);
    return image;
  }
}
