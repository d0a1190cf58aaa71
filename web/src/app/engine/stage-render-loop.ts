import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import {
  type Content,
  type RenderSettings,
  type Region,
  type CropGeometry,
  settingsKey,
  scaledSize,
} from '@hazy-lens/core';
import { type RegionReader, onSheet } from './region-reader';
import { Display } from './display';
import type { MediaSource } from './media-source';
import { KeptFrames } from './kept-frames';
import type { Picture } from './picture';
import { RenderPool } from './pool';
import { RegionRenderer, sameRegion } from './region-renderer';
import { reasonOf } from '../model/causes';

/** What the stage wants to see. */
export interface ViewRequest {
  /** What is shown of the picture. */
  sheet: CropGeometry;
  /** The part of that to be seen. */
  region: Region;
  look: RenderSettings;
  content: Content;
  /** Number of the frame of footage in view. */
  frame: number;
  /** When the newest change in it was made, on the page's clock; 0 where the hand rests. */
  since: number;
  /**
   * Footage plays: every picture is a fine one, and is kept for the next round unless it is compared with how it came.
   * Null where it stands.
   */
  playing: { scale: number; compares: boolean } | null;
}

/** Pixels for the stage: RGBA of a region, to be shown at once (they are overwritten by the next frame). */
export interface Frame {
  region: Region;
  pixels: Uint8Array;
  /** Those of the picture as it came, and of the pixels. */
  primaries: RenderSettings['primaries'];
  /** The picture as it came, for comparing. */
  before: () => Uint8Array;
  /** True where the region differs from the last frame's. */
  moved: boolean;
  since: number;
}

/** Share of the display's frame that a fine picture may take while a hand moves: the page needs the rest. */
const RENDER_SHARE = 0.55;
/** Share of the newest frame in what a fine frame is expected to take: one late frame says little. */
const NEWEST_SHARE = 0.25;
/** A hand rests when nothing changed for so long. */
const REST_MS = 110;
const DRAFT_SCALE = 0.5;

/**
 * Renders what the stage shows of one project: one frame at a time, always for the newest request. It holds the project's
 * material, and lets go of it when the project closes.
 */
@Injectable()
export class StageRenderLoop {
  private readonly display = inject(Display);
  readonly pool = inject(RenderPool);
  private readonly opened = signal<{ material: MediaSource; first: Picture; letGo: () => void } | null>(null);
  /** What is open. */
  readonly material = computed(() => this.opened()?.material ?? null);
  /** The frame of it that was opened: depth maps are laid over this one. */
  readonly guide = computed(() => this.opened()?.first ?? null);
  private readonly inView = signal<Picture | null>(null);
  /** The frame of it that is in view. */
  readonly picture = this.inView.asReadonly();
  private readonly kept = new KeptFrames();
  private awaited: { picture: Picture; resolve: () => void } | null = null;
  /** True while the stage shows other than the fine picture that was asked for. */
  readonly busy = signal(false);
  private readonly fine = new RegionRenderer(this.pool);
  private readonly draft = new RegionRenderer(this.pool, true);
  private wanted: ViewRequest | null = null;
  private shown: { region: Region; picture: RegionReader } | null = null;
  private running = false;
  private fineMs = 0;
  private restTimer = 0;
  private paint: (frame: Frame) => void = () => undefined;
  private fail: (message: string) => void = () => undefined;
  private isClosed = false;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.close());
  }

  /** True while a picture is on its way. */
  get isAnswering(): boolean {
    return this.running;
  }

  /** Who paints the frames, and who tells the person where that fails. */
  paintWith(show: (frame: Frame) => void, fail: (message: string) => void): void {
    this.paint = show;
    this.fail = fail;
  }

  /** Puts material in view, at its first frame; once. */
  open(material: MediaSource, first: Picture): void {
    this.opened.set({ material, first, letGo: material.hold() });
    this.inView.set(first);
  }

  private close(): void {
    this.isClosed = true;
    this.wanted = null;
    clearTimeout(this.restTimer);
    this.awaited?.resolve();
    this.opened()?.letGo();
    this.kept.clear();
    void this.fine.close();
    void this.draft.close();
  }

  /** Puts another frame of the open material in view. */
  show(picture: Picture): void {
    this.inView.set(picture);
  }

  /** Ends when a frame that was shown has been painted, or another took its place. */
  painted(picture: Picture): Promise<void> {
    this.awaited?.resolve();
    return new Promise((resolve) => (this.awaited = { picture, resolve }));
  }

  request(request: ViewRequest): void {
    if (this.isClosed) return;
    this.wanted = request;
    if (!request.playing) this.busy.set(true);
    clearTimeout(this.restTimer);
    if (!this.running) void this.run();
  }

  private async run(): Promise<void> {
    this.running = true;
    try {
      while (this.wanted) {
        const request = this.wanted;
        const picture = this.picture();
        this.wanted = null;
        if (picture) await this.frame(picture, request);
      }
    } catch (error) {
      // What was under way when the project closed has lost its renderer.
      if (this.isClosed) return;
      this.busy.set(false);
      this.fail(
        `The picture couldn’t be rendered (${reasonOf(error)}). Your project is safe; change something, or zoom, to try again.`,
      );
    } finally {
      this.running = false;
    }
  }

  /** True where a fine picture does not fit into a frame of the display. */
  private get isSlow(): boolean {
    return this.fineMs > this.display.frameMs * RENDER_SHARE;
  }

  private async frame(picture: Picture, request: ViewRequest): Promise<void> {
    const sheet = onSheet(picture, request.sheet);
    if (request.playing) await this.play(sheet, request, request.playing);
    else await this.stand(sheet, request);
    if (this.awaited?.picture !== picture) return;
    this.awaited.resolve();
    this.awaited = null;
  }

  /** A frame of footage that plays. */
  private async play(
    picture: RegionReader,
    request: ViewRequest,
    { scale, compares }: NonNullable<ViewRequest['playing']>,
  ): Promise<void> {
    const { look, content, since } = request;
    const region = scale === 1 ? request.region : scaled(request.region, scale);
    const key = [picture.id, content, JSON.stringify(region), settingsKey(look)].join();
    let pixels = compares ? undefined : this.kept.get(key);
    if (!pixels) {
      await this.fine.prepare(picture, region, look);
      pixels = this.kept.put(key, await this.fine.draw(look, content, request.frame));
    }
    this.shown = { region, picture };
    const { primaries } = look;
    this.paint({ region, pixels, primaries, before: () => this.fine.source(), moved: compares, since });
    // What stands after this may be another picture than the view holds.
    if (!compares) this.shown = null;
    this.busy.set(!!this.wanted && !this.wanted.playing);
  }

  private async stand(picture: RegionReader, request: ViewRequest): Promise<void> {
    const { region, look } = request;
    const small = scaled(region, DRAFT_SCALE);
    // A request that waited for a slow frame is old, but the hand may well move on: only the timer below says that it rests.
    const resting = request.since === 0;
    // A draft that must be made ready first helps only where the fine view must be, too.
    const isWorth = this.draft.isReady(picture, small, look) || !this.fine.isReady(picture, region, look);
    const asDraft = !resting && this.isSlow && isWorth;
    const view = asDraft ? this.draft : this.fine;
    const shown = asDraft ? small : region;
    const wasReady = await view.prepare(picture, shown, look);
    const started = performance.now();
    const pixels = await view.draw(look, request.content, request.frame);
    // The first frame of a view also makes its blur levels: that says nothing about the next.
    if (!asDraft && wasReady) this.fineMs += (performance.now() - started - this.fineMs) * NEWEST_SHARE;
    const moved = !this.shown || this.shown.picture !== picture || !sameRegion(this.shown.region, shown);
    this.shown = { region: shown, picture };
    const { primaries } = look;
    this.paint({
      region: shown,
      pixels,
      primaries,
      before: () => view.source(),
      moved,
      since: request.since,
    });
    this.busy.set(asDraft || !!this.wanted);
    if (this.wanted || this.isClosed) return;
    this.restTimer = window.setTimeout(() => {
      if (asDraft) this.request({ ...request, since: 0 });
      else void this.readyDraft(picture, request);
    }, REST_MS);
  }

  /** Makes the draft's view ready while the hand rests, so that it is there when the hand goes down. */
  private async readyDraft(picture: RegionReader, { region, look }: ViewRequest): Promise<void> {
    const small = scaled(region, DRAFT_SCALE);
    if (this.running || this.draft.isReady(picture, small, look)) return;
    this.running = true;
    try {
      await this.draft.prepare(picture, small, look);
      // Once drawn, what a draft needs is made: the hand's first one is as quick as the next.
      await this.draft.draw(look, 'picture');
    } catch {
      // Without a draft the fine picture does; what is wrong shows, and is told, there.
    } finally {
      this.running = false;
    }
    if (this.wanted) await this.run();
  }
}

/** The same part of the picture at a fraction of the size. */
function scaled(region: Region, by: number): Region {
  const picture = scaledSize(region.picture, by);
  const [fx, fy] = [picture.width / region.picture.width, picture.height / region.picture.height];
  const x = Math.floor(region.x * fx);
  const y = Math.floor(region.y * fy);
  return {
    x,
    y,
    width: Math.max(1, Math.ceil((region.x + region.width) * fx) - x),
    height: Math.max(1, Math.ceil((region.y + region.height) * fy) - y),
    picture,
  };
}
