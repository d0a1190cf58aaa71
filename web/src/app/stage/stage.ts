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
import { type Recipe, type Region, fullSigma, hazeField } from '@hazy-lens/core';
import { Engine, type Frame } from '../engine/engine';
import { sameRegion } from '../engine/view-render';
import { Document } from '../state/document';
import { Thumbnails } from '../storage/thumbnails';
import { Workspace } from '../state/workspace';
import { BandHandles } from './band-handles';
import { StageView } from './stage-view';
import { placeRegion, regionFor } from './view';

/** How much stronger the blur is shown while exaggerated. */
const EXAGGERATION = 4;

/** The picture on neutral grey, with its handles, the wipe and the readings. */
@Component({
  selector: 'hl-stage',
  imports: [BandHandles],
  template: `
    <div class="picture" [class.grab]="spaceHeld()" [class.pixels]="stageView.view().zoom > 2">
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
    @if (workspace.step() === 'focus' && document.isOpen() && workspace.comparison() !== 'before') {
      <hl-band-handles
        [class.faded]="workspace.sliding() || workspace.handlesHidden()"
        [class.off]="workspace.handlesHidden()"
      />
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
        (click)="stageView.zoomTo(1 / ratio)"
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
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly after = viewChild.required<ElementRef<HTMLCanvasElement>>('after');
  private readonly before = viewChild.required<ElementRef<HTMLCanvasElement>>('before');
  protected readonly exaggeration = EXAGGERATION;
  protected readonly ratio = window.devicePixelRatio || 1;
  private readonly shownRegion = signal<Region | null>(null, {
    equal: (a, b) => a === b || (!!a && !!b && sameRegion(a, b)),
  });
  protected readonly spaceHeld = signal(false);
  private panFrom: { x: number; y: number } | null = null;
  private buffers = new Map<HTMLCanvasElement, ImageData>();
  private lastRegion: Region | null = null;

  private readonly shownRecipe = computed<Recipe>(() => {
    const recipe = this.document.recipe();
    if (!this.workspace.exaggerated()) return recipe;
    return { ...recipe, blur: { ...recipe.blur, radius: Math.min(0.1, recipe.blur.radius * EXAGGERATION) } };
  });

  protected readonly place = computed(() => {
    const region = this.shownRegion();
    const view = this.stageView.view();
    if (!region) return { left: 0, top: 0, width: 0, height: 0 };
    return placeRegion(region, view, this.document.size(), this.ratio);
  });
  protected readonly zoomPercent = computed(() => Math.round(this.stageView.view().zoom * this.ratio * 100));
  protected readonly atFull = computed(() => Math.abs(this.stageView.view().zoom * this.ratio - 1) < 1e-6);
  protected readonly showsBefore = computed(() => this.workspace.comparison() !== 'after');
  protected readonly wipePercent = computed(() => Math.round(this.workspace.wipeAt() * 100));
  protected readonly wipeClip = computed(() => {
    if (this.workspace.comparison() !== 'wipe') return 'none';
    const { left, width } = this.place();
    const cut = left + width - this.workspace.wipeAt() * this.stageView.stage().width;
    return `inset(0 ${Math.max(0, cut)}px 0 0)`;
  });
  private readonly field = computed(() => hazeField(this.document.recipe().focus, this.document.size()));
  protected readonly reading = computed(() => {
    const at = this.stageView.pointer();
    const { width, height } = this.document.size();
    if (!at || at.x < 0 || at.y < 0 || at.x >= width || at.y >= height) return null;
    const haze = this.field()(at.x, at.y);
    return { haze: Math.round(haze * 100), px: (haze * this.document.radiusPx()).toFixed(1) };
  });

  constructor() {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      if (width === 0 || height === 0) return;
      this.stageView.stage.set({ width, height });
      const { left, top } = this.host.getBoundingClientRect();
      this.stageView.origin.set({ left, top });
    });
    observer.observe(this.host);
    inject(DestroyRef).onDestroy(() => observer.disconnect());
    this.engine.paintWith((frame) => this.paint(frame));
    effect(() => {
      this.engine.picture();
      this.lastRegion = null;
      this.stageView.fit();
    });
    effect(() => {
      const picture = this.engine.picture();
      const recipe = this.shownRecipe();
      if (!picture || !this.document.isOpen()) return;
      const sigma = (size: { width: number; height: number }): number => fullSigma(recipe.blur, size);
      const region = regionFor(
        this.stageView.view(),
        this.stageView.stage(),
        picture,
        this.ratio,
        sigma,
        this.lastRegion,
      );
      this.lastRegion = region;
      this.engine.request({
        region,
        recipe,
        content: this.workspace.hazeMap() ? 'haze-map' : 'picture',
        since: performance.now(),
      });
    });
  }

  private paint(frame: Frame): void {
    this.put(this.after().nativeElement, frame.region, frame.pixels);
    if (frame.moved) this.put(this.before().nativeElement, frame.region, frame.before);
    this.shownRegion.set(frame.region);
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
    if (event.button !== 1 && !(event.button === 0 && this.spaceHeld())) return;
    event.preventDefault();
    this.host.setPointerCapture(event.pointerId);
    this.panFrom = { x: event.clientX, y: event.clientY };
  }

  @HostListener('pointermove', ['$event'])
  protected pointerMove(event: PointerEvent): void {
    const at = this.stageView.fromPointer(event);
    this.stageView.pointer.set(this.stageView.toPicture(at.x, at.y));
    if (!this.panFrom) return;
    this.stageView.pan(event.clientX - this.panFrom.x, event.clientY - this.panFrom.y);
    this.panFrom = { x: event.clientX, y: event.clientY };
  }

  @HostListener('pointerup')
  @HostListener('pointercancel')
  protected pointerUp(): void {
    this.panFrom = null;
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
    else if (event.key === '1') this.stageView.zoomTo(1 / this.ratio);
    else if (event.key === '+' || event.key === '=') this.stageView.zoomTo(this.stageView.view().zoom * 1.25);
    else if (event.key === '-') this.stageView.zoomTo(this.stageView.view().zoom / 1.25);
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
