import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { type RecipePath, canHaveKeys } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { Keyframes } from '../project/footage/keyframes';

/** The small tab beside a number of footage: pressed where it has a key at the moment in view, half where elsewhere. */
@Component({
  selector: 'hl-key-tab',
  imports: [MatTooltip],
  template: `
    @if (isWanted()) {
      <button
        type="button"
        [class]="state()"
        [attr.aria-pressed]="state() === 'here'"
        [attr.aria-label]="label() + ' key'"
        [matTooltip]="state() === 'here' ? 'Delete key here' : 'Add key here'"
        (click)="keyframes.toggle(at(), label().toLowerCase())"
      ></button>
    }
  `,
  styles: `
    button {
      width: 7px;
      height: 14px;
      padding: 0;
      border: 1px solid var(--line-strong);
      border-radius: 2px;
      background: none;
      cursor: pointer;
    }
    button:hover {
      border-color: var(--ink);
    }
    .other {
      background: linear-gradient(transparent 50%, var(--ink-2) 50%);
      border-color: var(--ink-2);
    }
    .here {
      background: var(--ink);
      border-color: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeyTab {
  readonly at = input.required<RecipePath>();
  readonly label = input.required<string>();
  protected readonly keyframes = inject(Keyframes);
  private readonly footage = inject(Footage);
  /** Of the two numbers of a point the first has the tab. */
  protected readonly isWanted = computed(
    () =>
      this.footage.isOpen() &&
      canHaveKeys(this.at()) &&
      (this.at().at(-1) !== 1 || this.keyframes.placeOf(this.at()).length === this.at().length),
  );
  protected readonly state = computed(() => this.keyframes.stateOf(this.at()));
}
