import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Document } from '../../state/document';
import { Workspace } from '../../state/workspace';
import { type NumberChange, NumberField } from '../../ui/number-field';
import { addSounding } from './soundings';

/** The soundings: what they are for, and the numbers of the one in hand. */
@Component({
  selector: 'hl-soundings-panel',
  imports: [NumberField],
  template: `
    <section class="panel-section" aria-label="Soundings">
      <p class="hint">
        Click on the picture to drop a sounding: a spot with its own amount of haze. The field runs smoothly
        from one to the next. Drag its number to move it, its bar (or the wheel) to turn it, Alt-drag to copy
        it.
      </p>
      @if (spot(); as one) {
        <div class="row">
          <h3>Sounding {{ one.index + 1 }}</h3>
          <button class="button outlined push" (click)="remove(one.index)">Delete</button>
        </div>
        <hl-number
          label="Haze"
          name="Haze of the sounding"
          unit="%"
          [slider]="true"
          [value]="one.haze * 100"
          [initial]="50"
          (changed)="setHaze(one.index, $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <div class="row">
          <hl-number
            label="x"
            name="Sounding, across in pixels"
            [value]="one.at[0] * document.size().width"
            [max]="document.size().width"
            [initial]="document.size().width / 2"
            (changed)="setPlace(one.index, 0, $event)"
          />
          <hl-number
            label="y"
            name="Sounding, down in pixels"
            [value]="one.at[1] * document.size().height"
            [max]="document.size().height"
            [initial]="document.size().height / 2"
            (changed)="setPlace(one.index, 1, $event)"
          />
        </div>
      }
      <button class="button outlined" (click)="add()">Drop one in the middle</button>
    </section>
  `,
  styles: `
    h3 {
      font-size: 13px;
      font-weight: 600;
    }
    .row hl-number {
      flex: 1;
    }
    .button {
      justify-self: start;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SoundingsPanel {
  protected readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly spot = computed(() => {
    const chosen = this.workspace.chosen();
    if (chosen.kind !== 'soundings' || chosen.index === null) return null;
    const spot = this.document.recipe().focus.soundings[chosen.index];
    return spot ? { ...spot, index: chosen.index } : null;
  });

  protected setHaze(index: number, { value, gesture }: NumberChange): void {
    this.document.edit(
      'haze of a sounding',
      (draft) => (draft.focus.soundings[index]!.haze = value / 100),
      gesture,
    );
  }

  protected setPlace(index: number, axis: 0 | 1, { value, gesture }: NumberChange): void {
    const { width, height } = this.document.size();
    this.document.edit(
      'place of a sounding',
      (draft) => (draft.focus.soundings[index]!.at[axis] = value / (axis === 0 ? width : height)),
      gesture,
    );
  }

  protected add(): void {
    this.workspace.choose({ kind: 'soundings', index: addSounding(this.document, [0.5, 0.5]) });
  }

  protected remove(index: number): void {
    this.document.edit('delete sounding', (draft) => draft.focus.soundings.splice(index, 1));
  }
}
