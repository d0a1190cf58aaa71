import { Injectable, inject, signal } from '@angular/core';
import { CUT_EDGE, type Raster, type Scribble, cutWindow, makeRaster, sharedSamples } from '@hazy-lens/core';
import { Document } from '../state/document';
import { Notices } from '../state/notices';
import { Engine } from './engine';
import { Rasters } from './rasters';

/** Longest edge of a matte that is kept: as large as a picture's own detail needs it. */
const LONGEST_MATTE = 8000;
/** Size of an empty matte. */
const BLANK = 8;

/** Cuts subjects out of the open picture: a draft at once, the outline at full size soon after. */
@Injectable({ providedIn: 'root' })
export class MatteCutter {
  private readonly document = inject(Document);
  private readonly engine = inject(Engine);
  private readonly rasters = inject(Rasters);
  private readonly notices = inject(Notices);
  /** Id of the matte that is being cut, or null. */
  readonly cutting = signal<string | null>(null);
  private newest = 0;

  /** An empty matte that a recipe can name at once; its file follows. */
  blank(): string {
    const name = matteName();
    const raster = makeRaster(name, BLANK, BLANK, sharedSamples(BLANK * BLANK));
    this.rasters.show(name, raster);
    void this.rasters.remote.encode(raster.levels[0], 8).then((file) => this.rasters.put(name, raster, file));
    return name;
  }

  private scribblesOf(id: string): readonly Scribble[] | undefined {
    return this.document.recipe().focus.mattes.find((one) => one.id === id)?.scribbles;
  }

  /** Cuts a matte by its scribbles and puts the result into the recipe, in the same step back as the scribble. */
  async cut(id: string, scribbles: readonly Scribble[], label: string, gesture: string): Promise<void> {
    const picture = this.engine.picture();
    const run = ++this.newest;
    if (!picture) return;
    this.cutting.set(id);
    try {
      const { pool } = this.engine;
      const { remote } = this.rasters;
      const window = cutWindow(scribbles);
      const coarse = await picture.pixels(pool, window, CUT_EDGE);
      const cut = await remote.cut(coarse, scribbles, window);
      // A step back may have taken the scribble away meanwhile: then there is nothing to put in.
      if (run !== this.newest || this.scribblesOf(id) !== scribbles) return;
      const name = matteName();
      const scale = coarse.width / (window.width * picture.width);
      const matte = async (pixels: typeof coarse, by: number): Promise<Raster> =>
        remote.refine(name, cut, coarse, pixels, window, {
          width: Math.round(picture.width * by),
          height: Math.round(picture.height * by),
        });
      this.rasters.show(name, await matte(coarse, scale));
      this.document.edit(
        label,
        (draft) => draft.focus.mattes.filter((one) => one.id === id).forEach((one) => (one.image = name)),
        gesture,
      );
      const finest = Math.min(1, LONGEST_MATTE / Math.max(picture.width, picture.height));
      const longEdge = finest * Math.max(window.width * picture.width, window.height * picture.height);
      const fine = await matte(await picture.pixels(pool, window, longEdge), finest);
      const raster: Raster = { ...fine, id: `${name} fine` };
      await this.rasters.put(name, raster, await remote.encode(raster.levels[0], 8));
    } catch (error) {
      this.notices.error(
        `The subject could not be cut out (${(error as Error).message}). Nothing was changed.`,
      );
    } finally {
      if (run === this.newest) this.cutting.set(null);
    }
  }
}

function matteName(): string {
  return `matte-${crypto.randomUUID()}.png`;
}
