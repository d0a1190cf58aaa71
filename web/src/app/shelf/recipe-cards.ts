import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput } from '@angular/material/input';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { LOOK_PARTS, type RecipePart } from '@hazy-lens/core';
import { PART_NAMES } from '../model/part-names';
import { Notices } from '../project/session/notices';
import { OpenProject } from '../project/session/open-project';
import { withErrorNotice } from '../project/session/report-errors';
import { RecipeShelf } from '../project/recipes/recipe-shelf';
import { type StoredRecipe, Recipes } from '../storage/recipes';
import { signalFrom } from '../ui/from-observable';
import { NameField } from '../ui/name-field';
import { BlobImage } from './blob-image';
import { shelfWords } from '../words/shelf';

/** The recipes that were saved under a name: used on the open picture whole or in parts. */
@Component({
  selector: 'hl-recipe-cards',
  imports: [
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatFormField,
    MatIcon,
    MatIconButton,
    MatInput,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatTooltip,
    NameField,
    BlobImage,
  ],
  templateUrl: './recipe-cards.html',
  styleUrls: ['./shelf.scss', './recipe-cards.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecipeCards {
  protected readonly words = shelfWords;
  protected readonly project = inject(OpenProject);
  private readonly recipes = inject(Recipes);
  private readonly shelf = inject(RecipeShelf);
  private readonly notices = inject(Notices);
  private readonly dialog = inject<MatDialogRef<unknown>>(MatDialogRef);
  protected readonly parts = PART_NAMES;
  /** What of a recipe is used. */
  protected readonly chosen = signal<readonly RecipePart[]>([...LOOK_PARTS]);
  protected readonly kept = signalFrom<{ all: readonly StoredRecipe[]; removed: readonly StoredRecipe[] }>(
    this.recipes.shelf(),
    { all: [], removed: [] },
  );
  protected readonly renaming = signal<string | null>(null);
  protected readonly isKeeping = signal(false);

  protected async keep(name: string): Promise<void> {
    if (this.isKeeping()) return;
    this.isKeeping.set(true);
    await this.change(() => this.shelf.keep(name || this.project.state().name));
    this.isKeeping.set(false);
  }

  protected async use(recipe: StoredRecipe): Promise<void> {
    await this.shelf.use(recipe, new Set(this.chosen()));
    this.dialog.close();
  }

  protected rename({ id }: StoredRecipe, name: string): Promise<void> {
    return this.change(() => this.recipes.rename(id, name));
  }

  protected remove({ id }: StoredRecipe): Promise<void> {
    return this.change(() => this.recipes.remove(id));
  }

  protected restore({ id }: StoredRecipe): Promise<void> {
    return this.change(() => this.recipes.restore(id));
  }

  private change(work: () => Promise<unknown>): Promise<void> {
    return withErrorNotice(this.notices, shelfWords.deleteAProjectToMake, work);
  }
}
