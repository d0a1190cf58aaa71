import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Variant } from '../model/variants';
import { NameField } from '../ui/name-field';
import { VariantView } from '../workspace/variant-view';
import { stageWords } from '../words/stage';

/** Says which version a part of the stage shows; takes it in hand, or names it. */
@Component({
  selector: 'hl-variant-caption',
  imports: [MatButton, NameField],
  template: `
    @if (isNaming()) {
      <hl-name-field
        [label]="words.nameOfTheVariant"
        [name]="variant().name"
        [takesFocus]="true"
        (renamed)="variants.rename(variant().id, $event)"
        (left)="isNaming.set(false)"
      />
    } @else {
      <button
        matButton
        class="name"
        [attr.aria-label]="words.rename(variant().name)"
        (click)="isNaming.set(true)"
      >
        {{ variant().name }}
      </button>
    }
    @if (isInHand()) {
      <span class="quiet">{{ words.editing }}</span>
    } @else {
      <button
        matButton
        [attr.aria-label]="words.editNamed(variant().name)"
        (click)="variants.choose(variant().id)"
      >
        {{ words.edit }}
      </button>
    }
  `,
  styleUrl: './caption.scss',
  host: { role: 'group', '[attr.aria-label]': 'variant().name' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VariantCaption {
  protected readonly words = stageWords;
  readonly variant = input.required<Variant>();
  protected readonly variants = inject(VariantView);
  protected readonly isNaming = signal(false);
  protected readonly isInHand = computed(() => this.variants.current() === this.variant().id);
}
