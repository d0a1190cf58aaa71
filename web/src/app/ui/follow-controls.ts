import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatTooltip } from '@angular/material/tooltip';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatOption, MatSelect } from '@angular/material/select';
import type { RecipePath } from '@hazy-lens/core';
import { bandName } from '../model/bands';
import { matteName } from '../model/mattes';
import { BLANK_MATTE } from '../engine/rasters';
import { Footage } from '../project/footage';
import { Following, type Way } from '../project/following';
import { OpenProject } from '../project/open-project';

/** Lets a part of the recipe follow what it lies on, from the frame in view on. */
@Component({
  selector: 'hl-follow-controls',
  imports: [MatButton, MatFormField, MatLabel, MatOption, MatProgressBar, MatSelect, MatTooltip],
  template: `
    @if (footage.isOpen()) {
      <section class="panel-section" aria-label="Follow">
        <h3 class="quiet">Follow {{ label() }} from frame {{ footage.frame() + 1 }}</h3>
        @if (following.progress(); as running) {
          <mat-progress-bar
            mode="determinate"
            [value]="running.done * 100"
            [attr.aria-label]="'Following ' + label()"
          />
          <div class="row">
            <span class="quiet">{{ percent() }} % of the way</span>
            <button matButton="outlined" class="push" (click)="following.stop()">Stop here</button>
          </div>
        } @else {
          @if (others().length > 0) {
            <mat-form-field subscriptSizing="dynamic">
              <mat-label>Look at</mat-label>
              <mat-select [value]="goBy()" (valueChange)="goBy.set($event)">
                <mat-option [value]="null">What lies in it</mat-option>
                @for (other of others(); track other.id) {
                  <mat-option [value]="other.id">{{ other.name }}</mat-option>
                }
              </mat-select>
            </mat-form-field>
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
      width: 100%;
    }
    .ways button {
      flex: 1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FollowControls {
  readonly at = input.required<RecipePath>();
  readonly label = input.required<string>();
  protected readonly footage = inject(Footage);
  protected readonly following = inject(Following);
  private readonly project = inject(OpenProject);
  protected readonly percent = computed(() => Math.round((this.following.progress()?.done ?? 0) * 100));
  protected readonly ways: readonly { way: Way; label: string; tip: string }[] = [
    { way: 'backwards', label: 'Backwards', tip: 'To the beginning of the clip' },
    { way: 'both', label: 'Both', tip: 'Through the whole clip' },
    { way: 'forwards', label: 'Forwards', tip: 'To the end of the clip' },
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
  /** Id of the other part that is looked at, or null. */
  protected readonly goBy = linkedSignal<string, string | null>({
    source: () => this.at().join('/'),
    computation: () => null,
  });

  protected follow(way: Way): void {
    const lookAt = this.others().find(({ id }) => id === this.goBy())?.place;
    void this.following.follow(this.at(), this.label(), way, lookAt);
  }
}
