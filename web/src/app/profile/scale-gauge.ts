import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { MODEL_SCALES } from '@hazy-lens/core';
import { SuitReading } from '../project/subjects/suit-reading';
import { ModelScale } from '../stage/model-scale';
import { profileWords } from '../words/profile';

/** Where the engraving begins and ends, in pixels of the rail, and the scales there. */
const [LEFT, RIGHT] = [8, 76];
const [FROM, TO] = [18, 280];
/** The picture is read when what is wanted at once is there. */
const READ_AFTER_MS = 2000;

const placeOf = (scale: number): number => {
  const share = Math.log(scale / FROM) / Math.log(TO / FROM);
  return LEFT + (RIGHT - LEFT) * Math.min(1, Math.max(0, share));
};

/** A small engraved scale of model sizes with a hand: which of them the blur speaks of, and a press on one asks for it. */
@Component({
  selector: 'hl-scale-gauge',
  imports: [MatTooltip],
  template: `
    <div class="gauge" role="group" [aria-label]="words.scaleGauge">
      <p role="status" [matTooltip]="assumes()" matTooltipPosition="left">
        @if (scale.reading(); as read) {
          <b>1 : {{ shown(read.scale) }}</b>
        } @else {
          <span class="none">{{ words.noScale }}</span>
        }
      </p>
      <svg width="84" height="22" aria-hidden="true">
        <line class="rule" [attr.x1]="left" [attr.x2]="right" y1="14.5" y2="14.5" />
        @for (tick of fine; track tick) {
          <line class="fine" [attr.x1]="tick" [attr.x2]="tick" y1="14.5" y2="11" />
        }
        @if (hand(); as x) {
          <rect class="hand" [attr.x]="x - 2.5" y="1" width="5" height="13" rx="1.5" />
        }
      </svg>
      @for (mark of marks; track mark.scale) {
        <button
          [style.left.px]="mark.x"
          [attr.aria-label]="words.setScale1To(mark.scale)"
          [matTooltip]="words.setTheScaleTo1(mark.scale)"
          matTooltipPosition="left"
          (click)="scale.ask(mark.scale)"
        ></button>
      }
    </div>
  `,
  styles: `
    .gauge {
      position: relative;
      height: 44px;
      background: var(--paper);
    }
    p {
      margin: 0;
      padding-top: 3px;
      height: 17px;
      text-align: center;
      font-size: 11px;
      color: var(--ink);
    }
    .none {
      color: var(--ink-3);
    }
    svg {
      display: block;
    }
    .rule,
    .fine {
      stroke: var(--ink-3);
    }
    .hand {
      fill: var(--ink);
    }
    button {
      position: absolute;
      top: 26px;
      width: 8px;
      height: 18px;
      margin-left: -4px;
      padding: 0;
      border: 0;
      background: linear-gradient(var(--ink-2), var(--ink-2)) center top 5px / 1.5px 8px no-repeat;
      cursor: pointer;
    }
    button:hover,
    button:focus-visible {
      background-size: 3px 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScaleGauge {
  protected readonly words = profileWords;
  protected readonly scale = inject(ModelScale);
  protected readonly left = LEFT;
  protected readonly right = RIGHT;
  protected readonly marks = MODEL_SCALES.map((scale) => ({ scale, x: placeOf(scale) }));
  protected readonly fine = [20, 30, 40, 50, 60, 70, 80, 90, 100, 120, 140, 180, 200, 250].map(placeOf);
  protected readonly hand = computed(() => {
    const read = this.scale.reading();
    return read && placeOf(read.scale);
  });
  protected readonly assumes = computed(() => {
    const { distance, focal, fNumber } = this.scale.view();
    const horizon = this.scale.isRead() ? '' : profileWords.aCameraThatLooksDown;
    return profileWords.theModelScaleSuggested(distance, horizon, focal, fNumber);
  });

  constructor() {
    const suit = inject(SuitReading);
    const timer = setTimeout(() => suit.want(), READ_AFTER_MS);
    inject(DestroyRef).onDestroy(() => clearTimeout(timer));
  }

  /** Two digits are as much as is known. */
  protected shown(scale: number): string {
    const digits = 10 ** Math.max(0, Math.floor(Math.log10(scale)) - 1);
    return `${Math.round(scale / digits) * digits}`;
  }
}
