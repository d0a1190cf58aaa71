import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import type { RecipePath } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { Keyframes } from '../project/footage/keyframes';
import { controlsWords } from '../words/controls';

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
        [attr.aria-label]="words.key(label())"
        [matTooltip]="state() === 'here' ? words.deleteKeyHere : words.addKeyHere"
        (click)="keyframes.toggle(at(), label().toLowerCase())"
      ></button>
    }
  `,
  styles: `
    /* The tab itself is small; the hand has more room. */
    button {
      display: grid;
      place-items: center;
      width: 24px;
      height: 24px;
      padding: 0;
      border: 0;
      background: none;
      cursor: pointer;
    }
    button::before {
      content: '';
      box-sizing: border-box;
      width: 8px;
      height: 15px;
      border: 1px solid var(--ink-3);
      border-radius: 2px;
    }
    button:hover::before {
      border-color: var(--ink);
    }
    .other::before {
      background: linear-gradient(transparent 50%, var(--ink-2) 50%);
      border-color: var(--ink-2);
    }
    .here::before {
      background: var(--ink);
      border-color: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeyTab {
  protected readonly words = controlsWords;
  readonly at = input.required<RecipePath>();
  readonly label = input.required<string>();
  protected readonly keyframes = inject(Keyframes);
  private readonly footage = inject(Footage);
  protected readonly isWanted = computed(() => this.footage.isOpen() && this.keyframes.isOffered(this.at()));
  protected readonly state = computed(() => this.keyframes.stateOf(this.at()));
}
