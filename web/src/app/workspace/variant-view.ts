import { Injectable, computed, inject, signal } from '@angular/core';
import { variantsOf, withChosen, withVariant, withVariantName, withoutVariant } from '../model/variants';
import { OpenProject } from '../project/session/open-project';
import { workspaceWords } from '../words/workspace';

/** How many versions stand beside each other on the stage. */
export type VariantCount = 1 | 2 | 4;

/** The versions of the open project, and how many of them the stage shows beside each other. */
@Injectable()
export class VariantView {
  private readonly project = inject(OpenProject);
  readonly all = computed(() => variantsOf(this.project.state().work));
  readonly current = computed(() => this.project.state().work.variants?.current ?? null);
  private readonly wanted = signal<VariantCount>(1);
  /** Those on the stage in order, the present one among them; none where it stands alone. */
  readonly shown = computed(() => {
    const all = this.all();
    const count = Math.min(this.wanted(), all.length);
    if (count < 2) return [];
    const first = all.slice(0, count);
    const current = this.current();
    // The present one takes the last place where it would not be seen.
    return first.some(({ id }) => id === current)
      ? first
      : [...first.slice(0, -1), all.find(({ id }) => id === current)!];
  });
  readonly beside = computed<VariantCount>(() => (this.shown().length === 0 ? 1 : this.wanted()));

  show(beside: VariantCount): void {
    this.wanted.set(beside);
  }

  make(): void {
    const work = withVariant(this.project.state().work, () => crypto.randomUUID());
    this.project.replaceWork(workspaceWords.newVariant, work);
  }

  choose(id: string): void {
    const name = this.all().find((one) => one.id === id)?.name ?? 'variant';
    this.project.replaceWork(workspaceWords.switchTo(name), withChosen(this.project.state().work, id));
  }

  rename(id: string, name: string): void {
    this.project.replaceWork(
      workspaceWords.renameVariant,
      withVariantName(this.project.state().work, id, name),
    );
  }

  remove(id: string): void {
    this.project.replaceWork(workspaceWords.deleteVariant, withoutVariant(this.project.state().work, id));
  }
}
