import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { remember, remembered } from '../storage/remembered';
import { ViewStore } from '../workspace/view-store';
import { shellWords } from '../words/shell';

const KEY = 'hazy-lens-hints';

/** Each is shown next to the part that it explains. */
const HINTS = [
  {
    id: 'lines',
    text: shellWords.dragTheLinesBetween,
  },
  { id: 'profile', text: shellWords.theProfileIsTheSame },
  {
    id: 'looking',
    text: shellWords.holdTheseToLook,
  },
] as const;

/** Three short hints on the first visit, on the picture and never in its way; each is dismissed for good. */
@Component({
  selector: 'hl-first-hints',
  imports: [MatIcon, MatIconButton],
  template: `
    @for (hint of shown(); track hint.id) {
      <div class="hint-card" role="note" [class]="hint.id">
        <span>{{ hint.text }}</span>
        <button matIconButton [attr.aria-label]="words.dismiss(hint.text)" (click)="dismiss(hint.id)">
          <mat-icon svgIcon="close" />
        </button>
      </div>
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      z-index: 3;
      pointer-events: none;
      container-type: size;
    }
    .hint-card {
      position: absolute;
      display: flex;
      align-items: start;
      gap: 4px;
      max-width: 250px;
      padding: 6px 4px 6px 12px;
      border-radius: 6px;
      background: rgb(32 33 34 / 0.88);
      color: #f0f0f0;
      font-size: 12px;
      line-height: 1.4;
    }
    .hint-card span {
      padding: 3px 0;
    }
    button {
      flex: none;
      pointer-events: auto;
      --mat-icon-button-state-layer-size: 24px;
      --mat-icon-button-icon-color: #f0f0f0;
      padding: 4px;
    }
    .lines {
      top: 10px;
      left: 10px;
    }
    .profile {
      top: 10px;
      right: 10px;
      max-width: 220px;
    }
    .looking {
      left: 50%;
      bottom: 50px;
      translate: -50% 0;
      max-width: 300px;
    }
    /* One at a time where there is little room. */
    @container (max-width: 620px) {
      .hint-card ~ .hint-card {
        display: none;
      }
      .hint-card {
        inset: 8px 8px auto;
        translate: none;
        max-width: none;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FirstHints {
  protected readonly words = shellWords;
  private readonly viewStore = inject(ViewStore);
  private readonly dismissed = signal<readonly string[]>((remembered(KEY) ?? '').split(' '));
  protected readonly shown = computed(() =>
    this.viewStore.step() === 'focus' ? HINTS.filter(({ id }) => !this.dismissed().includes(id)) : [],
  );

  protected dismiss(id: string): void {
    this.dismissed.update((ids) => [...ids, id]);
    remember(KEY, this.dismissed().join(' '));
  }
}
