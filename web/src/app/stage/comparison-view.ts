import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  type ElementRef,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import {
  type RecipeAssets,
  type RenderSettings,
  NO_ASSETS,
  type Primaries,
  type Recipe,
  type Region,
  type CropGeometry,
  blurOf,
  resolveFocus,
  layeredLook,
  mendsIn,
  recipeAt,
  cropLook,
  cropOf,
  fullCrop,
} from '@hazy-lens/core';
import { Display } from '../engine/display';
import { imageDataOf } from '../engine/image-data';
import { StageRenderLoop } from '../engine/stage-render-loop';
import { LatestTask } from '../engine/latest-task';
import { type RegionReader, onSheet } from '../engine/region-reader';
import { RegionRenderer } from '../engine/region-renderer';
import { measuresOf } from '../engine/measures-of';
import { StillMender } from '../engine/still-mender';
import type { Picture } from '../engine/picture';
import { RecipeAssetLoader } from '../engine/recipe-asset-loader';
import { ProjectAssets } from '../project/session/project-assets';
import { Footage } from '../project/footage/footage';
import { Playhead } from '../project/footage/playhead';
import { OpenProject } from '../project/session/open-project';
import { Drag, type DragStart } from '../ui/drag';
import { Viewport } from '../workspace/viewport';
import { ViewStore } from '../workspace/view-store';
import { placeRegion, regionFor } from '../workspace/view-transform';
import { panHand, wheelZoom } from './pan';
import { stageWords } from '../words/stage';

/** A hand that moves less than this only points. */
const STILL_PX = 4;

interface Wish {
  picture: RegionReader;
  sheet: CropGeometry;
  region: Region;
  look: RenderSettings;
  frame: number;
}

/** A part of the stage that is not in hand: the same place of the picture at the same zoom, under another recipe. */
@Component({
  selector: 'hl-side-view',
  imports: [Drag],
  template: `
    <div class="picture" [hlDrag]="grasp">
      <canvas
        #canvas
        role="img"
        [attr.aria-label]="says()"
        [style.left.px]="place().left"
        [style.top.px]="place().top"
        [style.width.px]="place().width"
        [style.height.px]="place().height"
      ></canvas>
    </div>
  `,
  styles: `
    :host {
      overflow: hidden;
      background: var(--stage);
      touch-action: none;
    }
    .picture {
      position: absolute;
      inset: 0;
    }
    canvas {
      position: absolute;
      display: block;
    }
  `,
  host: { '(wheel)': 'wheel($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ComparisonView {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly project = inject(OpenProject);
  private readonly viewport = inject(Viewport);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly playhead = inject(Playhead);
  private readonly viewStore = inject(ViewStore);
  private readonly footage = inject(Footage);
  private readonly made = inject(RecipeAssetLoader);
  private readonly mender = inject(StillMender);
  private readonly display = inject(Display);
  readonly recipe = input.required<Recipe>();
  readonly says = input(stageWords.theSameAreaWith);
  /** It is pointed at. */
  readonly taken = output();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly render = new RegionRenderer(this.renderLoop.pool);
  private readonly shown = signal<{ region: Region; sheet: CropGeometry } | null>(null);
  private readonly newest = new LatestTask<Wish>(
    (wish) => this.draw(wish),
    () => void this.render.close(),
  );

  protected readonly place = computed(() => {
    const shown = this.shown();
    if (!shown) return { left: 0, top: 0, width: 0, height: 0 };
    return placeRegion(shown.region, this.viewport.view(), shown.sheet, this.viewport.pixelRatio());
  });

  /** The recipe as it is at the moment in view. */
  private readonly now = computed(() => recipeAt(this.recipe(), this.playhead.time()));
  /** What it is rendered from: as the open project where it has the same mends, depth map and mattes. */
  private readonly standsOn = computed(() => {
    const picture = this.renderLoop.picture();
    if (!picture) return null;
    const own = this.own();
    const isAlike = materialKey(this.recipe()) === materialKey(this.project.keyed());
    if (isAlike) return { picture, companions: this.projectAssets.now() };
    // Frames of footage take no mends: the one in view is that of all.
    return own && this.renderLoop.material()?.footage ? { ...own, picture } : own;
  });
  private last: Region | null = null;
  private readonly own = signal<{ picture: Picture; companions: RecipeAssets } | null>(null);

  constructor() {
    effect((onCleanup) => {
      const [recipe, first] = [this.recipe(), this.renderLoop.guide()];
      if (!first || materialKey(recipe) === materialKey(this.project.keyed())) return;
      const stop = new AbortController();
      onCleanup(() => stop.abort());
      void this.bring(recipe, first, stop.signal);
    });
    inject(DestroyRef).onDestroy(() => this.newest.end());
    effect(() => {
      const stands = this.standsOn();
      if (!stands) return;
      const { colour, finish, blur } = this.now();
      const sheet =
        this.viewStore.step() === 'tidy' ? fullCrop(stands.picture) : cropOf(this.now(), stands.picture);
      const field = resolveFocus(this.now().focus, stands.picture, stands.companions);
      const { table } = stands.companions;
      const measured = measuresOf(stands.picture, this.now(), this.footage.noise());
      const light = this.footage.light() * stands.picture.gain;
      const layered = layeredLook(this.now(), stands.picture, stands.companions, field);
      const primaries = {
        source: stands.picture.primaries,
        output: this.display.primariesFor(stands.picture),
      };
      const look = cropLook({ blur, colour, finish, table, light, primaries, measured, ...layered }, sheet);
      const region = regionFor(
        this.viewport.view(),
        this.viewport.stage(),
        sheet,
        this.viewport.pixelRatio(),
        (size) => blurOf(look.blur).reach(look.blur, size),
        this.last,
      );
      this.last = region;
      this.newest.submit({
        picture: onSheet(stands.picture, sheet),
        sheet,
        region,
        look,
        frame: this.footage.frame(),
      });
    });
  }

  private async bring(recipe: Recipe, first: Picture, signal: AbortSignal): Promise<void> {
    try {
      const picture = await this.mender.of(first, mendsIn(recipe), signal);
      const companions = await this.made.of(
        recipe,
        first,
        this.renderLoop.material()?.footage ? null : picture,
      );
      if (!signal.aborted) this.own.set({ picture, companions });
    } catch {
      // Missing assets are reported once that variant is selected.
      if (!signal.aborted) this.own.set({ picture: first, companions: NO_ASSETS });
    }
  }

  private async draw({ picture, sheet, region, look, frame }: Wish): Promise<void> {
    await this.render.prepare(picture, region, look);
    this.put({ region, sheet }, await this.render.draw(look, 'picture', frame), look.primaries.output);
  }

  private put(
    shown: { region: Region; sheet: CropGeometry },
    pixels: Uint8Array,
    colorSpace: Primaries,
  ): void {
    const { width, height } = shown.region;
    const canvas = this.canvas().nativeElement;
    canvas.width = width;
    canvas.height = height;
    const image = imageDataOf(Uint8ClampedArray.from(pixels), width, height, colorSpace);
    canvas.getContext('2d', { alpha: false, colorSpace })!.putImageData(image, 0, 0);
    this.shown.set(shown);
  }

  /** A hand that moves takes the picture along, on both halves; one that only points takes this half in hand. */
  protected readonly grasp: DragStart = (event) =>
    panHand(this.viewport, event, STILL_PX, () => this.taken.emit());

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    const { left, top } = (event.currentTarget as Element).getBoundingClientRect();
    const { zoom } = this.viewport.view();
    this.viewport.zoomTo(zoom * wheelZoom(event), event.clientX - left, event.clientY - top);
  }
}

/** The same for recipes that are rendered from the same pixels, grey pictures and tables. */
function materialKey({ tidy, focus, colour, elements }: Recipe): string {
  const { depthMap, mattes } = focus;
  const images = elements.map(({ image }) => image);
  return JSON.stringify([
    mendsIn({ tidy }),
    depthMap?.image,
    depthMap?.align,
    mattes,
    colour.look?.image,
    images,
  ]);
}
