import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import {
  MatExpansionPanel,
  MatExpansionPanelContent,
  MatExpansionPanelHeader,
  MatExpansionPanelTitle,
} from '@angular/material/expansion';
import { type NumberRange, SCALE_RANGE } from '@hazy-lens/core';
import { ModelScale } from '../../stage/model-scale';
import { NumberField, plainRange } from '../../ui/number-field';
import { type ScaleSettings, ToolStore } from '../../workspace/tool-store';
import { focusWords } from '../../words/focus';

const RANGES: readonly { key: keyof ScaleSettings; range: NumberRange }[] = [
  { key: 'distance', range: { ...plainRange(focusWords.distance, 'm', 0.5, 20_000, 60), spoken: focusWords.distanceToTheFocus, decimals: 1 } },
  { key: 'focal', range: { ...plainRange(focusWords.lens, 'mm', 8, 1200, 50), spoken: focusWords.focalLength } },
  { key: 'fNumber', range: { ...plainRange('f-number', '', 0.7, 64, 4), step: 0.1, decimals: 1 } },
]; // prettier-ignore

/** Asks for any scale, and says what is assumed. */
@Component({
  selector: 'hl-scale-section',
  imports: [
    MatExpansionPanel,
    MatExpansionPanelContent,
    MatExpansionPanelHeader,
    MatExpansionPanelTitle,
    NumberField,
  ],
  template: `
    <mat-expansion-panel>
      <mat-expansion-panel-header>
        <mat-panel-title>{{ words.scaleGauge }}</mat-panel-title>
      </mat-expansion-panel-header>
      <ng-template matExpansionPanelContent>
        <hl-number [range]="wanted" [value]="read()" (changed)="scale.ask($event.value)" />
        @for (one of ranges; track one.key) {
          <hl-number
            [range]="one.range"
            [value]="settings.scale()[one.key]"
            (changed)="set(one.key, $event.value)"
          />
        }
        <p class="hint">
          {{
            words.aScaleSetsThePlanar(
              scale.isRead() ? words.theHorizonIsRead : words.cameraAngleAssumed25Down
            )
          }}
        </p>
      </ng-template>
    </mat-expansion-panel>
  `,
  styles: `
    hl-number {
      display: block;
      margin-bottom: 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScaleSection {
  protected readonly words = focusWords;
  protected readonly scale = inject(ModelScale);
  protected readonly settings = inject(ToolStore);
  protected readonly ranges = RANGES;
  protected readonly wanted: NumberRange = {
    ...plainRange(focusWords.scale1, '', SCALE_RANGE[0], SCALE_RANGE[1], 87),
    spoken: focusWords.scaleOneTo,
  };
  protected readonly read = computed(() => {
    const [least, most] = SCALE_RANGE;
    return Math.min(most, Math.max(least, Math.round(this.scale.reading()?.scale ?? this.wanted.start)));
  });

  protected set(key: keyof ScaleSettings, value: number): void {
    this.settings.setScale({ [key]: value });
  }
}
