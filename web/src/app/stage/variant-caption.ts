import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Variant } from '../model/variants';
import { NameField } from '../ui/name-field';
import { VariantView } from '../workspace/variant-view';

/** Says which version a part of the stage shows; takes it in hand, or names it. */
@Component({
  selector: 'hl-variant-caption',
  imports: [MatButton, NameField],
  template: `
    @if (isNaming()) {
      <hl-name-field
        label="Name of the variant"
        [name]="variant().name"
        [takesFocus]="true"
        (renamed)="variants.rename(variant().id, $event)"
        (left)="isNaming.set(false)"
      />
    } @else {
      <button
        matButton
        class="name"
        [attr.aria-label]="'Rename ' + variant().name"
        (click)="isNaming.set(true)"
      >
        {{ variant().name }}
      </button>
    }
    @if (isInHand()) {
      <span class="quiet">Editing</span>
    } @else {
      <button
        matButton
        [attr.aria-label]="'Edit ' + variant().name"
        (click)="variants.choose(variant().id)"
      >
        Edit
      </button>
    }
  `,
  styleUrl: './caption.scss',
  host: { role: 'group', '[attr.aria-label]': 'variant().name' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VariantCaption {
  readonly variant = input.required<Variant>();
  protected readonly variants = inject(VariantView);
  protected readonly isNaming = signal(false);
  protected readonly isInHand = computed(() => this.variants.current() === this.variant().id);
}
