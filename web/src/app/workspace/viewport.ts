import { Injectable, computed, inject, linkedSignal } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { type Size, cropKey, toPicture, toCrop, fullCrop } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { ViewStore } from './view-store';
import { PixelRatio } from './pixel-ratio';
import { type ViewTransform, fitView, clampView, zoomAt } from './view-transform';

interface ViewportState {
  stage: Size;
  /** Where the stage begins in the window: kept, since asking the page while it changes makes it lay out twice. */
  origin: { left: number; top: number };
  /** The pointer in pixels of the picture, or null where it is elsewhere. */
  pointer: { x: number; y: number } | null;
  /** The arrow keys moved it: there is no pointer of the system to see. */
  isByKeys: boolean;
}

/** Where the picture lies on the stage; shared by the stage, the handles and the profile rail. */
@Injectable()
export class Viewport {
  private readonly project = inject(OpenProject);
  private readonly viewStore = inject(ViewStore);
  private readonly state = signalState<ViewportState>({
    stage: { width: 800, height: 600 },
    origin: { left: 0, top: 0 },
    pointer: null,
    isByKeys: false,
  });
  readonly stage = this.state.stage;
  readonly origin = this.state.origin;
  /** Pixels of the display to one of the page: it changes with the browser's zoom and from display to display. */
  readonly pixelRatio = inject(PixelRatio).value;
  /** What of the picture is on the stage: while it is being tidied, all of it. */
  readonly sheet = computed(() =>
    this.viewStore.step() === 'tidy' ? fullCrop(this.project.size()) : this.project.sheet(),
  );
  /** How the sheet lies on the stage; null while it is fitted, as it is when another comes. */
  private readonly chosen = linkedSignal<string, ViewTransform | null>({
    source: () => cropKey(this.sheet()),
    computation: () => null,
  });
  readonly view = computed<ViewTransform>(() => this.chosen() ?? fitView(this.stage(), this.sheet()));
  readonly isFitted = computed(() => this.chosen() === null);
  readonly pointer = this.state.pointer;
  readonly isByKeys = this.state.isByKeys;

  set(change: Partial<Pick<ViewportState, 'stage' | 'origin'>>): void {
    patchState(this.state, change);
  }

  /** Puts the hand on a place of the picture, in its pixels. */
  pointAt(pointer: { x: number; y: number }, isByKeys: boolean): void {
    patchState(this.state, { pointer, isByKeys });
  }

  /** The hand is elsewhere. */
  pointAway(): void {
    patchState(this.state, { pointer: null });
  }

  fit(): void {
    this.chosen.set(null);
  }

  /** Zooms with a point of the stage held; the middle where none is given. */
  zoomTo(zoom: number, x = this.stage().width / 2, y = this.stage().height / 2): void {
    this.choose(zoomAt(this.view(), zoom, x, y));
  }

  pan(dx: number, dy: number): void {
    const { zoom, x, y } = this.view();
    this.choose({ zoom, x: x + dx, y: y + dy });
  }

  /** A pointer's place on the stage. */
  fromPointer(event: { clientX: number; clientY: number }): { x: number; y: number } {
    const { left, top } = this.origin();
    return { x: event.clientX - left, y: event.clientY - top };
  }

  /** A pointer's place in pixels of the picture. */
  pictureAt(event: { clientX: number; clientY: number }): { x: number; y: number } {
    const at = this.fromPointer(event);
    return this.toPicture(at.x, at.y);
  }

  toPicture(x: number, y: number): { x: number; y: number } {
    const at = this.toSheet(x, y);
    const [px, py] = toPicture(this.sheet(), [at.x, at.y]);
    return { x: px, y: py };
  }

  /** A place of the picture, in its pixels, on the stage. */
  toStage(x: number, y: number): { x: number; y: number } {
    const [sx, sy] = toCrop(this.sheet(), [x, y]);
    return this.fromSheet(sx, sy);
  }

  /** A place of the stage in pixels of the sheet. */
  toSheet(x: number, y: number): { x: number; y: number } {
    const view = this.view();
    return { x: (x - view.x) / view.zoom, y: (y - view.y) / view.zoom };
  }

  /** A place of the sheet, in its pixels, on the stage. */
  fromSheet(x: number, y: number): { x: number; y: number } {
    const view = this.view();
    return { x: x * view.zoom + view.x, y: y * view.zoom + view.y };
  }

  /** A pointer's place in pixels of the sheet. */
  sheetAt(event: { clientX: number; clientY: number }): { x: number; y: number } {
    const at = this.fromPointer(event);
    return this.toSheet(at.x, at.y);
  }

  /** The direction on the stage, in degrees, of a line that has an angle on the picture. */
  angleOnStage(deg: number): number {
    const { turn, flip } = this.sheet();
    return flip ? turn - deg : deg - turn;
  }

  private choose(view: ViewTransform): void {
    this.chosen.set(clampView(view, this.stage(), this.sheet()));
  }
}
