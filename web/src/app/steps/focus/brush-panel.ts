import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import { type RecipePath, numberSpec, displayRange } from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { NumberField } from '../../ui/number-field';
import { type BrushSettings, ToolStore } from '../../workspace/tool-store';
import { FollowControls } from '../../ui/follow-controls';
import { focusWords } from '../../words/focus';

const NUMBERS = ['radius', 'softness', 'strength'] as const;

/** How the brush paints from now on. */
@Component({
  selector: 'hl-brush-panel',
  imports: [FollowControls, NumberField, MatButtonToggle, MatButtonToggleGroup, MatTooltip],
  template: `
    <section class="panel-section" [aria-label]="words.brush">
      <mat-button-toggle-group
        [aria-label]="words.brushMode"
        [value]="settings.brush().mode"
        (change)="set({ mode: $event.value })"
      >
        @for (one of modes; track one.mode) {
          <mat-button-toggle [value]="one.mode" [matTooltip]="one.tip">{{ one.label }}</mat-button-toggle>
        }
      </mat-button-toggle-group>
      @for (one of numbers(); track one.key) {
        <hl-number
          [range]="one.range"
          [slider]="true"
          [value]="settings.brush()[one.key] * one.range.scale"
          (changed)="setNumber(one.key, $event.value / one.range.scale)"
        />
      }
      <div class="row">
        <span class="quiet">{{ words.penPressure }}</span>
        <mat-button-toggle-group
          class="push"
          [aria-label]="words.penPressure"
          [value]="settings.brush().pressure"
          (change)="set({ pressure: $event.value })"
        >
          @for (one of pressures; track one.value) {
            <mat-button-toggle [value]="one.value">{{ one.label }}</mat-button-toggle>
          }
        </mat-button-toggle-group>
      </div>
      <p class="hint">
        {{ words.holdShiftForAStraight }}
      </p>
    </section>
    @if (hasStrokes()) {
      <hl-follow-controls [at]="carry" [label]="words.brush" />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BrushPanel {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  protected readonly settings = inject(ToolStore);
  protected readonly carry: RecipePath = ['focus', 'strokesCarry'];
  protected readonly hasStrokes = computed(() => this.project.calmRecipe().focus.strokes.length > 0);
  protected readonly numbers = computed(() =>
    NUMBERS.map((key) => ({
      key,
      range: displayRange(numberSpec(`focus.strokes[].${key}`), this.project.size()),
    })),
  );
  protected readonly modes: readonly { mode: BrushSettings['mode']; label: string; tip: string }[] = [
    { mode: 'clear', label: focusWords.clear, tip: focusWords.paintsAreasClear },
    { mode: 'haze', label: focusWords.haze, tip: focusWords.paintsHazeOverSharpAreas },
    { mode: 'erase', label: focusWords.erase, tip: focusWords.erasesBrushStrokes },
  ];
  protected readonly pressures: readonly { value: BrushSettings['pressure']; label: string }[] = [
    { value: 'none', label: focusWords.off },
    { value: 'size', label: focusWords.size },
    { value: 'strength', label: focusWords.strength },
  ];

  protected setNumber(key: (typeof NUMBERS)[number], value: number): void {
    this.set({ [key]: value });
  }

  protected set(change: Partial<BrushSettings>): void {
    this.settings.setBrush(change);
  }
}
