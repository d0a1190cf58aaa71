import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { type Primaries, type Region, diagonal, toPicture, toCrop } from '@hazy-lens/core';
import { StageRenderLoop, type Frame } from '../engine/stage-render-loop';
import { imageDataOf } from '../engine/image-data';
import { sameRegion } from '../engine/region-renderer';
import { Notices } from '../project/session/notices';
import { OpenProject } from '../project/session/open-project';
import { OutputStore } from '../workspace/output-store';
import { ViewStore } from '../workspace/view-store';
import { SelectionStore } from '../workspace/selection-store';
import { Drag, type DragStart, HeldDrag } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { BandHandles } from './band-handles';
import type { Spot } from './handles/handles';
import { ElementGrips } from './element-grips';
import { FootMark } from './foot-mark';
import { HandCursor } from './hand-cursor';
import { ClippingOverlay } from './clipping-overlay';
import { WhitePicker } from '../workspace/white-picker';
import { MendBrush } from './mend-brush';
import { HuePicker } from './hue-picker';
import { panHand, wheelZoom } from './pan';
import { meanLight } from './mean-light';
import { Pinch } from './pinch';
import { SoundingMarks } from './sounding-marks';
import { StatusLine } from './status-line';
import { StepMarks } from './step-marks';
import { type StageDrag, handOf } from './stage-drag';
import { Wipe } from './wipe';
import { StageTools } from './stage-tools';
import { ToolStore } from '../workspace/tool-store';
import { Viewport } from '../workspace/viewport';
import { SplitComparison } from '../workspace/split-comparison';
import { VariantView } from '../workspace/variant-view';
import { StageRenderer } from './stage-renderer';
import { placeRegion } from '../workspace/view-transform';
import { stageWords } from '../words/stage';

/** Pixels each way around the clicked one whose mean is taken for grey. */
const GREY_REACH_PX = 2;
/** Movement of a finger below this counts as a tap. */
const MIN_PAN_PX = 6;
const KEY_PAN_PX = 64;

/** The picture on neutral grey, with its handles, and the hand on it. */
@Component({
  selector: 'hl-stage',
  imports: [
    BandHandles,
    Drag,
    ClippingOverlay,
    SoundingMarks,
    ElementGrips,
    FootMark,
    HandCursor,
    StatusLine,
    StepMarks,
    Wipe,
  ],
  template: `
    <div
      class="picture"
      tabindex="0"
      role="group"
      [aria-label]="words.pictureArrowKeysMove"
      [class.grab]="viewStore.panning()"
      [class.pixels]="viewport.view().zoom > 2"
      [style.cursor]="viewStore.panning() ? 'grab' : cursor()"
      [hlDrag]="grasp"
      (keydown)="handKey($event)"
    >
      <canvas
        #after
        [style.left.px]="place().left"
        [style.top.px]="place().top"
        [style.width.px]="place().width"
        [style.height.px]="place().height"
        role="img"
        [attr.aria-label]="words.picture(project.state().name)"
      ></canvas>
      <canvas
        #before
        aria-hidden="true"
        [hidden]="!showsBefore()"
        [style.clip-path]="wipeClip()"
        [style.left.px]="place().left"
        [style.top.px]="place().top"
        [style.width.px]="place().width"
        [style.height.px]="place().height"
      ></canvas>
    </div>
    @if (showsHandles()) {
      <hl-band-handles
        [class.faded]="viewStore.sliding() || selection.liveStroke()"
        [class.quiet]="tools.takesAll"
        [class.off]="viewStore.handlesHidden()"
      />
      @if (selection.focus().soundings.length > 0) {
        <hl-sounding-marks
          [class.faded]="viewStore.sliding()"
          [class.quiet]="tools.takesAll"
          [class.off]="viewStore.handlesHidden()"
        />
      }
      <hl-element-grips
        [class.faded]="viewStore.sliding()"
        [class.off]="viewStore.handlesHidden() || selection.chosen().kind !== 'element'"
      />
      <hl-foot-mark [class.off]="viewStore.handlesHidden()" />
      <hl-hand-cursor />
    }
    @if (viewStore.lightsMoving() && pixelsBefore(); as source) {
      <hl-lights-mark
        [source]="source"
        [threshold]="project.recipe().blur.lens.highlights.threshold"
        [style.left.px]="place().left"
        [style.top.px]="place().top"
        [style.width.px]="place().width"
        [style.height.px]="place().height"
      />
    }
    @if (viewStore.clipped() && pixelsNow(); as now) {
      <hl-lights-mark
        [source]="now"
        [threshold]="1"
        [marksBlack]="true"
        [space]="output.still().space"
        [style.left.px]="place().left"
        [style.top.px]="place().top"
        [style.width.px]="place().width"
        [style.height.px]="place().height"
      />
    }
    <hl-step-marks />
    @if (viewStore.comparison() === 'wipe') {
      <hl-wipe />
    }
    <hl-status-line />
  `,
  styleUrls: ['./laid.scss', './stage.scss'],
  host: {
    '(wheel)': 'wheel($event)',
    '(pointermove)': 'point($event)',
    '(pointerleave)': 'viewport.pointer.set(null)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Stage {
  protected readonly words = stageWords;
  protected readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  protected readonly output = inject(OutputStore);
  protected readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  protected readonly renderLoop = inject(StageRenderLoop);
  protected readonly viewport = inject(Viewport);
  protected readonly tools = inject(StageTools);
  private readonly huePicker = inject(HuePicker);
  private readonly whitePicker = inject(WhitePicker);
  private readonly mendBrush = inject(MendBrush);
  private readonly handles = viewChild(BandHandles);
  private readonly elementGrips = viewChild(ElementGrips);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly after = viewChild.required<ElementRef<HTMLCanvasElement>>('after');
  private readonly before = viewChild.required<ElementRef<HTMLCanvasElement>>('before');
  private readonly shownRegion = signal<Region | null>(null, {
    equal: (a, b) => a === b || (!!a && !!b && sameRegion(a, b)),
  });
  /** Counts the pictures that were painted while something follows them. */
  private readonly painted = signal(0);
  protected readonly cursor = signal('');
  private buffers = new Map<HTMLCanvasElement, ImageData>();

  protected readonly showsHandles = computed(
    () =>
      this.viewStore.step() === 'focus' && this.project.isOpen() && this.viewStore.comparison() !== 'before',
  );

  /** In black and white the hand makes colours lighter and darker. */
  private readonly picksColours = computed(() => {
    const { on, mono } = this.project.recipe().colour;
    return on && mono.on && this.viewStore.step() === 'colour' && this.viewStore.comparison() !== 'before';
  });

  protected readonly place = computed(() => {
    const region = this.shownRegion();
    const view = this.viewport.view();
    if (!region) return { left: 0, top: 0, width: 0, height: 0 };
    return placeRegion(region, view, this.viewport.sheet(), this.viewport.pixelRatio());
  });
  protected readonly showsBefore = computed(() => this.viewStore.comparison() !== 'after');
  protected readonly wipeClip = computed(() => {
    if (this.viewStore.comparison() !== 'wipe') return 'none';
    const { left, width } = this.place();
    const cut = left + width - this.viewStore.wipeAt() * this.viewport.stage().width;
    return `inset(0 ${Math.max(0, cut)}px 0 0)`;
  });
  constructor() {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width === 0 || height === 0) return;
      this.viewport.stage.set({ width, height });
      this.findOrigin();
    });
    observer.observe(this.host);
    const moved = (): void => this.findOrigin();
    addEventListener('resize', moved);
    const fingers = new AbortController();
    new Pinch(this.viewport, inject(HeldDrag)).watch(this.host, fingers.signal);
    inject(DestroyRef).onDestroy(() => {
      fingers.abort();
      observer.disconnect();
      removeEventListener('resize', moved);
    });
    // Among several views the stage moves without a change of its size.
    const [two, variants] = [inject(SplitComparison), inject(VariantView)];
    afterRenderEffect(() => {
      two.inHand();
      variants.shown();
      variants.current();
      this.findOrigin();
    });
    inject(StageRenderer);
    const notices = inject(Notices);
    this.renderLoop.paintWith(
      (frame) => this.paint(frame),
      (message) => notices.error(message),
    );
    effect(() => {
      this.renderLoop.material();
      this.viewport.fit();
    });
  }

  private findOrigin(): void {
    const { left, top } = this.host.getBoundingClientRect();
    this.viewport.origin.set({ left, top });
  }

  private paint(frame: Frame): void {
    const { source, output } = frame.primaries;
    this.put(this.after().nativeElement, frame.region, frame.pixels, output, output);
    if (frame.moved) this.put(this.before().nativeElement, frame.region, frame.before(), source, output);
    this.shownRegion.set(frame.region);
    if (this.viewStore.clipped()) this.painted.update((count) => count + 1);
    this.project.hasPainted();
    performance.mark('hazy-lens-frame', { detail: frame.since });
  }

  /** The picture as it came, as it stands on the stage. */
  protected pixelsBefore(): ImageData | undefined {
    return this.buffers.get(this.before().nativeElement);
  }

  /** The picture as it is now on the stage; another object with each that is painted. */
  protected readonly pixelsNow = computed<ImageData | undefined>(() => {
    this.painted();
    const now = this.viewStore.clipped() ? this.buffers.get(this.after().nativeElement) : undefined;
    return now && imageDataOf(now.data, now.width, now.height, now.colorSpace);
  });

  /** @param of the pixels. @param shown of the canvas, which are those of its first picture: a stage is of one project. */
  private put(
    canvas: HTMLCanvasElement,
    { width, height }: Region,
    pixels: Uint8Array,
    of: Primaries,
    shown: Primaries,
  ): void {
    let image = this.buffers.get(canvas);
    if (!image || image.width !== width || image.height !== height) {
      image = imageDataOf(null, width, height, of);
      this.buffers.set(canvas, image);
      canvas.width = width;
      canvas.height = height;
    }
    image.data.set(pixels);
    canvas.getContext('2d', { alpha: false, colorSpace: shown })!.putImageData(image, 0, 0);
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    const { kind } = this.selection.chosen();
    if (event.altKey && (kind === 'brush' || kind === 'matte')) {
      this.settings.resize(kind === 'brush' ? 'brush' : 'scribble', wheelZoom(event));
      return;
    }
    const at = this.viewport.fromPointer(event);
    this.viewport.zoomTo(this.viewport.view().zoom * wheelZoom(event), at.x, at.y);
  }

  /** A hand on the picture itself: it moves the picture, a line of a band, or works with the tool in hand. */
  protected readonly grasp: DragStart = (event) => {
    if (event.button === 1 || (event.button === 0 && this.viewStore.panning()))
      return panHand(this.viewport, event);
    if (event.button !== 0) return null;
    if (this.whitePicker.isReady()) {
      this.pickWhite(this.viewport.fromPointer(event));
      return null;
    }
    if (this.picksColours()) {
      const light = this.lightAt(this.viewport.fromPointer(event), 0);
      return light && this.huePicker.handOn(light, event);
    }
    const drag = this.startDrag(event);
    if (drag) return handOf(drag, this.viewport);
    // A finger has no wheel and no middle button: where nothing takes it, it pans.
    return event.pointerType === 'touch' ? panHand(this.viewport, event, MIN_PAN_PX) : null;
  };

  /** The linear light of the original about a place on the stage; null beside the picture. @param reach in pixels of the stage. */
  private lightAt(at: Spot, reach: number): [number, number, number] | null {
    const image = this.pixelsBefore();
    const { left, top, width, height } = this.place();
    const [u, v] = [(at.x - left) / width, (at.y - top) / height];
    if (!image || u < 0 || v < 0 || u >= 1 || v >= 1) return null;
    return meanLight(image, Math.floor(u * image.width), Math.floor(v * image.height), reach);
  }

  private pickWhite(at: Spot): void {
    const light = this.lightAt(at, GREY_REACH_PX);
    const primaries = this.pixelsBefore()?.colorSpace === 'display-p3' ? 'display-p3' : 'srgb';
    if (light) this.whitePicker.pick(light, primaries);
  }

  private startDrag(event: PointerEvent): StageDrag | null {
    const at = this.viewport.pictureAt(event);
    if (this.mendBrush.isReady()) return this.mendBrush.start(at);
    if (!this.showsHandles()) return null;
    const handles = this.handles();
    if (!this.tools.takesAll && handles && !this.viewStore.handlesHidden()) {
      const hit = handles.hit(this.viewport.fromPointer(event));
      if (hit && 'grip' in hit) return handles.dragOf(hit.grip, at);
      if (hit) {
        this.selection.chooseBand(hit.band.id);
        return null;
      }
    }
    const moved = this.takeElement(at);
    if (moved) return moved;
    return this.tools.start(at, event);
  }

  /** A hand on an element moves it, and takes it in hand where another is. */
  private takeElement(at: Spot): StageDrag | null {
    const { kind } = this.selection.chosen();
    const isFree = kind === 'element' || kind === 'band' || kind === 'rest';
    const grips = this.elementGrips();
    if (!isFree || this.tools.takesAll || !grips || this.viewStore.handlesHidden()) return null;
    const element = grips.hit(at);
    if (!element) return null;
    if (kind !== 'element' || this.selection.layer() !== element.id) {
      this.selection.choose({ kind: 'element', id: element.id });
      return null;
    }
    return grips.moveFrom(element, at);
  }

  /** The reading and the brush's ring follow the hand; a second finger is none. */
  protected point(event: PointerEvent): void {
    if (!event.isPrimary) return;
    this.viewport.pointAt(this.viewport.pictureAt(event), false);
    if (event.buttons === 0) this.cursor.set(this.cursorFor(event));
  }

  private cursorFor(event: PointerEvent): string {
    if (this.whitePicker.isReady()) return 'crosshair';
    if (this.picksColours()) return 'ns-resize';
    if (this.mendBrush.isReady()) return 'none';
    if (!this.showsHandles() || !(event.target as Element).closest('.picture')) return '';
    const { kind } = this.selection.chosen();
    if (this.selection.placing()) return 'crosshair';
    if (kind === 'brush' || kind === 'matte') return 'none';
    const hit = this.viewStore.handlesHidden() ? null : this.handles()?.hit(this.viewport.fromPointer(event));
    if (hit) return 'grip' in hit ? 'move' : 'pointer';
    return kind === 'soundings' || kind === 'depth' ? 'crosshair' : '';
  }

  /** The keyboard's hand: arrow keys move it over the picture, Enter puts it down. */
  protected handKey(event: KeyboardEvent): void {
    const step = arrowOf(event);
    const sheet = this.viewport.sheet();
    const { width, height } = sheet;
    const pointer = this.viewport.pointer();
    const [x, y] = pointer ? toCrop(sheet, [pointer.x, pointer.y]) : [width / 2, height / 2];
    const put = (sx: number, sy: number): { x: number; y: number } => {
      const [px, py] = toPicture(sheet, [
        Math.min(width, Math.max(0, sx)),
        Math.min(height, Math.max(0, sy)),
      ]);
      return { x: px, y: py };
    };
    const at = put(x, y);
    if (step && event.shiftKey) {
      this.viewport.pan(-step[0] * KEY_PAN_PX, -step[1] * KEY_PAN_PX);
    } else if (step) {
      const by = stepMultiplier(event) * (diagonal(sheet) / 200);
      this.viewport.pointAt(put(x + step[0] * by, y + step[1] * by), true);
    } else if (event.key === 'Enter' && this.mendBrush.isReady()) {
      this.mendBrush.start(at)?.end?.();
    } else if (event.key === 'Enter' && this.whitePicker.isReady()) {
      this.pickWhite(this.viewport.toStage(at.x, at.y));
    } else if (event.key === 'Enter' && this.showsHandles()) {
      this.viewport.pointAt(at, true);
      this.tools.start(at, event)?.end?.();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
