import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  type ElementRef,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import {
  type RenderSettings,
  type Region,
  blurOf,
  fieldKey,
  fieldOf,
  resolveTidiedRecipe,
} from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { LatestTask } from '../../engine/latest-task';
import { type RegionReader, tidied } from '../../engine/region-reader';
import { measuresOf } from '../../engine/measures-of';
import { RegionRenderer } from '../../engine/region-renderer';
import { ProjectAssets } from '../../project/session/project-assets';
import { OpenProject } from '../../project/session/open-project';
import { blurWords } from '../../words/blur';

const WIDTH = 256;
const HEIGHT = 104;
/** Long edge of the small picture that the spot is looked for in. */
const SEARCH_EDGE = 360;
/** Light from farther away than this no longer matters to so small a patch. */
const MAX_AROUND = 160;
const REST_MS = 60;

/** The brightest hazy spot of the picture at 100 %, as it is now: where a blur shows its discs. */
@Component({
  selector: 'hl-bright-spot',
  template: `<canvas
    #canvas
    width="${WIDTH}"
    height="${HEIGHT}"
    role="img"
    [attr.aria-label]="words.theBrightestHazySpotAt100"
  ></canvas>`,
  styles: `
    canvas {
      display: block;
      width: 100%;
      border-radius: 4px;
      background: var(--stage);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BrightSpot {
  protected readonly words = blurWords;
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly project = inject(OpenProject);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly view = new RegionRenderer(this.renderLoop.pool);
  private found: { picture: RegionReader; field: string; at: { x: number; y: number } } | null = null;
  private readonly newest = new LatestTask<{ picture: RegionReader; look: RenderSettings }>(
    (wish) => this.draw(wish),
    () => void this.view.close(),
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.newest.end());
    effect((onCleanup) => {
      const picture = this.renderLoop.picture();
      const recipe = this.project.calmRecipe();
      const companions = this.projectAssets.now();
      if (!picture) return;
      const measures = measuresOf(picture, recipe);
      const primaries = { source: picture.primaries, output: 'srgb' } as const;
      const look = { ...resolveTidiedRecipe(recipe, picture, companions, picture.gain, measures), primaries };
      const wish = { picture: tidied(picture, recipe), look };
      const timer = setTimeout(() => this.newest.submit(wish), REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async draw({ picture, look }: { picture: RegionReader; look: RenderSettings }): Promise<void> {
    const spot = await this.spotOf(picture, look);
    const { region, x, y } = around(picture, spot, blurOf(look.blur).reach(look.blur, picture));
    await this.view.prepare(picture, region, look);
    const pixels = await this.view.draw(look, 'picture');
    const image = new ImageData(Uint8ClampedArray.from(pixels), region.width, region.height);
    this.canvas().nativeElement.getContext('2d')!.putImageData(image, -x, -y);
  }

  /** The brightest place where there is haze, in pixels of the full picture. */
  private async spotOf(picture: RegionReader, look: RenderSettings): Promise<{ x: number; y: number }> {
    const field = fieldKey(look.field);
    if (this.found?.picture === picture && this.found.field === field) return this.found.at;
    const whole = { x: 0, y: 0, width: 1, height: 1 };
    const { width, height, data } = await picture.pixels(this.renderLoop.pool, whole, SEARCH_EDGE);
    const haze = fieldOf(look.field, { width, height });
    const channels = data.length / (width * height);
    let [best, most] = [0, -1];
    for (let i = 0; i < width * height; i++) {
      const at = i * channels;
      const light = data[at]! + data[at + 1]! + data[at + 2]!;
      if (light <= most) continue;
      const value = light * haze((i % width) + 0.5, Math.floor(i / width) + 0.5);
      if (value > most) [best, most] = [i, value];
    }
    const at = {
      x: (((best % width) + 0.5) / width) * picture.width,
      y: ((Math.floor(best / width) + 0.5) / height) * picture.height,
    };
    this.found = { picture, field, at };
    return at;
  }
}

/** The part of a picture that a patch round a spot needs, and where the patch lies in it. */
function around(
  { width, height }: RegionReader,
  spot: { x: number; y: number },
  reach: number,
): { region: Region; x: number; y: number } {
  const more = Math.min(MAX_AROUND, Math.ceil(reach));
  const [w, h] = [Math.min(width, WIDTH), Math.min(height, HEIGHT)];
  const left = Math.round(Math.min(width - w, Math.max(0, spot.x - w / 2)));
  const top = Math.round(Math.min(height - h, Math.max(0, spot.y - h / 2)));
  const x = Math.max(0, left - more);
  const y = Math.max(0, top - more);
  const region = {
    x,
    y,
    width: Math.min(width, left + w + more) - x,
    height: Math.min(height, top + h + more) - y,
    picture: { width, height },
  };
  return { region, x: left - x, y: top - y };
}
