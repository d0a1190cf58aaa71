import { Injectable, inject } from '@angular/core';
import {
  ALIGN_EDGE,
  type Companions,
  type Kept,
  type MattePicture,
  type Pixels,
  type Raster,
  type Recipe,
  carriesMattes,
} from '@hazy-lens/core';
import { Engine } from './engine';
import type { Picture } from './picture';
import { LookTables } from './look-tables';
import { Rasters } from './rasters';

type Mattes = Recipe['focus']['mattes'];

const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

/** What the files that a recipe names are on a picture. */
@Injectable({ providedIn: 'root' })
export class RecipeCompanions {
  private readonly engine = inject(Engine);
  private readonly rasters = inject(Rasters);
  private readonly tables = inject(LookTables);
  private guide: { picture: Picture; pixels: Promise<Pixels> } | null = null;

  /** A depth map, its edges aligned with the picture's. @throws Error with a sentence where it cannot be had. */
  async depth(image: string, align: number, picture: Picture): Promise<Raster> {
    const map = await this.rasters.get(image);
    return align > 0 ? this.rasters.remote.align(map, await this.guideOf(picture), align) : map;
  }

  /** What all mattes that are on keep clear, at most `edge` long, together or `apart`. @throws as `depth`. */
  async keep(mattes: Mattes, edge: number, apart: boolean): Promise<Kept[]> {
    const on = mattes.filter((matte) => matte.on);
    if (on.length === 0) return [];
    const list: MattePicture[] = await Promise.all(
      on.map(async (how) => ({ how, picture: await this.rasters.get(how.image) })),
    );
    return this.rasters.remote.kept(list, edge, apart);
  }

  /** All of them, pictures at full size. @throws as `depth`. */
  async of(recipe: Recipe, picture: Picture): Promise<Companions> {
    const { depthMap, mattes } = recipe.focus;
    const { look } = recipe.colour;
    const depth = depthMap ? await this.depth(depthMap.image, depthMap.align, picture) : null;
    const keep = await this.keep(mattes, Math.max(picture.width, picture.height), carriesMattes(recipe));
    const table = look?.image === undefined ? null : await this.tables.get(look.image);
    return { depth, keep, table };
  }

  private guideOf(picture: Picture): Promise<Pixels> {
    if (this.guide?.picture !== picture)
      this.guide = { picture, pixels: picture.pixels(this.engine.pool, WHOLE, ALIGN_EDGE) };
    return this.guide.pixels;
  }
}
