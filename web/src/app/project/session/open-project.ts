import {
  DestroyRef,
  Injectable,
  type Signal,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
} from '@angular/core';
import {
  type Band,
  type Recipe,
  RecipeError,
  type Size,
  diagonal,
  storeEditInKeys,
  recipeAt,
  cropKey,
  cropOf,
} from '@hazy-lens/core';
import { type Action, Store } from '@ngrx/store';
import { produce } from 'immer';
import { ownerOfBand } from '../../model/elements';
import { type Project, type ProjectDocument, clampDocument } from '../../model/project';
import { ProjectActions, selectProject, steppedBack, steppedForward } from './project.reducer';
import { Playhead } from '../footage/playhead';
import { ProjectNotices } from './project-notices';
import { reasonOf, sentenceOf } from '../../model/causes';
import { projectWords } from '../../words/project';

/** While a hand drags on the picture, what stands beside it follows so often: the hand's own line comes first. */
const BEAT_MS = 220;

const sameSize = (a: Size, b: Size): boolean => a.width === b.width && a.height === b.height;

/**
 * One open project for the interface: what it is, as signals, and how it is changed. Once it is closed nothing that still
 * holds it can change what is open then.
 */
@Injectable()
export class OpenProject {
  private readonly store = inject(Store);
  private readonly notices = inject(ProjectNotices);
  private readonly playhead = inject(Playhead);
  private readonly opened = this.store.selectSignal(selectProject);
  /** As it was when it closed; null while it is open. */
  private readonly last = signal<Project | null>(null);
  readonly state = computed(() => this.last() ?? this.opened());
  /** The recipe with its keys, as it is saved. */
  readonly keyed = computed(() => this.state().work.recipe);
  /** The recipe as it is at the moment in view: numbers that have keys by these. */
  readonly recipe = computed(() => recipeAt(this.keyed(), this.playhead.time()));
  /** True while a hand drags on the picture or the profile. */
  readonly hand = signal(false);
  private readonly beat = signal(0);
  /** The recipe for what stands beside the picture: at once, but in beats while a hand drags. */
  readonly calmRecipe = this.inTimeWith(this.beat);
  private readonly painted = signal(0);
  /**
   * The recipe for the lines on the picture: at once, but while a hand drags with each picture that is painted. So both
   * move together, and the page is laid out once a picture.
   */
  readonly seenRecipe = this.inTimeWith(this.painted);
  readonly source = computed(() => this.state().source);
  private readonly tidy = computed(() => this.recipe().tidy);
  readonly isOpen = computed(() => this.state().source !== null);
  /** Size of the picture in pixels; 3 x 2 where none is open, so that arithmetic stays finite. */
  readonly size = computed(() => this.source() ?? { width: 3, height: 2 }, {
    equal: sameSize,
  });
  /** What the recipe leaves of the picture. */
  readonly sheet = computed(() => cropOf({ tidy: this.tidy() }, this.size()), {
    equal: (a, b) => cropKey(a) === cropKey(b) && sameSize(a.picture, b.picture),
  });
  readonly diagonal = computed(() => diagonal(this.size()));
  /** Radius in pixels of the full picture where haze is 1. */
  readonly radiusPx = computed(() =>
    this.recipe().blur.on ? this.recipe().blur.radius * this.diagonal() : 0,
  );
  /** The newest step, where there is one. */
  readonly newestStep = computed(() => this.state().history.past.at(-1) ?? null);
  readonly undoLabel = computed(() => this.state().history.past.at(-1)?.label ?? null);
  readonly redoLabel = computed(() => this.state().history.future[0]?.label ?? null);

  constructor() {
    inject(DestroyRef).onDestroy(() => this.last.set(this.opened()));
    effect((onCleanup) => {
      if (!this.hand()) return;
      const timer = setInterval(() => this.beat.update((count) => count + 1), BEAT_MS);
      onCleanup(() => clearInterval(timer));
    });
  }

  /** To be called when the stage has painted a picture. */
  hasPainted(): void {
    if (this.hand()) this.painted.update((count) => count + 1);
  }

  /** The recipe; during a drag, sampled at each tick of `clock`. */
  private inTimeWith(clock: Signal<number>): Signal<Recipe> {
    return linkedSignal<{ recipe: Recipe; hand: boolean; time: number }, Recipe>({
      source: () => ({ recipe: this.recipe(), hand: this.hand(), time: clock() }),
      computation: (now, last) =>
        last && now.hand && now.time === last.source.time ? last.value : now.recipe,
    });
  }

  /**
   * Changes the work as one step back; changes with the same `gesture` melt into one. `change` writes to a draft: what
   * it leaves alone stays the same object, and its recipe is the one of the moment in view: a number that has keys gets
   * one there. Values out of range become the nearest within it; what no recipe can hold is not done, and said.
   */
  editWork(label: string, change: (draft: ProjectDocument) => void, gesture: string | null = null): void {
    this.orSay(projectWords.cantApply(label), () => {
      const stored = this.keyed();
      const seen = this.recipe();
      const changed = produce({ ...this.state().work, recipe: seen }, (draft) => void change(draft));
      const recipe = storeEditInKeys(stored, seen, changed.recipe, this.playhead.time());
      const work = clampDocument({ ...changed, recipe });
      this.store.dispatch(ProjectActions.edited({ work, label, gesture }));
    });
  }

  /** Puts a recipe with its keys in place of the present one. */
  use(label: string, recipe: Recipe): void {
    this.replaceWork(label, { ...this.state().work, recipe });
  }

  /** Puts other work in place of the present, as one step back. */
  replaceWork(label: string, work: ProjectDocument): void {
    this.orSay(projectWords.cantApply(label), () =>
      this.store.dispatch(ProjectActions.edited({ work: clampDocument(work), label, gesture: null })),
    );
  }

  /** Changes the recipe, see `editWork`. */
  edit(label: string, change: (draft: Recipe) => void, gesture: string | null = null): void {
    this.editWork(label, ({ recipe }) => void change(recipe), gesture);
  }

  /** Runs a change; where its recipe cannot be, nothing changes, and the person is told. */
  private orSay(what: string, change: () => void): void {
    if (this.isClosed()) return;
    try {
      change();
    } catch (error) {
      if (!(error instanceof RecipeError)) throw error;
      this.notices.error(projectWords.yourProjectIsUnchanged(what, reasonOf(error)));
    }
  }

  /** Changes a band, of the picture or of an element. */
  editBand(id: string, label: string, change: (band: Band) => void, gesture: string | null = null): void {
    this.edit(
      label,
      (draft) =>
        ownerOfBand(draft, id)
          ?.focus.bands.filter((band) => band.id === id)
          .forEach(change),
      gesture,
    );
  }

  /** Takes a gesture back while it goes on: it leaves no step. */
  abandon(gesture: string): void {
    if (!this.isClosed()) this.store.dispatch(ProjectActions.abandoned({ gesture }));
  }

  /** The number of the step that comes next, see `melt`. */
  get nextStep(): number {
    return (this.state().history.past.at(-1)?.seq ?? -1) + 1;
  }

  /** Makes all steps from a number on one step back. */
  melt(since: number, label: string): void {
    if (!this.isClosed()) this.store.dispatch(ProjectActions.melted({ since, label }));
  }

  undo(): void {
    this.step(steppedBack, ProjectActions.undone());
  }

  redo(): void {
    this.step(steppedForward, ProjectActions.redone());
  }

  /** Goes some steps back (negative) or forth; a damaged one ends the way. */
  goBy(steps: number): void {
    const way = steps < 0 ? ProjectActions.undone() : ProjectActions.redone();
    for (let i = 0; i < Math.abs(steps); i++)
      if (!this.step(steps < 0 ? steppedBack : steppedForward, way)) return;
  }

  /** Goes a step back or forth, and says whether it did; of a project that was damaged a step may be no good, which is told. */
  private step(stepped: (project: Project) => Project, action: Action): boolean {
    if (this.isClosed()) return false;
    try {
      stepped(this.state());
    } catch (error) {
      const reason = sentenceOf(error);
      this.notices.error(projectWords.thisStepIsDamaged(reason));
      return false;
    }
    this.store.dispatch(action);
    return true;
  }

  rename(name: string): void {
    if (!this.isClosed()) this.store.dispatch(ProjectActions.renamed({ name }));
  }

  /** The project has a place on the shelf, which it did not have when it was opened. */
  keptAs(projectId: string): void {
    if (!this.isClosed()) this.store.dispatch(ProjectActions.kept({ projectId }));
  }

  /** True where another project has taken its place: it can no longer be changed. */
  isClosed(): boolean {
    return this.last() !== null;
  }
}
