import { Injectable, inject } from '@angular/core';
import { type RecipePart, parseRecipe } from '@hazy-lens/core';
import { Exporter } from '../../engine/export';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { type StoredRecipe, Recipes } from '../../storage/recipes';
import { ExportInputs } from '../session/export-input';
import { OpenProject } from '../session/open-project';
import { RecipeImport } from './recipe-import';
import { renderThumbnail } from '../../engine/thumbnail';
import { projectWords } from '../../words/project';

const LONGEST_NAME = 80;

/** The recipe of the open project put on the shelf, and those on the shelf used on it. */
@Injectable()
export class RecipeShelf {
  private readonly recipes = inject(Recipes);
  private readonly project = inject(OpenProject);
  private readonly inputs = inject(ExportInputs);
  private readonly exporter = inject(Exporter);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly import = inject(RecipeImport);

  /** Keeps the open recipe under a name, with a small picture of what it makes of the open picture. */
  async keep(name: string): Promise<void> {
    await this.recipes.keep(
      name.trim().slice(0, LONGEST_NAME) || projectWords.recipeName,
      this.project.keyed(),
      await this.small(),
    );
  }

  /** Null where it cannot be rendered: the recipe is worth keeping all the same. */
  private async small(): Promise<Blob | null> {
    if (!this.renderLoop.picture()) return null;
    return this.inputs
      .source()
      .then((source) => renderThumbnail(this.exporter, source))
      .catch(() => null);
  }

  /** Uses parts of a recipe of the shelf on the open picture, as one step back. */
  use({ name, recipe }: StoredRecipe, parts: ReadonlySet<RecipePart>): Promise<void> {
    return this.import.apply(name, async () => parseRecipe(recipe), parts);
  }
}
