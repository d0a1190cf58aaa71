import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { toCrop } from '@hazy-lens/core';
import { StageRenderLoop } from '../engine/stage-render-loop';
import { OpenProject } from '../project/session/open-project';
import { type Binding, Keymap } from '../workspace/keymap';
import { ViewStore } from '../workspace/view-store';
import { Viewport } from '../workspace/viewport';
import { FieldView } from './field-view';
import { EXAGGERATION } from './stage-renderer';
import { stageWords } from '../words/stage';

/** Zoom and the readings at the pointer, at the foot of the stage. */
@Component({
  selector: 'hl-status-line',
  imports: [MatButton, MatIcon, MatIconButton, MatTooltip],
  template: `
    <button
      matButton
      [matTooltip]="words.fitToTheStageF"
      matTooltipPosition="above"
      [attr.aria-pressed]="viewport.isFitted()"
      (click)="viewport.fit()"
    >
      {{ words.fit }}
    </button>
    <button
      matButton
      [matTooltip]="words.actualSize1"
      matTooltipPosition="above"
      [attr.aria-pressed]="isFull()"
      (click)="viewport.zoomTo(1 / viewport.pixelRatio())"
    >
      100%
    </button>
    @for (way of ways; track way.shown) {
      <button
        matIconButton
        [attr.aria-label]="way.button!.label"
        [attr.aria-pressed]="way.hold!.isOn!()"
        [matTooltip]="words.tapToKeep(way.does, way.shown)"
        matTooltipPosition="above"
        (pointerdown)="press(way, $event)"
        (pointerup)="keymap.release(way.keys[0]!, $event.timeStamp)"
        (pointercancel)="keymap.release(way.keys[0]!, $event.timeStamp)"
        (click)="tap(way, $event)"
      >
        <mat-icon [svgIcon]="way.button!.icon" />
      </button>
    }
    <span class="zoom">{{ zoomPercent() }}%</span>
    <span class="reading" aria-live="off">
      @if (reading(); as read) {
        {{ words.hazePxAtCursor(read.haze, read.px) }}
      }
    </span>
    <span class="flags">
      @if (viewStore.exaggerated()) {
        <span>{{ words.exaggerated(exaggeration) }}</span>
      }
      @if (viewStore.hazeMap()) {
        <span>{{ words.hazeMap }}</span>
      }
      @if (renderLoop.busy()) {
        <span role="status">{{ words.draft }}</span>
      }
    </span>
  `,
  styles: `
    :host {
      position: absolute;
      left: 50%;
      bottom: 0;
      translate: -50% 0;
      display: flex;
      align-items: center;
      gap: 4px;
      height: 26px;
      padding: 0 12px;
      z-index: 4;
      background: rgb(32 33 34 / 0.82);
      color: #e8e8e8;
      border-radius: 6px 6px 0 0;
      font-size: 12px;
      white-space: nowrap;
    }
    button {
      --mat-button-text-container-height: 20px;
      --mat-button-text-horizontal-padding: 6px;
      --mat-button-text-label-text-color: #e8e8e8;
      --mat-button-text-label-text-size: 12px;
      --mat-button-text-state-layer-color: #fff;
      min-width: 0;
    }
    button[matIconButton] {
      --mat-icon-button-state-layer-size: 24px;
      --mat-icon-button-icon-color: #e8e8e8;
      padding: 4px;
    }
    button[aria-pressed='true'] {
      background: rgb(255 255 255 / 0.2);
    }
    .zoom {
      min-width: 42px;
      text-align: right;
    }
    .reading {
      min-width: 176px;
      text-align: center;
    }
    /* Where the stage is narrow there is room for what is pressed only. */
    @container (max-width: 560px) {
      :host {
        padding: 0 4px;
        gap: 0;
      }
      .reading,
      .zoom,
      .flags {
        display: none;
      }
    }
    @media (pointer: coarse) {
      :host {
        height: 42px;
      }
      button {
        --mat-button-text-container-height: 40px;
      }
      button[matIconButton] {
        --mat-icon-button-state-layer-size: 40px;
        padding: 12px;
      }
    }
    /* Beside the line: what comes and goes does not move what is pressed. */
    .flags {
      position: absolute;
      left: calc(100% + 6px);
      bottom: 0;
      display: flex;
      flex-direction: column-reverse;
      align-items: flex-start;
    }
    .flags span {
      padding: 4px 10px;
      background: rgb(32 33 34 / 0.82);
      border-radius: 6px;
    }
  `,
  host: { '[attr.aria-busy]': 'renderLoop.busy()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StatusLine {
  protected readonly words = stageWords;
  protected readonly viewStore = inject(ViewStore);
  protected readonly renderLoop = inject(StageRenderLoop);
  protected readonly viewport = inject(Viewport);
  private readonly project = inject(OpenProject);
  private readonly fieldView = inject(FieldView);
  protected readonly keymap = inject(Keymap);
  /** The hold keys that have a button here. */
  protected readonly ways = this.keymap.bindings.filter(({ button }) => button);
  protected readonly exaggeration = EXAGGERATION;
  private readonly zoom = computed(() => this.viewport.view().zoom * this.viewport.pixelRatio());

  protected press({ keys, hold }: Binding, event: PointerEvent): void {
    if (event.button !== 0) return;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    this.keymap.press(keys[0]!, hold!, event.timeStamp);
  }

  /** A click by keyboard has no pointer events before it. */
  protected tap({ keys, hold }: Binding, event: MouseEvent): void {
    if (event.detail !== 0) return;
    this.keymap.press(keys[0]!, hold!, event.timeStamp);
    this.keymap.release(keys[0]!, event.timeStamp);
  }

  protected readonly zoomPercent = computed(() => Math.round(this.zoom() * 100));
  protected readonly isFull = computed(() => Math.abs(this.zoom() - 1) < 1e-6);
  protected readonly reading = computed(() => {
    const at = this.viewport.pointer();
    const sheet = this.viewport.sheet();
    if (!at) return null;
    const [x, y] = toCrop(sheet, [at.x, at.y]);
    if (x < 0 || y < 0 || x >= sheet.width || y >= sheet.height) return null;
    const haze = this.fieldView.calmField()(at.x, at.y);
    return { haze: Math.round(haze * 100), px: (haze * this.project.radiusPx()).toFixed(1) };
  });
}
