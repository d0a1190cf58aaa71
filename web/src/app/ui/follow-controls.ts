import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatTooltip } from '@angular/material/tooltip';
import type { RecipePath } from '@hazy-lens/core';
import { Footage } from '../project/footage';
import { Following, type Way } from '../project/following';

/** Lets a part of the recipe follow what it lies on, from the frame in view on. */
@Component({
  selector: 'hl-follow-controls',
  imports: [MatButton, MatProgressBar, MatTooltip],
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
  protected readonly percent = computed(() => Math.round((this.following.progress()?.done ?? 0) * 100));
  protected readonly ways: readonly { way: Way; label: string; tip: string }[] = [
    { way: 'backwards', label: 'Backwards', tip: 'To the beginning of the clip' },
    { way: 'both', label: 'Both', tip: 'Through the whole clip' },
    { way: 'forwards', label: 'Forwards', tip: 'To the end of the clip' },
  ];

  protected follow(way: Way): void {
    void this.following.follow(this.at(), this.label(), way);
  }
}
