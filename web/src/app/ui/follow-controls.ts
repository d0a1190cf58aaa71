import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatTooltip } from '@angular/material/tooltip';
import { MatFormField } from '@angular/material/form-field';
import { MatOption, MatSelect } from '@angular/material/select';
import type { RecipePath } from '@hazy-lens/core';
import { bandName } from '../model/bands';
import { matteName } from '../model/mattes';
import { BLANK_MATTE } from '../engine/rasters';
import { Footage } from '../project/footage/footage';
import { Following, type FollowDirection } from '../project/subjects/following';
import { OpenProject } from '../project/session/open-project';
import { controlsWords } from '../words/controls';

/** Looking at the part itself; no id is empty. */
const OWN = '';

/** Lets a part of the recipe follow what it lies on, from the frame in view on. */
@Component({
  selector: 'hl-follow-controls',
  imports: [MatButton, MatFormField, MatOption, MatProgressBar, MatSelect, MatTooltip],
  template: `
    @if (footage.isOpen()) {
      <section class="panel-section" [aria-label]="words.follow">
        <h3 class="quiet">{{ words.followFromFrame(label(), footage.frame() + 1) }}</h3>
        @if (following.progress(); as running) {
          <mat-progress-bar
            mode="determinate"
            [value]="running.done * 100"
            [attr.aria-label]="words.following(label())"
          />
          <div class="row">
            <span class="quiet">{{ words.ofTheWay(percent()) }}</span>
            <button matButton="outlined" class="push" (click)="following.stop()">{{ words.stopHere }}</button>
          </div>
        } @else {
          @if (others().length > 0) {
            <div class="row">
              <span id="look-at-label">{{ words.lookAt }}</span>
              <mat-form-field subscriptSizing="dynamic" class="push">
                <mat-select
                  aria-labelledby="look-at-label"
                  [value]="lookAt()"
                  (valueChange)="lookAt.set($event)"
                >
                  <mat-option [value]="OWN">{{ words.itsOwnContent }}</mat-option>
                  @for (other of others(); track other.id) {
                    <mat-option [value]="other.id">{{ other.name }}</mat-option>
                  }
                </mat-select>
              </mat-form-field>
            </div>
          }
          <div class="row ways">
            @for (way of ways; track way.way) {
              <button matButton="outlined" [matTooltip]="way.tip" (click)="follow(way.way)">
                {{ way.label }}
              </button>
            }
          </div>
        }
      </section>
    }
  `,
  styles: `
    mat-form-field {
      width: 168px;
    }
    .ways {
      --mat-button-outlined-horizontal-padding: 8px;
    }
    .ways button {
      flex: 1 0 auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FollowControls {
  protected readonly words = controlsWords;
  readonly at = input.required<RecipePath>();
  readonly label = input.required<string>();
  protected readonly footage = inject(Footage);
  protected readonly following = inject(Following);
  private readonly project = inject(OpenProject);
  protected readonly percent = computed(() => Math.round((this.following.progress()?.done ?? 0) * 100));
  protected readonly ways: readonly { way: FollowDirection; label: string; tip: string }[] = [
    { way: 'backwards', label: controlsWords.backward, tip: controlsWords.toTheBeginningOfTheClip },
    { way: 'both', label: controlsWords.bothWays, tip: controlsWords.throughTheWholeClip },
    { way: 'forwards', label: controlsWords.forward, tip: controlsWords.toTheEndOfTheClip },
  ];

  /** Subjects, and bands around something, that show what is to be followed where this part itself does not. */
  protected readonly others = computed(() => {
    const { focus } = this.project.recipe();
    const [part, list, index] = this.at();
    const isOwn = (name: string, i: number): boolean => part === 'focus' && list === name && index === i;
    const bands = focus.bands.flatMap((band, i) =>
      isOwn('bands', i) || (band.kind !== 'elliptical' && band.kind !== 'iris')
        ? []
        : [{ id: band.id, name: bandName(band, focus), place: ['focus', 'bands', i] }],
    );
    const mattes = focus.mattes.flatMap((matte, i) =>
      isOwn('mattes', i) || matte.image === BLANK_MATTE
        ? []
        : [{ id: matte.id, name: matteName(focus.mattes, i), place: ['focus', 'mattes', i] }],
    );
    return [...mattes, ...bands];
  });
  /** Id of the part that is looked at. */
  protected readonly lookAt = linkedSignal<string, string>({
    source: () => this.at().join('/'),
    computation: () => OWN,
  });
  protected readonly OWN = OWN;

  protected follow(way: FollowDirection): void {
    const lookAt = this.others().find(({ id }) => id === this.lookAt())?.place;
    void this.following.follow(this.at(), this.label(), way, lookAt);
  }
}
