import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle } from '@angular/material/button-toggle';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import { type Element, type RecipePath, elementPlace, layerCorners } from '@hazy-lens/core';
import { elementName } from '../../model/elements';
import { ProjectAssets } from '../../project/session/project-assets';
import { Elements } from '../../project/subjects/elements';
import { OpenProject } from '../../project/session/open-project';
import { FollowControls } from '../../ui/follow-controls';
import { NameField } from '../../ui/name-field';
import { RecipeNumber } from '../../ui/recipe-number';
import { SelectionStore } from '../../workspace/selection-store';
import { focusWords } from '../../words/focus';

const NUMBERS = ['width', 'turn', 'opacity'] as const;

/** All numbers of the element in hand. */
@Component({
  selector: 'hl-element-panel',
  imports: [FollowControls, MatButton, MatButtonToggle, MatSlideToggle, NameField, RecipeNumber],
  template: `
    @if (element(); as one) {
      <section class="panel-section" [aria-label]="words.element">
        <div class="row">
          <hl-name-field [label]="words.nameOfTheElement" [name]="name()" (renamed)="rename($event)" />
          <mat-button-toggle class="push" [checked]="one.flip" (change)="flip()">{{
            words.flip
          }}</mat-button-toggle>
        </div>
        @for (number of numbers(); track number.key) {
          <hl-recipe-number [at]="number.at" />
        }
        <div class="row">
          <hl-recipe-number [at]="across()" [slider]="false" />
          <hl-recipe-number [at]="down()" [slider]="false" />
        </div>
        <div class="row">
          <span id="stand-label">{{ words.standing }}</span>
          <mat-slide-toggle
            class="push"
            aria-labelledby="stand-label"
            [checked]="one.foot !== null"
            (change)="stand(one)"
          />
        </div>
        @if (one.foot === null) {
          <hl-recipe-number [at]="rest()" [label]="words.haze" [spoken]="words.hazeOfTheElement" />
          <p class="hint">{{ words.bandsAndSoundingsAddedNow }}</p>
        } @else {
          <p class="hint">
            {{ words.asHazyAsThePicture }}
          </p>
        }
        <div class="row">
          <button matButton="outlined" (click)="elements.replace(one.id)">{{ words.replaceImage }}</button>
        </div>
      </section>
      <hl-follow-controls [at]="place()" [label]="name()" />
    }
  `,
  styles: `
    .row hl-recipe-number {
      flex: 1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ElementPanel {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly projectAssets = inject(ProjectAssets);
  protected readonly elements = inject(Elements);
  private readonly index = computed(() =>
    this.project.calmRecipe().elements.findIndex(({ id }) => id === this.selection.layer()),
  );
  protected readonly element = computed(() => this.project.calmRecipe().elements[this.index()] ?? null);
  protected readonly name = computed(() => elementName(this.project.calmRecipe().elements, this.index()));
  protected readonly place = computed<RecipePath>(() => ['elements', this.index()]);
  protected readonly numbers = computed(() => NUMBERS.map((key) => ({ key, at: [...this.place(), key] })));
  protected readonly across = computed<RecipePath>(() => [...this.place(), 'centre', 0]);
  protected readonly down = computed<RecipePath>(() => [...this.place(), 'centre', 1]);
  protected readonly rest = computed<RecipePath>(() => [...this.place(), 'focus', 'rest']);

  protected rename(name: string): void {
    this.change(focusWords.renameElement, (one) => (one.name = name));
  }

  protected flip(): void {
    this.change(focusWords.flipElement, (one) => (one.flip = !one.flip));
  }

  /** It stands at the middle of its lower edge, or has a focus of its own again. */
  protected stand({ foot }: Element): void {
    this.change(foot ? 'element: own focus' : 'element: standing', (one) => {
      one.foot = foot ? null : this.lowest(one);
    });
  }

  private lowest(element: Element): [number, number] {
    const size = this.project.size();
    const image = this.projectAssets.images().get(element.image)?.levels[0];
    if (!image) return [...element.centre];
    const [, , right, left] = layerCorners(elementPlace(element, size), size, image);
    const held = (v: number): number => Math.min(1, Math.max(0, v));
    return [held((left![0] + right![0]) / 2 / size.width), held((left![1] + right![1]) / 2 / size.height)];
  }

  private change(label: string, change: (element: Element) => void): void {
    const id = this.element()?.id;
    this.project.edit(label, (draft) =>
      draft.elements.filter((one) => one.id === id).forEach((one) => void change(one)),
    );
  }
}
