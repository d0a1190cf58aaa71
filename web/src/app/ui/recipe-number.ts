import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { type Recipe, type RecipePath, numberSpecAt, displayRange, valueAt } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { Footage } from '../project/footage/footage';
import { Keyframes } from '../project/footage/keyframes';
import { ViewStore } from '../workspace/view-store';
import { KeyTab } from './key-tab';
import { type NumberChange, NumberField } from './number-field';

/**
 * A number of the open recipe: what it is called, its range and its start come from the table of numbers. It draws its
 * own live value while a hand moves it, and follows in beats while another does.
 */
@Component({
  selector: 'hl-recipe-number',
  imports: [KeyTab, NumberField],
  template: `
    <hl-key-tab [at]="at()" [label]="spoken() || range().spoken" />
    <hl-number
      [range]="range()"
      [label]="label()"
      [spoken]="spoken()"
      [value]="value()"
      [slider]="slider()"
      (changed)="set($event)"
      (moving)="move($event)"
      (takenBack)="project.abandon($event)"
    />
  `,
  styles: `
    :host {
      display: block;
      position: relative;
    }
    hl-key-tab {
      position: absolute;
      left: -15px;
      top: 2px;
      z-index: 1;
    }
    /* The tab's room lies before the label, never on it. */
    :host(.keyed) {
      padding-left: 9px;
    }
  `,
  host: { '[class.keyed]': 'footage.isOpen() && keyframes.isOffered(at())' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecipeNumber {
  protected readonly project = inject(OpenProject);
  protected readonly keyframes = inject(Keyframes);
  protected readonly footage = inject(Footage);
  private readonly viewStore = inject(ViewStore);
  readonly at = input.required<RecipePath>();
  /** In place of the table's own words. */
  readonly label = input('');
  readonly spoken = input('');
  readonly slider = input(true);
  /** Places that the same value goes to. */
  readonly also = input<readonly RecipePath[]>([]);
  /** Where it is read and written otherwise than at its place, in the recipe's units. */
  readonly read = input<((recipe: Recipe) => number | undefined) | null>(null);
  readonly write = input<((draft: Recipe, value: number) => void) | null>(null);
  /** Hears when a hand begins to move it, and when it ends. */
  readonly moved = output<boolean>();
  private readonly isMoving = signal(false);
  private readonly recipe = computed(() =>
    this.isMoving() ? this.project.recipe() : this.project.calmRecipe(),
  );
  private readonly spec = computed(() => numberSpecAt(this.project.calmRecipe(), this.at()));
  protected readonly range = computed(() => displayRange(this.spec(), this.project.size()));
  protected readonly value = computed(() => {
    const recipe = this.recipe();
    const read = this.read();
    const value = read ? read(recipe) : valueAt(recipe, this.at());
    return typeof value === 'number' ? value * this.range().scale : this.range().start;
  });

  protected set({ value, gesture }: NumberChange): void {
    const exact = value / this.range().scale;
    const wanted = this.spec().measure === 'count' ? Math.round(exact) : exact;
    const write = this.write();
    const paths = [this.at(), ...this.also()];
    this.project.edit(
      (this.spoken() || this.range().spoken).toLowerCase(),
      (draft) => (write ? write(draft, wanted) : paths.forEach((at) => put(draft, at, wanted))),
      gesture,
    );
  }

  protected move(isMoving: boolean): void {
    this.isMoving.set(isMoving);
    this.moved.emit(isMoving);
    this.viewStore.set({ sliding: isMoving });
    this.project.hand.set(isMoving);
  }
}

function put(recipe: Recipe, at: RecipePath, value: number): void {
  const owner = valueAt(recipe, at.slice(0, -1)) as Record<string | number, number> | undefined;
  if (owner) owner[at.at(-1)!] = value;
}
