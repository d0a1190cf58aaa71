import { Injectable, inject, signal } from '@angular/core';
import {
  SCENE_LONG_EDGE_PX,
  LOOK_PARTS,
  neutralRecipe,
  parseRecipe,
  suggestBand,
  withParts,
} from '@hazy-lens/core';
import type { Picture } from '../../engine/picture';
import { RenderPool } from '../../engine/pool';
import { Rasters } from '../../engine/rasters';
import type { ProjectDocument } from '../../model/project';
import { startingRecipe } from '../../model/starting-recipe';
import { Recipes } from '../../storage/recipes';
import { remember, remembered } from '../../storage/remembered';

const KEY = 'hazy-lens-new-start';
const WHOLE = { x: 0, y: 0, width: 1, height: 1 };

/** What a new picture starts with: the band that its scene suggests, nothing at all, or a recipe of the shelf by its id. */
@Injectable({ providedIn: 'root' })
export class NewStart {
  private readonly recipes = inject(Recipes);
  private readonly rasters = inject(Rasters);
  private readonly pool = inject(RenderPool);
  private readonly chosen = signal(remembered(KEY) ?? 'band');
  readonly choice = this.chosen.asReadonly();

  choose(choice: string): void {
    this.chosen.set(choice);
    remember(KEY, choice);
  }

  /** @param first its first frame. */
  async workFor(first: Picture): Promise<ProjectDocument> {
    const choice = this.chosen();
    if (choice === 'nothing') return { recipe: neutralRecipe() };
    if (choice !== 'band') {
      const stored = await this.recipes.get(choice);
      // Crop, mends and what is cut out are another picture's.
      if (stored)
        return { recipe: withParts(neutralRecipe(), parseRecipe(stored.recipe), new Set(LOOK_PARTS)) };
    }
    return { recipe: await this.suggested(first) };
  }

  /** The suggested band with a moderate blur; a scene that cannot be read has the band across its middle. */
  private async suggested(picture: Picture): Promise<ProjectDocument['recipe']> {
    const recipe = startingRecipe();
    try {
      const pixels = await picture.pixels(this.pool, WHOLE, SCENE_LONG_EDGE_PX);
      const suit = await this.rasters.remote.suit(pixels);
      const band = suggestBand(suit, picture, recipe.focus.bands[0]!.id);
      return { ...recipe, focus: { ...recipe.focus, bands: [band] } };
    } catch {
      return recipe;
    }
  }
}
