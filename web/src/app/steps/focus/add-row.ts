import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatTooltip } from '@angular/material/tooltip';
import type { BandKind } from '@hazy-lens/core';
import { BLANK_MATTE } from '../../engine/rasters';
import { newMatte } from '../../model/mattes';
import { StageTools } from '../../stage/stage-tools';
import { OpenProject } from '../../project/session/open-project';
import { SelectionStore } from '../../workspace/selection-store';
import { ToolStore } from '../../workspace/tool-store';
import { RasterImport } from './raster-import';
import { focusWords } from '../../words/focus';

interface Way {
  id: BandKind | 'sounding' | 'depth' | 'brush' | 'subject';
  label: string;
  tip: string;
  /** A drawing of 22 x 16. */
  path: string;
}

const WAYS: readonly Way[] = [
  { id: 'planar', label: focusWords.planar, tip: focusWords.clearAlongALineHazy, path: 'M2 8h18M2 4.5h18M2 11.5h18M2 1h18M2 15h18' },
  { id: 'linear', label: focusWords.linear, tip: focusWords.fadesFromClearToHazy, path: 'M3 1v14M6 1v14M10 1v14M15 1v14M21 1v14' },
  { id: 'elliptical', label: focusWords.elliptical, tip: focusWords.clearInsideAnEllipseDrag, path: 'M16 8a5 3 0 1 1-10 0a5 3 0 1 1 10 0M21 8a10 7 0 1 1-20 0a10 7 0 1 1 20 0' },
  { id: 'iris', label: focusWords.iris, tip: focusWords.clearInsideAnApertureShape, path: 'M8.5 4h5l2.5 4l-2.500 4h-5l-2.500-4zM7 1h8l5 7l-5 7h-8l-5-7z' },
  { id: 'sounding', label: focusWords.sounding, tip: focusWords.setsHazeAtSinglePoints, path: 'M11 1v6M8 9.500h6l-1 5h-4zM2 4h5M15 4h5' },
  { id: 'depth', label: focusWords.depthMap, tip: focusWords.hazeByDistance, path: 'M1 13h20M4 13l4-7l4 5l3-4l4 6M15 3.500h5' },
  { id: 'brush', label: focusWords.brush, tip: focusWords.paintClearOrHazeByHand, path: 'M3 14c3 0 4-1 4-3M7 11l9-9.500l3 2.500l-9 9z' },
  { id: 'subject', label: focusWords.subject, tip: focusWords.keepsASubjectClearWhatever, path: 'M13.500 5a2.500 2.500 0 1 1-5 0a2.500 2.500 0 1 1 5 0M5 15c0-4 2-6 6-6s6 2 6 6' },
]; // prettier-ignore

/** The ways to add something to the field. */
@Component({
  selector: 'hl-add-row',
  imports: [MatButton, MatTooltip],
  template: `
    <div class="ways" role="group" [aria-label]="words.addFocus">
      @for (way of ways; track way.id) {
        <button
          matButton
          class="way"
          [disabled]="isOfPicture(way) && selection.layer() !== null"
          [matTooltip]="way.tip"
          [attr.aria-pressed]="isActive(way)"
          (click)="take(way)"
          (keydown.enter)="enter($event, way)"
        >
          <span class="drawing">
            <svg width="22" height="16" aria-hidden="true"><path [attr.d]="way.path" /></svg>
            {{ way.label }}
          </span>
        </button>
      }
    </div>
  `,
  styles: `
    .ways {
      display: grid;
      grid-template-columns: repeat(4, 1fr);
      gap: 4px;
    }
    .way {
      --mat-button-text-container-height: auto;
      --mat-button-text-horizontal-padding: 0;
      --mat-button-text-label-text-size: 11px;
      --mat-button-text-label-text-color: var(--ink-2);
      min-width: 0;
      padding: 6px 0 4px;
      background: var(--field);
    }
    .way[aria-pressed='true'] {
      --mat-button-text-label-text-color: var(--paper);
      background: var(--ink);
    }
    .drawing {
      display: grid;
      justify-items: center;
      gap: 3px;
    }
    path {
      fill: none;
      stroke: currentColor;
      stroke-width: 1.25;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AddRow {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  protected readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  private readonly depth = inject(RasterImport);
  private readonly tools = inject(StageTools);
  protected readonly ways = WAYS;

  /** An element has no such thing in its field. */
  protected isOfPicture({ id }: Way): boolean {
    return id === 'depth' || id === 'brush' || id === 'subject';
  }

  protected isActive({ id }: Way): boolean {
    const { kind } = this.selection.chosen();
    if (this.selection.placing()) return this.selection.placing() === id;
    return id === 'sounding' ? kind === 'soundings' : id === 'brush' && kind === 'brush';
  }

  protected take({ id }: Way): void {
    switch (id) {
      case 'sounding':
        return this.selection.choose({ kind: 'soundings', index: null });
      case 'brush':
        return this.selection.choose({ kind: 'brush' });
      case 'depth':
        return void this.depth.choose();
      case 'subject':
        return this.addSubject();
      default:
        this.selection.place(this.selection.placing() === id ? null : id);
    }
  }

  /** By the keyboard a band comes without a drag. */
  protected enter(event: Event, way: Way): void {
    if (!['planar', 'linear', 'elliptical', 'iris'].includes(way.id)) return;
    event.preventDefault();
    this.selection.place(way.id as BandKind);
    this.tools.placeDefault();
  }

  private addSubject(): void {
    const id = crypto.randomUUID();
    this.project.edit(focusWords.newSubject, (draft) => {
      draft.focus.mattes.push(newMatte(id, BLANK_MATTE));
    });
    this.settings.setScribble({ inside: true });
    this.selection.choose({ kind: 'matte', id });
  }
}
