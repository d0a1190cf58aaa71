import { Injectable, inject } from '@angular/core';
import {
  ALL_PARTS,
  LOOK_PARTS,
  type Recipe,
  type RecipePart,
  neutralRecipe,
  withParts,
  referencedFiles,
  renameReferences,
} from '@hazy-lens/core';
import { LayerImages, isElementFile } from '../../engine/layer-images';
import { LutCache, isTableFile } from '../../engine/lut-cache';
import { Rasters } from '../../engine/rasters';
import { ProjectNotices } from '../session/project-notices';
import { OpenProject } from '../session/open-project';
import { isRecipeFile, recipeIn, unpackRecipe } from './recipe-files';
import { reasonOf } from '../../model/causes';
import { projectWords } from '../../words/project';

const ABOUT_PASTED = 'pasted recipe';

/** True for a recipe without anything that belongs to one picture. */
const isOfNoPicture = (recipe: Recipe): boolean => {
  const look = withParts(neutralRecipe(), recipe, LOOK_PARTS);
  return JSON.stringify(look) === JSON.stringify(withParts(look, recipe, ALL_PARTS));
};

/** Lays recipes from files over the open picture. */
@Injectable()
export class RecipeImport {
  private readonly project = inject(OpenProject);
  private readonly rasters = inject(Rasters);
  private readonly luts = inject(LutCache);
  private readonly images = inject(LayerImages);
  private readonly notices = inject(ProjectNotices);

  /** Uses the recipe that files hold. */
  open(files: readonly File[]): Promise<void> {
    const name = (files.find(isRecipeFile) ?? files[0])?.name ?? 'recipe';
    return this.apply(name, async () => {
      const { recipe, pictures } = await unpackRecipe(files);
      return renameReferences(recipe, await this.takeIn(referencedFiles(recipe), pictures));
    });
  }

  /**
   * Uses a recipe that was copied as text; false where the text is none. What belongs to the picture it was made on stays
   * away, and is offered.
   */
  paste(text: string): boolean {
    if (!text.includes('hazy-lens-recipe')) return false;
    void this.pasteParts(text, LOOK_PARTS);
    return true;
  }

  private async pasteParts(text: string, parts: ReadonlySet<RecipePart>): Promise<void> {
    let isWhole = true;
    await this.apply(
      projectWords.copiedRecipe,
      async () => {
        const recipe = await recipeIn(new Blob([text]), projectWords.theCopiedRecipe);
        const used = withParts(neutralRecipe(), recipe, parts);
        isWhole = referencedFiles(used).length === referencedFiles(recipe).length && isOfNoPicture(recipe);
        await this.takeIn(referencedFiles(used), new Map());
        return recipe;
      },
      parts,
    );
    if (isWhole || parts === ALL_PARTS) return;
    this.notices.show({
      kind: 'info',
      topic: ABOUT_PASTED,
      text: projectWords.theLookOfTheCopied,
      action: {
        label: projectWords.applyTheseToo,
        run: () => {
          this.notices.clear(ABOUT_PASTED);
          void this.pasteParts(text, ALL_PARTS);
        },
      },
    });
  }

  /**
   * Lays parts of a recipe over the open picture; all of it where nothing is said. One step back undoes it; where it
   * fails, that is told and nothing changes.
   */
  async apply(
    name: string,
    make: () => Promise<Recipe>,
    parts: ReadonlySet<RecipePart> = ALL_PARTS,
  ): Promise<void> {
    try {
      const recipe = await make();
      if (this.project.isClosed()) throw new Error(projectWords.anotherProjectWasOpenedMeanwhile);
      this.project.use(projectWords.recipe(name), withParts(this.project.keyed(), recipe, parts));
    } catch (error) {
      this.notices.error(projectWords.cantBeAppliedYourProject(name, reasonOf(error)));
    }
  }

  /** Keeps the files of a recipe under names of their own; gives the new name of each. */
  private async takeIn(
    names: readonly string[],
    pictures: ReadonlyMap<string, Blob>,
  ): Promise<Map<string, string>> {
    const own = new Map<string, string>();
    for (const name of names) {
      const file = pictures.get(name) ?? pictures.get(name.split('/').at(-1)!);
      if (file) own.set(name, await this.take(name, file));
      else if (!(await this.rasters.has(name))) throw new Error(projectWords.theRecipeNeedsSelectBoth(name));
    }
    return own;
  }

  private async take(name: string, file: Blob): Promise<string> {
    if (isElementFile(name)) return this.images.keep(file, name);
    if (isTableFile(name)) return this.luts.keep(file, name);
    const fresh = `${name.startsWith('matte') ? 'matte' : 'map'}-${crypto.randomUUID()}.png`;
    await this.rasters.put(fresh, await this.rasters.read(fresh, file, name), file);
    return fresh;
  }
}
