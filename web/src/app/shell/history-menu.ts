import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatMenu, MatMenuContent, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { listHistory } from '../model/history-list';
import { OpenProject } from '../project/session/open-project';
import { shellWords } from '../words/shell';

/** All steps of the project with what each changed, the newest first; a click goes there. */
@Component({
  selector: 'hl-history-menu',
  imports: [MatIcon, MatIconButton, MatMenu, MatMenuContent, MatMenuItem, MatMenuTrigger, MatTooltip],
  template: `
    @if (!isSubmenu()) {
      <button
        matIconButton
        [aria-label]="words.history"
        [matTooltip]="words.historyAllSteps"
        [disabled]="!isThere()"
        [matMenuTriggerFor]="ways"
      >
        <mat-icon svgIcon="history" />
      </button>
    }
    <mat-menu #ways="matMenu" class="history" (closed)="shown.set(pageLength)">
      <ng-template matMenuContent>
        @for (step of steps().slice(0, shown()); track step.seq) {
          <button
            mat-menu-item
            role="menuitemradio"
            [attr.aria-checked]="step.distance === 0"
            [class.current]="step.distance === 0"
            [class.undone]="step.distance > 0"
            (click)="project.goBy(step.distance)"
          >
            {{ step.label }}
            @if (step.changes) {
              <span class="changes">{{ step.changes }}</span>
            }
          </button>
        }
        @if (steps().length > shown()) {
          <button mat-menu-item (click)="showMore($event)">{{ words.showEarlierSteps }}</button>
        } @else {
          <button
            mat-menu-item
            role="menuitemradio"
            [attr.aria-checked]="isAtStart()"
            [class.current]="isAtStart()"
            (click)="project.goBy(-project.state().history.past.length)"
          >
            {{ isCut() ? words.earliestStepKept : words.asOpened }}
          </button>
        }
      </ng-template>
    </mat-menu>
  `,
  styles: `
    .changes {
      display: block;
      font-size: 11.5px;
      line-height: 1.35;
      color: var(--ink-3);
    }
    .current {
      --mat-menu-item-label-text-weight: 700;
    }
    .undone {
      --mat-menu-item-label-text-color: var(--ink-3);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HistoryMenu {
  protected readonly words = shellWords;
  protected readonly project = inject(OpenProject);
  /** True where another menu opens it: it has no button of its own. */
  readonly isSubmenu = input(false);
  readonly menu = viewChild.required<MatMenu>('ways');
  /** Steps listed at a time. */
  protected readonly pageLength = 40;
  protected readonly shown = signal(this.pageLength);
  protected readonly steps = computed(() => {
    const { history, work } = this.project.state();
    return listHistory(history, work, this.project.size());
  });
  readonly isThere = computed(() => {
    const { past, future } = this.project.state().history;
    return past.length + future.length > 0;
  });
  protected readonly isAtStart = computed(() => this.project.state().history.past.length === 0);
  /** The first steps of a long history are gone. */
  protected readonly isCut = computed(() => (this.project.state().history.past[0]?.seq ?? 0) > 0);

  protected showMore(event: Event): void {
    event.stopPropagation();
    this.shown.update((count) => count + this.pageLength);
  }
}
