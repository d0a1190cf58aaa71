import { Injectable, inject } from '@angular/core';
import {
  ALIGN_LONG_EDGE_PX,
  type RecipeAssets,
  type KeepMask,
  type LoadedMatte,
  type RgbaImage,
  type Raster,
  type Recipe,
  carriesMattes,
  rasterBytes,
  standsAlone,
} from '@hazy-lens/core';
import type { Picture } from './picture';
import { RenderPool } from './pool';
import { LayerImages } from './layer-images';
import { LiftedSubjects } from './lifted-subjects';
import { LutCache } from './lut-cache';
import { Rasters } from './rasters';
import { Recent } from './recent';

type Mattes = Recipe['focus']['mattes'];

const WHOLE = { x: 0, y: 0, width: 1, height: 1 };
/** What is kept of each kind: that of one large picture at full size, and smaller ones beside it. */
const MAX_BYTES = 400_000_000;

/** What the files that a recipe names are on a picture; the last that were made are kept. */
@Injectable({ providedIn: 'root' })
export class RecipeAssetLoader {
  private readonly pool = inject(RenderPool);
  private readonly rasters = inject(Rasters);
  private readonly luts = inject(LutCache);
  private readonly images = inject(LayerImages);
  private readonly lifted = inject(LiftedSubjects);
  private readonly aligned = new Recent<string, Raster>({ mostBytes: MAX_BYTES, bytesOf: rasterBytes });
  private readonly kept = new Recent<string, KeepMask[]>({
    mostBytes: MAX_BYTES,
    bytesOf: (list) => list.reduce((sum, { raster }) => sum + rasterBytes(raster), 0),
  });
  private guide: { picture: Picture; pixels: Promise<RgbaImage> } | null = null;

  /** A depth map, its edges aligned with the picture's. @throws Error with a sentence where it cannot be had. */
  async depth(image: string, align: number, picture: Picture): Promise<Raster> {
    const map = await this.rasters.get(image);
    if (align <= 0) return map;
    return this.aligned.get([map.id, align, picture.id].join(' '), async () =>
      this.rasters.remote.align(map, await this.guideOf(picture), align),
    );
  }

  /** What all mattes that are on keep clear, at most `edge` long, together or `apart`. @throws as `depth`. */
  async keep(mattes: Mattes, edge: number, apart: boolean): Promise<KeepMask[]> {
    const on = mattes.filter((matte) => matte.on);
    if (on.length === 0) return [];
    const list: LoadedMatte[] = await Promise.all(
      on.map(async (how) => ({ how, picture: await this.rasters.get(how.image) })),
    );
    const shapes = list.map(({ how, picture }) => {
      const { id, combine, invert, grow, feather } = how;
      return [picture.id, combine, invert, grow, feather, (apart || standsAlone(how)) && id];
    });
    return this.kept.get(JSON.stringify([edge, shapes]), () => this.rasters.remote.kept(list, edge, apart));
  }

  /**
   * All of them, pictures at full size.
   * @param still the picture that subjects are lifted off, with its mends; null for footage.
   * @throws as `depth`.
   */
  async of(recipe: Recipe, picture: Picture, still: Picture | null): Promise<RecipeAssets> {
    const { depthMap, mattes } = recipe.focus;
    const { look } = recipe.colour;
    const depth = depthMap ? await this.depth(depthMap.image, depthMap.align, picture) : null;
    const keep = await this.keep(mattes, Math.max(picture.width, picture.height), carriesMattes(recipe));
    const table = look?.image === undefined ? null : await this.luts.get(look.image);
    const shown = recipe.elements.filter(({ on }) => on);
    const images = await this.images.all(shown.map(({ image }) => image));
    const lifted = await this.lifted.of(mattes, keep, still);
    return { depth, keep, table, images, lifted };
  }

  private guideOf(picture: Picture): Promise<RgbaImage> {
    if (this.guide?.picture !== picture)
      this.guide = { picture, pixels: picture.pixels(this.pool, WHOLE, ALIGN_LONG_EDGE_PX) };
    return this.guide.pixels;
  }
}
