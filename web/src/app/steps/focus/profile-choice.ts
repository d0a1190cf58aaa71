import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { type Profile, profileAt, profilePieces } from '@hazy-lens/core';
import { knotsOf } from '../../profile/rail-axis';

type NamedProfile = Extract<Profile, string>;

const NAMED: readonly NamedProfile[] = ['smooth', 'linear', 'late', 'early'];

/** How a falloff goes: one of four, or through knots of one's own. */
@Component({
  selector: 'hl-profile-choice',
  imports: [MatTooltip],
  template: `
    <div class="profiles" role="radiogroup" aria-label="Profile of the falloff">
      @for (one of profiles; track one.value) {
        <button
          role="radio"
          [attr.aria-checked]="profile() === one.value"
          [attr.aria-label]="one.value"
          [matTooltip]="'Falloff: ' + one.value"
          (click)="chosen.emit(one.value)"
        >
          <svg width="24" height="16" aria-hidden="true"><path [attr.d]="one.path" /></svg>
        </button>
      }
      <button
        role="radio"
        [attr.aria-checked]="isCustom()"
        aria-label="custom"
        matTooltip="Falloff through knots of your own: drag them on the profile, a double click there adds one"
        (click)="customise()"
      >
        <svg width="24" height="16" aria-hidden="true">
          <path [attr.d]="own()" />
          <path class="dots" d="M7 9h2v3h-2zM14 4h2v3h-2z" />
        </svg>
      </button>
    </div>
  `,
  styles: `
    .profiles {
      display: inline-flex;
      gap: 2px;
      padding: 2px;
      border-radius: 6px;
      background: var(--field);
    }
    button {
      width: 30px;
      height: 24px;
      border: 0;
      border-radius: 4px;
      background: none;
      cursor: pointer;
      padding: 4px 3px;
    }
    button[aria-checked='true'] {
      background: var(--raised);
      box-shadow: 0 1px 2px rgb(0 0 0 / 0.18);
    }
    path {
      fill: none;
      stroke: var(--ink-2);
      stroke-width: 1.5;
    }
    .dots {
      fill: var(--ink-2);
      stroke: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProfileChoice {
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

  protected customise(): void {
    if (!this.isCustom()) this.chosen.emit({ knots: knotsOf(this.profile()) });
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
