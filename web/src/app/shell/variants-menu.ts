import { ChangeDetectionStrategy, Component, computed, inject, input, viewChild } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDivider } from '@angular/material/divider';
import { MatIcon } from '@angular/material/icon';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { OpenProject } from '../project/session/open-project';
import { VariantView } from '../workspace/variant-view';
import { shellWords } from '../words/shell';

/** Named versions of the project: made from the present one, chosen, and seen beside each other. */
@Component({
  selector: 'hl-variants-menu',
  imports: [MatButton, MatDivider, MatIcon, MatMenu, MatMenuItem, MatMenuTrigger, MatTooltip],
  template: `
    @if (!isSubmenu()) {
      <button
        matButton
        iconPositionEnd
        [matTooltip]="words.variantsNamedVersionsOfThisProject"
        [disabled]="!project.isOpen()"
        [matMenuTriggerFor]="ways"
      >
        <span class="name">{{ label() }}</span>
        <mat-icon iconPositionEnd svgIcon="chevronDown" />
      </button>
    }
    <mat-menu #ways="matMenu">
      @for (variant of variants.all(); track variant.id) {
        <button
          mat-menu-item
          role="menuitemradio"
          [attr.aria-checked]="variant.id === variants.current()"
          [class.current]="variant.id === variants.current()"
          (click)="variants.choose(variant.id)"
        >
          {{ variant.name }}
        </button>
      }
      @if (variants.all().length > 0) {
        <mat-divider />
      }
      <button mat-menu-item (click)="variants.make()">{{ words.newVariant }}</button>
      @if (variants.all().length > 1) {
        <button mat-menu-item [matMenuTriggerFor]="less">{{ words.deleteVariant }}</button>
        <mat-divider />
        <button mat-menu-item [disabled]="variants.beside() === 2" (click)="variants.show(2)">
          {{ words.showTwo }}
        </button>
        @if (variants.all().length > 2) {
          <button mat-menu-item [disabled]="variants.beside() === 4" (click)="variants.show(4)">
            {{ words.showFour }}
          </button>
        }
        @if (variants.beside() > 1) {
          <button mat-menu-item (click)="variants.show(1)">{{ words.showOne }}</button>
        }
      }
    </mat-menu>
    <mat-menu #less="matMenu">
      @for (variant of others(); track variant.id) {
        <button mat-menu-item (click)="variants.remove(variant.id)">{{ variant.name }}</button>
      }
    </mat-menu>
  `,
  styles: `
    .name {
      display: inline-block;
      vertical-align: bottom;
      max-width: 160px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-weight: 400;
    }
    .current {
      --mat-menu-item-label-text-weight: 700;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VariantsMenu {
  protected readonly words = shellWords;
  protected readonly project = inject(OpenProject);
  protected readonly variants = inject(VariantView);
  /** True where another menu opens it: it has no button of its own. */
  readonly isSubmenu = input(false);
  readonly menu = viewChild.required<MatMenu>('ways');
  protected readonly others = computed(() =>
    this.variants.all().filter(({ id }) => id !== this.variants.current()),
  );
  protected readonly label = computed(
    () => this.variants.all().find(({ id }) => id === this.variants.current())?.name ?? shellWords.variants,
  );
}
