import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Focus } from '@hazy-lens/core';
import { Document } from '../state/document';
import { type StepName, Workspace } from '../state/workspace';

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
  template: `
    <nav aria-label="Route">
      <h2>Route</h2>
      <ol>
        @for (row of rows(); track row.step) {
          <li [class.current]="workspace.step() === row.step" [class.off]="row.on === false">
            <button
              class="go"
              [attr.aria-current]="workspace.step() === row.step ? 'step' : null"
              (click)="workspace.step.set(row.step)"
            >
              <span class="label">{{ row.label }}</span>
              <span class="summary">{{ row.summary }}</span>
            </button>
            @if (row.on !== null) {
              <button
                class="switch"
                role="switch"
                [attr.aria-checked]="row.on"
                [attr.aria-label]="row.label + ' in the picture'"
                [title]="row.on ? 'Take out of the picture' : 'Put back into the picture'"
                (click)="toggle(row)"
              ></button>
            }
          </li>
        }
      </ol>
    </nav>
  `,
  styles: `
    :host {
      background: var(--paper);
      border-right: 1px solid var(--line);
    }
    h2 {
      font-size: 11px;
      font-weight: 500;
      color: var(--ink-3);
      padding: 14px 16px 6px;
    }
    ol {
      list-style: none;
      margin: 0;
      padding: 0;
      position: relative;
    }
    li {
      position: relative;
    }
    /* The route itself: a line from stop to stop. */
    li::before {
      content: '';
      position: absolute;
      left: 19px;
      top: 0;
      bottom: 0;
      width: 1px;
      background: var(--line-strong);
    }
    li:first-child::before {
      top: 22px;
    }
    li:last-child::before {
      bottom: calc(100% - 22px);
    }
    .go {
      display: grid;
      gap: 1px;
      width: 100%;
      padding: 8px 8px 8px 34px;
      border: 0;
      background: none;
      text-align: left;
      cursor: pointer;
      min-height: 50px;
      align-content: center;
    }
    li:has(.switch) .go {
      padding-right: 34px;
    }
    .go:hover {
      background: var(--hover);
    }
    .go::before {
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
    }
    .current .go {
      background: var(--raised);
    }
    .current .go::before {
      background: var(--ink);
      border-color: var(--ink);
    }
    .label {
      font-weight: 600;
    }
    .summary {
      font-size: 11px;
      color: var(--ink-3);
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .off .label,
    .off .summary {
      color: var(--ink-3);
      text-decoration: line-through;
      text-decoration-thickness: 1px;
    }
    .switch {
      position: absolute;
      right: 8px;
      top: 50%;
      margin-top: -12px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Route {
  private readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);

  protected readonly rows = computed<RouteRow[]>(() => {
    const { focus, blur, colour } = this.document.calmRecipe();
    const source = this.document.source();
    const percent = Math.round(colour.saturation * 100);
    return [
      {
        step: 'source',
        label: 'Source',
        summary: source ? `${source.width} × ${source.height}` : 'no picture',
        on: null,
      },
      {
        step: 'focus',
        label: 'Focus',
        summary: focusSummary(focus),
        on: focus.on,
      },
      {
        step: 'blur',
        label: 'Blur',
        summary: `gaussian ${(blur.radius * this.document.diagonal()).toFixed(0)} px`,
        on: blur.on,
      },
      {
        step: 'colour',
        label: 'Colour',
        summary: percent === 0 ? 'as it came' : `saturation ${percent > 0 ? '+' : '−'}${Math.abs(percent)}`,
        on: colour.on,
      },
      { step: 'output', label: 'Output', summary: 'export to a file', on: null },
    ];
  });

  protected toggle(row: RouteRow): void {
    const step = row.step as 'focus' | 'blur' | 'colour';
    this.document.edit(`${row.label} ${row.on ? 'off' : 'on'}`, (draft) => (draft[step].on = !row.on));
  }
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
