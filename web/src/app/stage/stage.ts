import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import { StageRenderLoop, type Frame } from '../engine/stage-render-loop';
import { Notices } from '../project/session/notices';
import { OpenProject } from '../project/session/open-project';
import { OutputStore } from '../workspace/output-store';
import { ViewStore } from '../workspace/view-store';
import { SelectionStore } from '../workspace/selection-store';
import { Drag, HeldDrag } from '../ui/drag';
import { BandHandles } from './band-handles';
import { ElementGrips } from './element-grips';
import { FootMark } from './foot-mark';
import { HandCursor } from './hand-cursor';
import { ClippingOverlay } from './clipping-overlay';
import { Pinch } from './pinch';
import { SoundingMarks } from './sounding-marks';
import { StatusLine } from './status-line';
import { StepMarks } from './step-marks';
import { StageHand } from './stage-hand';
import { StagePicture } from './stage-picture';
import { Wipe } from './wipe';
import { StageTools } from './stage-tools';
import { Viewport } from '../workspace/viewport';
import { SplitComparison } from '../workspace/split-comparison';
import { VariantView } from '../workspace/variant-view';
import { StageRenderer } from './stage-renderer';
import { stageWords } from '../words/stage';

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
      [style.cursor]="viewStore.panning() ? 'grab' : hand.cursor()"
      [hlDrag]="hand.grasp"
      (keydown)="hand.key($event)"
    >
      <canvas
        #after
        [style.left.px]="picture.place().left"
        [style.top.px]="picture.place().top"
        [style.width.px]="picture.place().width"
        [style.height.px]="picture.place().height"
        role="img"
        [attr.aria-label]="words.picture(project.state().name)"
      ></canvas>
      <canvas
        #before
        aria-hidden="true"
        [hidden]="!showsBefore()"
        [style.clip-path]="wipeClip()"
        [style.left.px]="picture.place().left"
        [style.top.px]="picture.place().top"
        [style.width.px]="picture.place().width"
        [style.height.px]="picture.place().height"
      ></canvas>
    </div>
    @if (hand.showsHandles()) {
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
    @if (viewStore.lightsMoving() && picture.before; as source) {
      <hl-lights-mark
        [source]="source"
        [threshold]="project.recipe().blur.lens.highlights.threshold"
        [style.left.px]="picture.place().left"
        [style.top.px]="picture.place().top"
        [style.width.px]="picture.place().width"
        [style.height.px]="picture.place().height"
      />
    }
    @if (picture.marked(); as now) {
      <hl-lights-mark
        [source]="now"
        [threshold]="1"
        [marksBlack]="true"
        [space]="output.still().space"
        [style.left.px]="picture.place().left"
        [style.top.px]="picture.place().top"
        [style.width.px]="picture.place().width"
        [style.height.px]="picture.place().height"
      />
    }
    <hl-step-marks />
    @if (viewStore.comparison() === 'wipe') {
      <hl-wipe />
    }
    <hl-status-line />
  `,
  providers: [StagePicture, StageHand],
  styleUrls: ['./laid.scss', './stage.scss'],
  host: {
    '(wheel)': 'hand.wheel($event)',
    '(pointermove)': 'hand.point($event)',
    '(pointerleave)': 'viewport.pointAway()',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Stage {
  protected readonly words = stageWords;
  protected readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  protected readonly output = inject(OutputStore);
  protected readonly selection = inject(SelectionStore);
  private readonly renderLoop = inject(StageRenderLoop);
  protected readonly viewport = inject(Viewport);
  protected readonly tools = inject(StageTools);
  protected readonly hand = inject(StageHand);
  protected readonly picture = inject(StagePicture);
  private readonly bands = viewChild(BandHandles);
  private readonly elements = viewChild(ElementGrips);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly after = viewChild.required<ElementRef<HTMLCanvasElement>>('after');
  private readonly before = viewChild.required<ElementRef<HTMLCanvasElement>>('before');

  protected readonly showsBefore = computed(() => this.viewStore.comparison() !== 'after');
  protected readonly wipeClip = computed(() => {
    if (this.viewStore.comparison() !== 'wipe') return 'none';
    const { left, width } = this.picture.place();
    const cut = left + width - this.viewStore.wipeAt() * this.viewport.stage().width;
    return `inset(0 ${Math.max(0, cut)}px 0 0)`;
  });
  constructor() {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width === 0 || height === 0) return;
      this.viewport.set({ stage: { width, height } });
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
    this.hand.grips = { bands: this.bands, elements: this.elements };
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
    this.viewport.set({ origin: { left, top } });
  }

  private paint(frame: Frame): void {
    const [after, before] = [this.after().nativeElement, this.before().nativeElement];
    this.picture.paint(frame, { after, before });
    this.project.hasPainted();
    performance.mark('hazy-lens-frame', { detail: frame.since });
  }
}
