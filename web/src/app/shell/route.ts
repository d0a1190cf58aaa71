import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatActionList, MatListItem, MatListItemLine, MatListItemTitle } from '@angular/material/list';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import { Footage } from '../project/footage/footage';
import { OpenProject } from '../project/session/open-project';
import { type StepName, ViewStore } from '../workspace/view-store';
import { WindowLayout } from '../workspace/window-layout';
import { STEPS, type Step } from './steps';
import { shellWords } from '../words/shell';

interface RouteRow extends Pick<Step, 'label' | 'part'> {
  step: StepName;
  summary: string;
  /** Null where the step cannot be taken out. */
  on: boolean | null;
}

/** The steps in the order of the work; each says what it does now and can be taken out without being lost. */
@Component({
  selector: 'hl-route',
  imports: [MatActionList, MatListItem, MatListItemLine, MatListItemTitle, MatSlideToggle, MatTooltip],
  template: `
    <nav [aria-label]="words.route">
      <h2>{{ words.route }}</h2>
      <mat-action-list role="list">
        @for (row of rows(); track row.step) {
          <div
            class="stop"
            role="listitem"
            [class.current]="viewStore.step() === row.step"
            [class.off]="row.on === false"
          >
            <button
              mat-list-item
              [attr.aria-current]="viewStore.step() === row.step ? 'step' : null"
              (click)="viewStore.set({ step: row.step })"
            >
              <span matListItemTitle>{{ row.label }}</span>
              @if (!isRow()) {
                <span matListItemLine>{{ row.summary }}</span>
              }
            </button>
            @if (row.on !== null) {
              <mat-slide-toggle
                [checked]="row.on"
                [aria-label]="row.label"
                [matTooltip]="(row.on ? words.turnOff : words.turnOn)(row.label.toLowerCase())"
                (change)="toggle(row)"
              />
            }
          </div>
        }
      </mat-action-list>
    </nav>
  `,
  styles: `
    :host {
      background: var(--paper);
      border-right: 1px solid var(--line);
      overflow: hidden auto;
    }
    h2 {
      font-size: 11px;
      font-weight: 500;
      color: var(--ink-3);
      padding: 14px 16px 6px;
    }
    mat-action-list {
      padding: 0;
      --mat-list-list-item-two-line-container-height: 50px;
      --mat-list-list-item-leading-icon-start-space: 0;
      --mat-list-list-item-label-text-size: 13px;
      --mat-list-list-item-label-text-line-height: 17px;
      --mat-list-list-item-label-text-tracking: 0;
      --mat-list-list-item-label-text-weight: 600;
      --mat-list-list-item-supporting-text-size: 11px;
      --mat-list-list-item-supporting-text-line-height: 15px;
      --mat-list-list-item-supporting-text-tracking: 0;
      --mat-list-list-item-supporting-text-color: var(--ink-3);
    }
    .stop {
      position: relative;
    }
    /* The route itself: a line from stop to stop. */
    .stop::before {
      content: '';
      position: absolute;
      left: 19px;
      top: 0;
      bottom: 0;
      width: 1px;
      background: var(--line-strong);
      z-index: 1;
    }
    .stop:first-child::before {
      top: 22px;
    }
    .stop:last-child::before {
      bottom: calc(100% - 22px);
    }
    .stop::after {
      content: '';
      position: absolute;
      left: 16px;
      top: 50%;
      margin-top: -3.5px;
      width: 7px;
      height: 7px;
      border-radius: 2px;
      background: var(--paper);
      border: 1px solid var(--ink-3);
      box-sizing: border-box;
      z-index: 1;
    }
    .current {
      background: var(--raised);
    }
    .current::after {
      background: var(--ink);
      border-color: var(--ink);
    }
    .stop button {
      padding-left: 34px;
      padding-right: 8px;
    }
    .stop:has(mat-slide-toggle) button {
      padding-right: 38px;
    }
    .stop:has(mat-slide-toggle) span[matListItemLine] {
      max-width: 76px;
    }
    .off span[matListItemTitle],
    .off span[matListItemLine] {
      color: var(--ink-3);
      text-decoration: line-through;
      text-decoration-thickness: 1px;
    }
    mat-slide-toggle {
      position: absolute;
      right: 8px;
      top: 50%;
      margin-top: -12px;
    }
    /* As a row the line runs below the stops. */
    :host(.row) {
      border-right: 0;
      border-bottom: 1px solid var(--line);
      overflow: auto hidden;
      scrollbar-width: thin;
    }
    :host(.row) h2 {
      position: absolute;
      clip-path: inset(50%);
    }
    :host(.row) mat-action-list {
      display: flex;
      width: max-content;
      padding: 0 8px;
      --mat-list-list-item-one-line-container-height: 40px;
    }
    :host(.row) .stop::before {
      inset: auto 0 3px;
      width: auto;
      height: 1px;
    }
    :host(.row) .stop::after {
      left: 12px;
      top: auto;
      bottom: 0;
    }
    :host(.row) .stop button {
      padding-left: 12px;
    }
    :host(.row) .stop:has(mat-slide-toggle) button {
      padding-right: 42px;
    }
  `,
  host: { '[class.row]': 'isRow()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Route {
  protected readonly words = shellWords;
  private readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  private readonly footage = inject(Footage);
  private readonly layout = inject(WindowLayout).layout;
  /** In smaller windows the steps are a row. */
  protected readonly isRow = computed(() => this.layout() !== 'wide');

  protected readonly rows = computed<RouteRow[]>(() => {
    const recipe = this.project.calmRecipe();
    const context = { source: this.project.source(), diagonal: this.project.diagonal() };
    return STEPS.filter((step) => !step.isForFootage || this.footage.isOpen()).map(
      ({ id, label, part, summary }) => ({
        step: id,
        label,
        part,
        summary: summary(recipe, context),
        on: part && recipe[part].on,
      }),
    );
  });

  protected toggle({ label, part, on }: RouteRow): void {
    if (part) this.project.edit(`${label} ${on ? 'off' : 'on'}`, (draft) => (draft[part].on = !on));
  }
}
