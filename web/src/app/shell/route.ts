import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatActionList, MatListItem, MatListItemLine, MatListItemTitle } from '@angular/material/list';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import type { Focus, Pace, Recipe } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { OpenProject } from '../project/session/open-project';
import { type StepName, ViewStore } from '../workspace/view-store';

interface RouteRow {
  step: StepName;
  label: string;
  summary: string;
  /** Null where the step cannot be taken out. */
  on: boolean | null;
}

/** The steps in the order of the work; each says what it does now and can be taken out without being lost. */
@Component({
  selector: 'hl-route',
  imports: [MatActionList, MatListItem, MatListItemLine, MatListItemTitle, MatSlideToggle, MatTooltip],
  template: `
    <nav aria-label="Route">
      <h2>Route</h2>
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
              (click)="viewStore.step.set(row.step)"
            >
              <span matListItemTitle>{{ row.label }}</span>
              <span matListItemLine>{{ row.summary }}</span>
            </button>
            @if (row.on !== null) {
              <mat-slide-toggle
                [checked]="row.on"
                [aria-label]="row.label + ' in the picture'"
                [matTooltip]="row.on ? 'Take out of the picture' : 'Put back into the picture'"
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
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Route {
  private readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  private readonly footage = inject(Footage);

  protected readonly rows = computed<RouteRow[]>(() => {
    const { tidy, focus, blur, colour, finish, pace } = this.project.calmRecipe();
    const source = this.project.source();
    return [
      {
        step: 'source',
        label: 'Source',
        summary: source ? `${source.width} × ${source.height}` : 'no picture',
        on: null,
      },
      { step: 'tidy', label: 'Tidy', summary: tidySummary(tidy), on: tidy.on },
      {
        step: 'focus',
        label: 'Focus',
        summary: focusSummary(focus),
        on: focus.on,
      },
      {
        step: 'blur',
        label: 'Blur',
        summary: `${blur.kind} ${(blur.radius * this.project.diagonal()).toFixed(0)} px`,
        on: blur.on,
      },
      {
        step: 'colour',
        label: 'Colour',
        summary: colourSummary(colour),
        on: colour.on,
      },
      { step: 'finish', label: 'Finish', summary: finishSummary(finish), on: finish.on },
      ...(this.footage.isOpen()
        ? [{ step: 'pace' as const, label: 'Pace', summary: paceSummary(pace), on: pace.on }]
        : []),
      { step: 'output', label: 'Output', summary: 'export to a file', on: null },
    ];
  });

  protected toggle(row: RouteRow): void {
    const step = row.step as 'tidy' | 'focus' | 'blur' | 'colour' | 'finish' | 'pace';
    this.project.edit(`${row.label} ${row.on ? 'off' : 'on'}`, (draft) => (draft[step].on = !row.on));
  }
}

/** A few words of what is left of the picture. */
function tidySummary({ crop, mends }: Recipe['tidy']): string {
  const isWhole = crop.size[0] === 1 && crop.size[1] === 1;
  const words = [
    ...(isWhole ? [] : ['crop']),
    ...(crop.turn !== 0 ? [`${crop.turn.toFixed(1)}°`] : []),
    ...(crop.flip ? ['flip'] : []),
    ...(mends.length > 0 ? [mends.length === 1 ? '1 mend' : `${mends.length} mends`] : []),
  ];
  return words.join(', ') || 'as it came';
}

/** A few words of what is done to the colours: the look, or the one number that is set. */
function colourSummary({ look, mono, ...colour }: Recipe['colour']): string {
  const numbers = Object.entries(colour).filter((one): one is [string, number] => typeof one[1] === 'number');
  const set = numbers.filter(([, value]) => Math.round(value * 100) !== 0);
  const isBalanced = Object.values(colour.balance)
    .flat()
    .some((shift) => shift !== 0);
  const words = [...(look ? [look.name ?? 'own look'] : []), ...(mono.on ? ['black and white'] : [])];
  if (words.length > 0) return words.join(', ');
  if (set.length === 0) return isBalanced ? 'balance' : 'as it came';
  if (set.length > 1 || isBalanced) return `${set[0]![0]} and more`;
  const [name, value] = set[0]!;
  const shown = name === 'exposure' ? Math.abs(value).toFixed(1) : `${Math.round(Math.abs(value) * 100)}`;
  return `${name} ${value > 0 ? '+' : '−'}${shown}`;
}

function finishSummary({ grain, vignette }: Recipe['finish']): string {
  const hasGrain = grain.match > 0 || grain.amount > 0;
  const words = [...(vignette.amount !== 0 ? ['vignette'] : []), ...(hasGrain ? ['grain'] : [])];
  return words.join(', ') || 'nothing added';
}

/** A few words of what makes the field: "planar × 2, brush". */
function focusSummary(focus: Focus): string {
  const kinds = new Map<string, number>();
  const count = (kind: string): void => void kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
  if (focus.soundingsOn && focus.soundings.length > 0) count('soundings');
  if (focus.depthMap?.on) count('depth');
  for (const band of focus.bands) if (band.on) count(band.kind);
  if (focus.strokesOn && focus.strokes.length > 0) count('brush');
  for (const matte of focus.mattes) if (matte.on) count('subject');
  const words = [...kinds].map(([kind, n]) => (n === 1 ? kind : `${kind} × ${n}`));
  return words.join(', ') || 'no band';
}

/** A few words of how the footage goes: "2 ×, held 3". */
function paceSummary({ speed, curve, hold, direction }: Pace): string {
  const words = [curve ? 'curve' : `${Number(speed.toFixed(2))} ×`];
  if (hold > 1) words.push(`held ${hold}`);
  if (direction !== 'forward') words.push(direction === 'reverse' ? 'reverse' : 'there and back');
  return words.join(', ');
}
