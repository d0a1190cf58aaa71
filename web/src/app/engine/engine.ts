import { Injectable, signal } from '@angular/core';
import type { Look, Region, StripContent } from '@hazy-lens/core';
import { decodeFile } from './codec';
import { Picture } from './picture';
import { RenderPool } from './pool';
import { ViewRender, sameRegion } from './view-render';

/** What the stage wants to see. */
export interface ViewRequest {
  region: Region;
  look: Look;
  content: StripContent;
  /** When the newest change in it was made, on the page's clock. */
  since: number;
}

/** Pixels for the stage: RGBA of a region, to be shown at once (they are overwritten by the next frame). */
export interface Frame {
  region: Region;
  pixels: Uint8Array;
  /** The picture as it came, for comparing. */
  before: Uint8Array;
  /** True where the region differs from the last frame's. */
  moved: boolean;
  since: number;
}

/** Where fine frames take longer than this they make way for drafts while a hand moves. */
const DRAFT_ABOVE_MS = 32;
/** Share of the newest frame in what a fine frame is expected to take: one late frame says little. */
const NEWEST_SHARE = 0.25;
/** A hand rests when nothing changed for so long. */
const REST_MS = 110;
const DRAFT_SCALE = 0.5;

/** Renders what the stage shows: one frame at a time, always for the newest request. */
@Injectable({ providedIn: 'root' })
export class Engine {
  readonly pool = new RenderPool();
  readonly picture = signal<Picture | null>(null);
  /** True while the stage shows less than the fine picture. */
  readonly busy = signal(false);
  private readonly fine = new ViewRender(this.pool, 'fine');
  private readonly draft = new ViewRender(this.pool, 'draft');
  private wanted: ViewRequest | null = null;
  private shown: { region: Region; picture: Picture } | null = null;
  private running = false;
  private fineMs = 0;
  private restTimer = 0;
  private show: (frame: Frame) => void = () => undefined;

  /** True while a picture is on its way. */
  get isAnswering(): boolean {
    return this.running;
  }

  /** Who paints the frames. */
  paintWith(show: (frame: Frame) => void): void {
    this.show = show;
  }

  /** Decodes a picture for `show`. @throws Error with a sentence that names the file. */
  async load(file: Blob, name: string): Promise<{ picture: Picture; type: string }> {
    const decoded = await decodeFile(file, name);
    return { picture: await Picture.from(decoded, this.pool), type: decoded.type };
  }

  /** Makes a picture the one in view. */
  open(picture: Picture): void {
    this.picture.set(picture);
    this.fineMs = 0;
  }

  request(request: ViewRequest): void {
    this.wanted = request;
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
    } finally {
      this.running = false;
    }
  }

  private async frame(picture: Picture, request: ViewRequest): Promise<void> {
    const resting = performance.now() - request.since > REST_MS;
    const asDraft = !resting && this.fineMs > DRAFT_ABOVE_MS;
    const view = asDraft ? this.draft : this.fine;
    const region = asDraft ? scaled(request.region, DRAFT_SCALE) : request.region;
    this.busy.set(true);
    const wasReady = await view.prepare(picture, region, request.look);
    const started = performance.now();
    const pixels = await view.draw(request.look, request.content);
    // The first frame of a view also makes its blur levels: that says nothing about the next.
    if (!asDraft && wasReady) this.fineMs += (performance.now() - started - this.fineMs) * NEWEST_SHARE;
    const moved = !this.shown || this.shown.picture !== picture || !sameRegion(this.shown.region, region);
    this.shown = { region, picture };
    this.show({ region, pixels, before: view.pixels('source'), moved, since: request.since });
    this.busy.set(asDraft);
    if (asDraft && !this.wanted) {
      this.restTimer = window.setTimeout(() => this.request({ ...request, since: 0 }), REST_MS);
    }
  }
}

/** The same part of the picture at a fraction of the size. */
function scaled(region: Region, by: number): Region {
  const picture = {
    width: Math.max(1, Math.round(region.picture.width * by)),
    height: Math.max(1, Math.round(region.picture.height * by)),
  };
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
