import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import { type Profile, profileAt, profilePieces } from '@hazy-lens/core';
import { knotsOf } from '../../profile/rail-axis';
import { focusWords } from '../../words/focus';

type NamedProfile = Extract<Profile, string>;

const NAMED: readonly NamedProfile[] = ['smooth', 'linear', 'late', 'early'];

/** How a falloff goes: one of four, or through knots of one's own. */
@Component({
  selector: 'hl-profile-choice',
  imports: [MatButtonToggle, MatButtonToggleGroup, MatTooltip],
  template: `
    <mat-button-toggle-group
      [aria-label]="words.profileOfTheFalloff"
      [value]="isCustom() ? 'custom' : profile()"
      (change)="choose($event.value)"
    >
      @for (one of profiles; track one.value) {
        <mat-button-toggle
          [value]="one.value"
          [aria-label]="one.value"
          [matTooltip]="words.falloff(one.value)"
        >
          <svg width="24" height="16" aria-hidden="true"><path [attr.d]="one.path" /></svg>
        </mat-button-toggle>
      }
      <mat-button-toggle
        value="custom"
        [aria-label]="words.custom"
        [matTooltip]="words.customFalloffDragKnots"
      >
        <svg width="24" height="16" aria-hidden="true">
          <path [attr.d]="own()" />
          <path class="dots" d="M7 9h2v3h-2zM14 4h2v3h-2z" />
        </svg>
      </mat-button-toggle>
    </mat-button-toggle-group>
  `,
  styles: `
    mat-button-toggle {
      --toggle-padding: 3px;
    }
    svg {
      display: block;
    }
    path {
      fill: none;
      stroke: currentColor;
      stroke-width: 1.5;
    }
    .dots {
      fill: currentColor;
      stroke: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProfileChoice {
  protected readonly words = focusWords;
  readonly profile = input.required<Profile>();
  readonly chosen = output<Profile>();
  protected readonly profiles = NAMED.map((value) => ({ value, path: profilePath(value) }));

  protected isCustom(): boolean {
    return typeof this.profile() !== 'string';
  }

  /** The profile's own knots drawn; before there are any, a flat wave. */
  protected own(): string {
    return this.isCustom() ? profilePath(this.profile()) : 'M0 15C10 15 8 1 24 1';
  }

  protected choose(value: NamedProfile | 'custom'): void {
    if (value !== 'custom') this.chosen.emit(value);
    else if (!this.isCustom()) this.chosen.emit({ knots: knotsOf(this.profile()) });
  }
}

/** The profile as a small drawing, 24 x 16. */
function profilePath(profile: Profile): string {
  const pieces = profilePieces(profile);
  return Array.from(
    { length: 13 },
    (_, i) => `${i === 0 ? 'M' : 'L'}${i * 2} ${(15 - 14 * profileAt(pieces, i / 12)).toFixed(2)}`,
  ).join('');
}
