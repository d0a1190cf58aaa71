import {
  type Content,
  type RenderSettings,
  type PixelFormat,
  type Region,
  SharedRenderer,
  type View,
  blurOf,
  diagonal,
  hasDepth,
} from '@hazy-lens/core';
import type { RegionReader } from './region-reader';
import type { RenderPool } from './pool';

const RGBA = { channels: 4, bytes: 1 } as const;
/** Blur that is prepared for in advance, as a multiple of the recipe's: so that exaggerating only mixes anew. */
const HEADROOM = 4;
/** Least radius of blur that is prepared for, in pixels. */
const LEAST = 4;

/**
 * A part of a picture at one scale, with its blur levels kept by the workers: preparing costs as much as a whole
 * render, drawing another focus or colour after that only mixes.
 */
export class RegionRenderer {
  private readonly renderer: SharedRenderer;
  private view: (View & { readFormat: PixelFormat }) | null = null;
  private picture: RegionReader | null = null;
  /** Counts how often it was closed. */
  private closings = 0;

  /** @param isDraft see `View`. */
  constructor(
    private readonly pool: RenderPool,
    private readonly isDraft = false,
  ) {
    this.renderer = new SharedRenderer(pool);
  }

  /** True if `draw` can go ahead for this view and look. */
  isReady(picture: RegionReader, region: Region, look: RenderSettings): boolean {
    return this.picture === picture && this.fits(picture, region, look);
  }

  /** True where the memory that is laid out serves: another frame of the same footage only takes the place of the last. */
  private fits(picture: RegionReader, region: Region, look: RenderSettings): boolean {
    const { blur } = look;
    const { view } = this;
    return (
      view !== null &&
      view.readFormat === picture.readFormat &&
      sameRegion(view.region, region) &&
      view.blur === blur.kind &&
      view.hasDepth === hasDepth(look) &&
      blurOf(blur).strength(blur, region.picture) <= view.most
    );
  }

  /** Makes the view ready for `draw`; true if it was already. */
  async prepare(picture: RegionReader, region: Region, look: RenderSettings): Promise<boolean> {
    if (this.isReady(picture, region, look)) return true;
    const { pool, renderer, closings } = this;
    const { blur } = look;
    const strengthOf = (radius: number): number =>
      blurOf(blur).strength({ ...blur, on: true, radius }, region.picture);
    const view = this.fits(picture, region, look)
      ? this.view!
      : {
          region,
          readFormat: picture.readFormat,
          input: picture.readFormat,
          output: RGBA,
          scale: region.picture.width / picture.width,
          hasDepth: hasDepth(look),
          blur: look.blur.kind,
          most: strengthOf(Math.max(LEAST / diagonal(region.picture), blur.radius * HEADROOM)),
          stripRows: Math.ceil(region.height / pool.runners.length),
          isDraft: this.isDraft,
          slots: 1,
        };
    const isOpen = view === this.view;
    // Until all is in place the renderer holds neither view.
    this.view = null;
    if (!isOpen) await renderer.open(view);
    await picture.readRegion(pool, region, renderer.input(0));
    this.picture = picture;
    await renderer.prepare(this.job(look, 'picture'));
    // Closed meanwhile, it stays closed.
    if (closings === this.closings) this.view = view;
    return false;
  }

  /** Draws the prepared view; the pixels stay valid until the next call. */
  async draw(look: RenderSettings, content: Content, frame = 0): Promise<Uint8Array> {
    const { renderer } = this;
    const job = { ...this.job(look, content), frame };
    const answered = renderer.render(job);
    answered.catch(() => undefined);
    return Promise.race([answered, atNextFrame(() => renderer.isDone(job)).then(() => renderer.output(0))]);
  }

  /** Lets go of its memory. */
  close(): Promise<void> {
    this.view = null;
    this.closings++;
    return this.renderer.close();
  }

  private job(look: RenderSettings, content: Content) {
    return { slot: 0, source: this.picture!.id, look, content };
  }

  /** The view's picture as it came, 8 bits a channel. */
  source(): Uint8Array {
    return this.picture!.shown(this.renderer.input(0));
  }
}

/**
 * Ends at the start of the next frame if `isDone` then: the workers' answers may be waiting behind that frame, and the
 * picture would miss it.
 */
function atNextFrame(isDone: () => boolean): Promise<void> {
  return new Promise((resolve) => requestAnimationFrame(() => isDone() && resolve()));
}

export function sameRegion(a: Region, b: Region): boolean {
  return (
    a.x === b.x &&
    a.y === b.y &&
    a.width === b.width &&
    a.height === b.height &&
    a.picture.width === b.picture.width &&
    a.picture.height === b.picture.height
  );
}
