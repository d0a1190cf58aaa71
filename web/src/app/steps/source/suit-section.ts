import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { type SceneReading, suggestBand, uprightsAcrossFocus } from '@hazy-lens/core';
import { BLANK_MATTE } from '../../engine/rasters';
import { newMatte } from '../../model/mattes';
import { describeSuitability } from '../../model/suitability-text';
import { OpenProject } from '../../project/session/open-project';
import { SuitReading } from '../../project/subjects/suit-reading';
import { SelectionStore } from '../../workspace/selection-store';
import { ViewStore } from '../../workspace/view-store';
import { sourceWords } from '../../words/source';

const BAND_ID = 'suited';

/** Whether the open picture suits a miniature look, read from it before anything is set; and a first band. */
@Component({
  selector: 'hl-suit-section',
  imports: [MatButton],
  template: `
    <h3>{{ words.suitability }}</h3>
    @if (suit(); as read) {
      <dl>
        @for (reading of readings(); track reading.of) {
          <dt><span class="mark" [class]="reading.suits" aria-hidden="true"></span>{{ reading.of }}</dt>
          <dd>
            {{ reading.says }} <span class="advice">{{ reading.advice }}</span>
          </dd>
        }
      </dl>
      <button matButton="outlined" (click)="take(read)">{{ words.placeSuggestedBand }}</button>
      @if (acrossAt(read); as foot) {
        <button matButton="outlined" (click)="stand(foot)">{{ words.cutItOut }}</button>
      }
    } @else {
      <p class="hint">{{ failed() ? words.thePictureCantBeAnalysed : words.readingThePicture }}</p>
    }
  `,
  styles: `
    h3 {
      font-size: 13px;
      font-weight: 600;
      margin-bottom: 8px;
    }
    dl {
      display: grid;
      grid-template-columns: max-content minmax(0, 1fr);
      gap: 8px;
      margin: 0 0 10px;
      line-height: 1.35;
    }
    dt {
      display: flex;
      align-items: baseline;
      gap: 7px;
      color: var(--ink-3);
    }
    dd {
      margin: 0;
    }
    button {
      width: 100%;
      margin-top: 6px;
    }
    .advice {
      color: var(--ink-2);
    }
    /* A disc that is filled as far as it suits. */
    .mark {
      flex: none;
      width: 9px;
      height: 9px;
      border: 1.5px solid var(--ink-2);
      border-radius: 50%;
    }
    .mark.partly {
      background: linear-gradient(to top, var(--ink-2) 50%, transparent 50%);
    }
    .mark.well {
      background: var(--ink-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SuitSection {
  protected readonly words = sourceWords;
  private readonly reading = inject(SuitReading);
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly viewStore = inject(ViewStore);
  protected readonly suit = this.reading.suit;
  protected readonly failed = this.reading.failed;
  protected readonly readings = computed(() => {
    const suit = this.suit();
    return suit ? describeSuitability(suit) : [];
  });

  constructor() {
    this.reading.want();
  }

  /** The foot of what stands across the plane; null where nothing, or all, does. */
  protected acrossAt(suit: SceneReading): [number, number] | null {
    const { tallest } = suit;
    return tallest && uprightsAcrossFocus(suit) === 'something' ? [tallest.at, tallest.to] : null;
  }

  /** A subject that stands there, to be cut out next. */
  protected stand(foot: [number, number]): void {
    const id = crypto.randomUUID();
    this.project.edit(sourceWords.newStandingSubject, ({ focus }) => {
      focus.mattes.push({ ...newMatte(id, BLANK_MATTE), as: 'standing', foot });
    });
    this.selection.choose({ kind: 'matte', id });
    this.viewStore.set({ step: 'focus' });
  }

  /** The band takes the place of all others, as one step back. */
  protected take(suit: SceneReading): void {
    const band = suggestBand(suit, this.project.size(), BAND_ID);
    this.project.edit(sourceWords.suggestedBandName, ({ focus }) => {
      focus.on = true;
      focus.bands = [band];
    });
    this.selection.chooseBand(BAND_ID);
    this.viewStore.set({ step: 'focus' });
  }
}
