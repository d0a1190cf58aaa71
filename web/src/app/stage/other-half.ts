import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  type ElementRef,
  computed,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { type Look, type Region, blurOf, sheetLook } from '@hazy-lens/core';
import { Engine } from '../engine/engine';
import { Newest } from '../engine/newest';
import { type CutPicture, onSheet } from '../engine/cut-picture';
import { ViewRender } from '../engine/view-render';
import { Footage } from '../project/footage';
import { OpenProject } from '../project/open-project';
import { Drag, type Grasp } from '../ui/drag';
import { StageView } from '../workspace/stage-view';
import { TwoAtOnce } from '../workspace/two-at-once';
import { placeRegion, regionFor } from '../workspace/view';
import { FieldView } from './field-view';
import { panHand, wheelZoom } from './pan';

/** A hand that moves less than this only points. */
const STILL_PX = 4;

interface Wish {
  picture: CutPicture;
  region: Region;
  look: Look;
  frame: number;
}

/** The half of the stage that is not in hand: the same place of the picture at the same zoom, under the other blur. */
@Component({
  selector: 'hl-other-half',
  imports: [Drag],
  template: `
    <div class="picture" [hlDrag]="grasp">
      <canvas
        #canvas
        role="img"
        aria-label="The same place under the other blur"
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
export class OtherHalf {
  private readonly engine = inject(Engine);
  private readonly project = inject(OpenProject);
  private readonly stageView = inject(StageView);
  private readonly fieldView = inject(FieldView);
  private readonly footage = inject(Footage);
  private readonly two = inject(TwoAtOnce);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly render = new ViewRender(this.engine.pool);
  private readonly shown = signal<Region | null>(null);
  private readonly newest = new Newest<Wish>(
    (wish) => this.draw(wish),
    () => void this.render.close(),
  );

  protected readonly place = computed(() => {
    const region = this.shown();
    if (!region) return { left: 0, top: 0, width: 0, height: 0 };
    return placeRegion(region, this.stageView.view(), this.stageView.sheet(), this.stageView.pixelRatio());
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.newest.end());
    effect(() => {
      const picture = this.engine.picture();
      const blur = this.two.other();
      const { colour, finish } = this.project.recipe();
      if (!picture || !blur) return;
      const sheet = this.stageView.sheet();
      const asMade = { field: this.fieldView.look(), blur, colour, finish, light: this.footage.light() };
      const look = sheetLook(asMade, sheet);
      const region = regionFor(
        this.stageView.view(),
        this.stageView.stage(),
        sheet,
        this.stageView.pixelRatio(),
        (size) => blurOf(blur).reach(look.blur, size),
        this.shown(),
      );
      this.newest.want({ picture: onSheet(picture, sheet), region, look, frame: this.footage.frame() });
    });
  }

  private async draw({ picture, region, look, frame }: Wish): Promise<void> {
    await this.render.prepare(picture, region, look);
    this.put(region, await this.render.draw(look, 'picture', frame));
  }

  private put(region: Region, pixels: Uint8Array): void {
    const { width, height } = region;
    const canvas = this.canvas().nativeElement;
    canvas.width = width;
    canvas.height = height;
    const image = new ImageData(Uint8ClampedArray.from(pixels), width, height);
    canvas.getContext('2d', { alpha: false })!.putImageData(image, 0, 0);
    this.shown.set(region);
  }

  /** A hand that moves takes the picture along, on both halves; one that only points takes this half in hand. */
  protected readonly grasp: Grasp = (event) =>
    panHand(this.stageView, event, STILL_PX, () => this.two.swap());

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    const { left, top } = (event.currentTarget as Element).getBoundingClientRect();
    const { zoom } = this.stageView.view();
    this.stageView.zoomTo(zoom * wheelZoom(event), event.clientX - left, event.clientY - top);
  }
}
