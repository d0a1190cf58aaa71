import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { RecipePath } from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { SelectionStore } from '../../workspace/selection-store';
import { RecipeNumber } from '../../ui/recipe-number';
import { AddRow } from './add-row';
import { BandPanel } from './band-panel';
import { KIND_NAMES } from '../../model/bands';
import { BrushPanel } from './brush-panel';
import { DepthPanel } from './depth-panel';
import { ElementList } from './element-list';
import { ElementPanel } from './element-panel';
import { FieldList } from './field-list';
import { MattePanel } from './matte-panel';
import { ScaleSection } from './scale-section';
import { SoundingsPanel } from './soundings-panel';
import { focusWords } from '../../words/focus';

/** The heart of the tool: ways to add to the field, what is in it, and the numbers of what is in hand. */
@Component({
  selector: 'hl-focus-panel',
  imports: [
    AddRow,
    BandPanel,
    BrushPanel,
    DepthPanel,
    ElementList,
    ElementPanel,
    FieldList,
    MattePanel,
    RecipeNumber,
    ScaleSection,
    SoundingsPanel,
  ],
  template: `
    <h2 class="panel-title">{{ words.focusText }}</h2>
    <section class="panel-section">
      <hl-add-row />
      @if (selection.placing(); as kind) {
        <p class="hint" role="status">
          {{ words.dragOnThePictureClick(names[kind]) }}
        </p>
      }
      <hl-element-list />
    </section>
    @if (hasField()) {
      <section class="panel-section" [aria-label]="words.focusLayers">
        <hl-field-list />
      </section>
    }
    @switch (selection.chosen().kind) {
      @case ('band') {
        <hl-band-panel />
      }
      @case ('soundings') {
        <hl-soundings-panel />
      }
      @case ('depth') {
        <hl-depth-panel />
      }
      @case ('brush') {
        <hl-brush-panel />
      }
      @case ('matte') {
        <hl-matte-panel />
      }
      @case ('element') {
        <hl-element-panel />
      }
      @case ('rest') {
        <section class="panel-section" [aria-label]="words.baseHaze">
          @if (focus().bands.length === 0 && selection.layer() === null) {
            <p class="hint">
              {{ words.noFocusYetTheWhole }}
            </p>
          }
          <hl-recipe-number [at]="rest()" />
        </section>
      }
    }
    @if (selection.layer() === null) {
      <hl-scale-section />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FocusPanel {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  protected readonly selection = inject(SelectionStore);
  protected readonly focus = this.selection.calmFocus;
  protected readonly rest = computed<RecipePath>(() => [...this.selection.focusPath(), 'rest']);
  /** An element that stands has no field of its own, and one without bands and soundings only one number. */
  protected readonly hasField = computed(() => {
    const layer = this.selection.layer();
    const element = this.project.calmRecipe().elements.find(({ id }) => id === layer);
    if (!element) return true;
    const { bands, soundings } = element.focus;
    return element.foot === null && bands.length + soundings.length > 0;
  });
  protected readonly names = KIND_NAMES;
}
