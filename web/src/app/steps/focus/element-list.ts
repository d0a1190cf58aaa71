import {
  CdkDrag,
  type CdkDragDrop,
  CdkDragHandle,
  CdkDropList,
  moveItemInArray,
} from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import type { Element } from '@hazy-lens/core';
import { duplicateElement, elementName } from '../../model/elements';
import { ProjectAssets } from '../../project/session/project-assets';
import { CopiedElement, Elements } from '../../project/subjects/elements';
import { OpenProject } from '../../project/session/open-project';
import { SelectionStore } from '../../workspace/selection-store';
import { focusNeighbour } from '../../ui/focus-neighbour';
import { ElementThumb } from './element-thumb';
import { focusWords } from '../../words/focus';

/** What lies over the picture, the nearest first, and below all the picture itself: one of them has the tools. */
@Component({
  selector: 'hl-element-list',
  imports: [
    CdkDrag,
    CdkDragHandle,
    CdkDropList,
    ElementThumb,
    MatButton,
    MatIcon,
    MatIconButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatSlideToggle,
    MatTooltip,
  ],
  template: `
    <div class="row">
      <h3>{{ words.elements }}</h3>
      @if (copied.now(); as element) {
        <button
          matButton
          class="push"
          [matTooltip]="words.paste(element.name || 'element')"
          matTooltipPosition="above"
          (click)="choose(elements.paste())"
        >
          {{ words.pasteText }}
        </button>
      }
      <button
        matButton
        [class.push]="!copied.now()"
        [matTooltip]="words.addACutOut"
        matTooltipPosition="above"
        (click)="add()"
      >
        <mat-icon svgIcon="imagePlus" />{{ words.addElement }}
      </button>
    </div>
    @if (rows().length > 0) {
      <div class="rows" cdkDropList (cdkDropListDropped)="dropped($event)">
        @for (row of rows(); track row.element.id) {
          <div
            class="row-of-field"
            cdkDrag
            cdkDragLockAxis="y"
            [class.chosen]="selection.layer() === row.element.id"
            [class.off]="!row.element.on"
          >
            <span class="handle" cdkDragHandle aria-hidden="true"><mat-icon svgIcon="grip" /></span>
            <hl-element-thumb [image]="row.image" />
            <button
              class="choose"
              [attr.aria-pressed]="selection.layer() === row.element.id"
              [attr.aria-label]="words.altPlusArrowKeysReorder(row.name)"
              (click)="choose(row.element.id)"
              (keydown.delete)="removeByKey(row, $event)"
              (keydown.alt.arrowup)="$event.preventDefault(); move(row.index, row.index + 1)"
              (keydown.alt.arrowdown)="$event.preventDefault(); move(row.index, row.index - 1)"
            >
              {{ row.name }}
            </button>
            <mat-slide-toggle
              [checked]="row.element.on"
              [aria-label]="words.show(row.name)"
              (change)="toggle(row.element, row.name)"
            />
            <button matIconButton [attr.aria-label]="words.moreFor(row.name)" [matMenuTriggerFor]="more">
              <mat-icon svgIcon="ellipsis" />
            </button>
            <mat-menu #more="matMenu">
              <button mat-menu-item (click)="duplicate(row.element.id)">{{ words.duplicate }}</button>
              <button mat-menu-item (click)="elements.copy(row.element)">
                {{ words.copyForAnotherProject }}
              </button>
              <button
                mat-menu-item
                [disabled]="row.index === rows().length - 1"
                (click)="move(row.index, row.index + 1)"
              >
                {{ words.bringNearer }}
              </button>
              <button mat-menu-item [disabled]="row.index === 0" (click)="move(row.index, row.index - 1)">
                {{ words.sendFarther }}
              </button>
              <button mat-menu-item (click)="remove(row.element.id, row.name)">{{ words.delete }}</button>
            </mat-menu>
          </div>
        }
      </div>
      <div class="row-of-field" [class.chosen]="selection.layer() === null">
        <span class="handle"></span>
        <span class="sheet"></span>
        <button
          class="choose"
          [attr.aria-pressed]="selection.layer() === null"
          (click)="selection.choosePicture()"
        >
          {{ words.picture }}
        </button>
      </div>
    }
  `,
  styleUrl: './field-list.scss',
  styles: `
    .sheet {
      width: 30px;
      height: 20px;
      box-sizing: border-box;
      border-radius: 2px;
      background: linear-gradient(var(--far-line), var(--near-line));
      opacity: 0.7;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ElementList {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  private readonly projectAssets = inject(ProjectAssets);
  protected readonly elements = inject(Elements);
  protected readonly copied = inject(CopiedElement);
  protected readonly selection = inject(SelectionStore);

  /** The nearest first; `index` is its place in the recipe. */
  protected readonly rows = computed(() => {
    const { elements } = this.project.calmRecipe();
    const images = this.projectAssets.images();
    return elements
      .map((element, index) => ({
        element,
        index,
        name: elementName(elements, index),
        image: images.get(element.image) ?? null,
      }))
      .reverse();
  });

  protected choose(id: string | null): void {
    if (id !== null) this.selection.choose({ kind: 'element', id });
  }

  protected async add(): Promise<void> {
    this.choose(await this.elements.open());
  }

  protected toggle({ id, on }: Element, name: string): void {
    this.project.edit(`${name} ${on ? 'off' : 'on'}`, ({ elements }) =>
      elements.filter((one) => one.id === id).forEach((one) => (one.on = !on)),
    );
  }

  protected duplicate(id: string): void {
    const copyId = crypto.randomUUID();
    this.project.edit(focusWords.duplicateElement, (draft) => duplicateElement(draft, id, copyId));
    this.choose(copyId);
  }

  protected removeByKey({ element, name }: { element: Element; name: string }, event: Event): void {
    event.stopPropagation();
    focusNeighbour(event.currentTarget as HTMLElement, 'section', '.choose');
    this.remove(element.id, name);
  }

  protected remove(id: string, name: string): void {
    this.project.edit(focusWords.deleteNamed(name), (draft) => {
      draft.elements = draft.elements.filter((one) => one.id !== id);
    });
  }

  protected move(from: number, to: number): void {
    if (to < 0 || to >= this.rows().length) return;
    this.project.edit(focusWords.reorderElements, ({ elements }) => moveItemInArray(elements, from, to));
  }

  protected dropped({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    const last = this.rows().length - 1;
    if (previousIndex !== currentIndex) this.move(last - previousIndex, last - currentIndex);
  }
}
