import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  HostListener,
  computed,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import type { Region } from '@hazy-lens/core';
import { Engine, type Frame } from '../engine/engine';
import { sameRegion } from '../engine/view-render';
import { Document } from '../state/document';
import { Thumbnails } from '../storage/thumbnails';
import { Workspace } from '../state/workspace';
import { Moves } from '../ui/moves';
import { arrowOf, factor } from '../ui/keys';
import { BandHandles } from './band-handles';
import { FieldView } from './field-view';
import { HandCursor } from './hand-cursor';
import { SoundingMarks } from './sounding-marks';
import type { StageDrag } from './stage-tool';
import { StageTools } from './stage-tools';
import { StageView } from './stage-view';
import { EXAGGERATION, StageRenderer } from './stage-renderer';
import { placeRegion } from './view';

/** The picture on neutral grey, with its handles, the wipe and the readings. */
@Component({
  selector: 'hl-stage',
  imports: [BandHandles, SoundingMarks, HandCursor],
  template: `
    <div
      class="picture"
      tabindex="0"
      role="group"
      aria-label="Picture: arrow keys move the hand, Enter puts it down"
      [class.grab]="spaceHeld()"
      [class.pixels]="stageView.view().zoom > 2"
      [style.cursor]="spaceHeld() ? 'grab' : cursor()"
      (keydown)="handKey($event)"
    >
      <canvas
        #after
        [style.left.px]="place().left"
        [style.top.px]="place().top"
        [style.width.px]="place().width"
        [style.height.px]="place().height"
        role="img"
        [attr.aria-label]="'Picture: ' + document.state().name"
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
        [class.faded]="workspace.sliding() || workspace.liveInk()"
        [class.quiet]="tools.takesAll"
        [class.off]="workspace.handlesHidden()"
      />
      @if (document.recipe().focus.soundings.length > 0) {
        <hl-sounding-marks
          [class.faded]="workspace.sliding()"
          [class.quiet]="tools.takesAll"
          [class.off]="workspace.handlesHidden()"
        />
      }
      <hl-hand-cursor />
    }
    @if (workspace.comparison() === 'wipe') {
      <div
        class="wipe"
        role="slider"
        tabindex="0"
        aria-label="Wipe between before and after"
        aria-valuemin="0"
        aria-valuemax="100"
        [attr.aria-valuenow]="wipePercent()"
        [style.left.%]="workspace.wipeAt() * 100"
        (pointerdown)="startWipe($event)"
        (pointermove)="moveWipe($event)"
        (keydown)="wipeKey($event)"
      >
        <span class="tab"><span>before</span><span>after</span></span>
      </div>
    }
    <footer>
      <button
        class="button"
        [attr.aria-pressed]="stageView.isFitted()"
        title="Fit to the stage (F)"
        (click)="stageView.fit()"
      >
        fit
      </button>
      <button
        class="button"
        [attr.aria-pressed]="atFull()"
        title="One pixel to one pixel (1)"
        (click)="stageView.zoomTo(1 / stageView.pixelRatio())"
      >
        100%
      </button>
      <span class="zoom">{{ zoomPercent() }} %</span>
      <span class="reading" aria-live="off">
        @if (reading(); as read) {
          haze {{ read.haze }} % · {{ read.px }} px at cursor
        }
      </span>
      @if (workspace.exaggerated()) {
        <span class="flag">exaggerated × {{ exaggeration }}</span>
      }
      @if (workspace.hazeMap()) {
        <span class="flag">haze map</span>
      }
      @if (engine.busy()) {
        <span class="flag" role="status">draft …</span>
      }
    </footer>
  `,
  styleUrl: './stage.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Stage {
  protected readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly engine = inject(Engine);
  protected readonly stageView = inject(StageView);
  private readonly thumbnails = inject(Thumbnails);
  private readonly fieldView = inject(FieldView);
  protected readonly tools = inject(StageTools);
  private readonly handles = viewChild(BandHandles);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly after = viewChild.required<ElementRef<HTMLCanvasElement>>('after');
  private readonly before = viewChild.required<ElementRef<HTMLCanvasElement>>('before');
  protected readonly exaggeration = EXAGGERATION;
  private readonly shownRegion = signal<Region | null>(null, {
    equal: (a, b) => a === b || (!!a && !!b && sameRegion(a, b)),
  });
  protected readonly spaceHeld = signal(false);
  private panFrom: { x: number; y: number } | null = null;
  protected readonly cursor = signal('');
  private drag: StageDrag | null = null;
  private pointerId = -1;
  private readonly moves = new Moves();
  private buffers = new Map<HTMLCanvasElement, ImageData>();

  protected readonly showsHandles = computed(
    () =>
      this.workspace.step() === 'focus' && this.document.isOpen() && this.workspace.comparison() !== 'before',
  );

  protected readonly place = computed(() => {
    const region = this.shownRegion();
    const view = this.stageView.view();
    if (!region) return { left: 0, top: 0, width: 0, height: 0 };
    return placeRegion(region, view, this.document.size(), this.stageView.pixelRatio());
  });
  protected readonly zoomPercent = computed(() =>
    Math.round(this.stageView.view().zoom * this.stageView.pixelRatio() * 100),
  );
  protected readonly atFull = computed(
    () => Math.abs(this.stageView.view().zoom * this.stageView.pixelRatio() - 1) < 1e-6,
  );
  protected readonly showsBefore = computed(() => this.workspace.comparison() !== 'after');
  protected readonly wipePercent = computed(() => Math.round(this.workspace.wipeAt() * 100));
  protected readonly wipeClip = computed(() => {
    if (this.workspace.comparison() !== 'wipe') return 'none';
    const { left, width } = this.place();
    const cut = left + width - this.workspace.wipeAt() * this.stageView.stage().width;
    return `inset(0 ${Math.max(0, cut)}px 0 0)`;
  });
  protected readonly reading = computed(() => {
    const at = this.stageView.pointer();
    const { width, height } = this.document.size();
    if (!at || at.x < 0 || at.y < 0 || at.x >= width || at.y >= height) return null;
    const haze = this.fieldView.calmField()(at.x, at.y);
    return { haze: Math.round(haze * 100), px: (haze * this.document.radiusPx()).toFixed(1) };
  });

  constructor() {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width === 0 || height === 0) return;
      this.stageView.stage.set({ width, height });
      this.findOrigin();
    });
    observer.observe(this.host);
    // In a window narrower than the layout the stage moves under the hand when the page is scrolled.
    const moved = (): void => this.findOrigin();
    addEventListener('scroll', moved, { capture: true, passive: true });
    addEventListener('resize', moved);
    inject(DestroyRef).onDestroy(() => {
      observer.disconnect();
      removeEventListener('scroll', moved, { capture: true });
      removeEventListener('resize', moved);
    });
    inject(StageRenderer);
    this.engine.paintWith((frame) => this.paint(frame));
    effect(() => {
      this.engine.picture();
      this.stageView.fit();
    });
  }

  private findOrigin(): void {
    const { left, top } = this.host.getBoundingClientRect();
    this.stageView.origin.set({ left, top });
  }

  private paint(frame: Frame): void {
    this.put(this.after().nativeElement, frame.region, frame.pixels);
    if (frame.moved) this.put(this.before().nativeElement, frame.region, frame.before());
    this.shownRegion.set(frame.region);
    this.document.hasPainted();
    performance.mark('hazy-lens-frame', { detail: frame.since });
    if (this.showsResult(frame.region)) this.thumbnails.keep(this.after().nativeElement);
  }

  /** True if the stage shows the whole finished picture. */
  private showsResult(region: Region): boolean {
    const { workspace } = this;
    return (
      region.width === region.picture.width &&
      region.height === region.picture.height &&
      !workspace.hazeMap() &&
      !workspace.exaggerated()
    );
  }

  private put(canvas: HTMLCanvasElement, { width, height }: Region, pixels: Uint8Array): void {
    let image = this.buffers.get(canvas);
    if (!image || image.width !== width || image.height !== height) {
      image = new ImageData(width, height);
      this.buffers.set(canvas, image);
      canvas.width = width;
      canvas.height = height;
    }
    image.data.set(pixels);
    canvas.getContext('2d', { alpha: false })!.putImageData(image, 0, 0);
  }

  @HostListener('wheel', ['$event'])
  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    const at = this.stageView.fromPointer(event);
    const pixels = event.deltaMode === 1 ? event.deltaY * 16 : event.deltaY;
    this.stageView.zoomTo(this.stageView.view().zoom * Math.exp(-pixels * 0.0016), at.x, at.y);
  }

  @HostListener('pointerdown', ['$event'])
  protected pointerDown(event: PointerEvent): void {
    // A second finger does not take a drag over.
    if (this.drag || this.panFrom) return;
    const pans = event.button === 1 || (event.button === 0 && this.spaceHeld());
    if (!pans && (event.button !== 0 || !this.takesHand(event))) return;
    event.preventDefault();
    this.host.setPointerCapture(event.pointerId);
    this.pointerId = event.pointerId;
    if (pans) this.panFrom = { x: event.clientX, y: event.clientY };
    else this.drag = this.startDrag(event);
  }

  /** True for a hand on the picture itself, not on a control over it. */
  private takesHand(event: PointerEvent): boolean {
    const target = event.target as HTMLElement;
    return this.showsHandles() && !target.closest('footer, .wipe, .grip, .mark');
  }

  private startDrag(event: PointerEvent): StageDrag | null {
    const at = this.stageView.pictureAt(event);
    const handles = this.handles();
    if (!this.tools.takesAll && handles && !this.workspace.handlesHidden()) {
      const hit = handles.hit(this.stageView.fromPointer(event));
      if (hit && 'grip' in hit) return handles.dragOf(hit.grip, at);
      if (hit) {
        this.workspace.chooseBand(hit.band.id);
        return null;
      }
    }
    return this.tools.start(at, event);
  }

  @HostListener('pointermove', ['$event'])
  protected pointerMove(event: PointerEvent): void {
    if (this.isOther(event)) return;
    this.stageView.pointer.set(this.stageView.pictureAt(event));
    if (this.panFrom) {
      this.stageView.pan(event.clientX - this.panFrom.x, event.clientY - this.panFrom.y);
      this.panFrom = { x: event.clientX, y: event.clientY };
    } else if (this.drag) this.dragOn(event);
    else this.cursor.set(this.cursorFor(event));
  }

  /** All the places a hand went through since the last event: a quick stroke stays round. */
  private dragOn(event: PointerEvent): void {
    const all = event.getCoalescedEvents?.() ?? [];
    for (const one of all.length > 0 ? all : [event])
      if (this.moves.isNew(one)) this.drag!.move(this.stageView.pictureAt(one), event);
  }

  private cursorFor(event: PointerEvent): string {
    if (!this.takesHand(event)) return '';
    const { kind } = this.workspace.chosen();
    if (this.workspace.placing()) return 'crosshair';
    if (kind === 'brush' || kind === 'matte') return 'none';
    const hit = this.workspace.handlesHidden()
      ? null
      : this.handles()?.hit(this.stageView.fromPointer(event));
    if (hit) return 'grip' in hit ? 'move' : 'pointer';
    return kind === 'soundings' || kind === 'depth' ? 'crosshair' : '';
  }

  /** True for a pointer that is not the one that drags. */
  private isOther(event: PointerEvent): boolean {
    return (this.drag !== null || this.panFrom !== null) && event.pointerId !== this.pointerId;
  }

  @HostListener('pointerup', ['$event'])
  @HostListener('pointercancel', ['$event'])
  protected pointerUp(event: PointerEvent): void {
    if (this.isOther(event)) return;
    this.panFrom = null;
    this.drag?.end();
    this.drag = null;
  }

  @HostListener('pointerleave')
  protected pointerLeave(): void {
    this.stageView.pointer.set(null);
  }

  @HostListener('document:keydown', ['$event'])
  protected key(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    if (
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      target.closest('input, textarea, select, [role=dialog], [role=menu]')
    )
      return;
    if (event.key === ' ' && !target.closest('button, summary')) {
      event.preventDefault();
      this.spaceHeld.set(true);
    } else if (event.key === 'f') this.stageView.fit();
    else if (event.key === '1') this.stageView.zoomTo(1 / this.stageView.pixelRatio());
    else if (event.key === '+' || event.key === '=') this.stageView.zoomTo(this.stageView.view().zoom * 1.25);
    else if (event.key === '-') this.stageView.zoomTo(this.stageView.view().zoom / 1.25);
  }

  /** The keyboard's hand: arrow keys move it over the picture, Enter puts it down. */
  protected handKey(event: KeyboardEvent): void {
    const step = arrowOf(event);
    const { width, height } = this.document.size();
    const at = this.stageView.pointer() ?? { x: width / 2, y: height / 2 };
    if (step) {
      const by = factor(event) * (this.document.diagonal() / 200);
      this.stageView.pointer.set({
        x: Math.min(width, Math.max(0, at.x + step[0] * by)),
        y: Math.min(height, Math.max(0, at.y + step[1] * by)),
      });
    } else if (event.key === 'Enter' && this.showsHandles()) {
      this.stageView.pointer.set(at);
      this.tools.start(at, event)?.end();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  @HostListener('document:keyup', ['$event'])
  protected keyUp(event: KeyboardEvent): void {
    if (event.key === ' ') this.spaceHeld.set(false);
  }

  protected startWipe(event: PointerEvent): void {
    if (event.button !== 0) return;
    event.preventDefault();
    (event.currentTarget as HTMLElement).focus();
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  }

  protected moveWipe(event: PointerEvent): void {
    if (!(event.currentTarget as HTMLElement).hasPointerCapture(event.pointerId)) return;
    const at = this.stageView.fromPointer(event).x / this.stageView.stage().width;
    this.workspace.wipeAt.set(Math.min(1, Math.max(0, at)));
  }

  protected wipeKey(event: KeyboardEvent): void {
    const direction = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!direction) return;
    event.preventDefault();
    this.workspace.wipeAt.update((at) =>
      Math.min(1, Math.max(0, at + direction * (event.shiftKey ? 0.1 : 0.01))),
    );
  }
}
