import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatFormField, MatInput, MatSuffix } from '@angular/material/input';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import { MatTooltip } from '@angular/material/tooltip';
import type { NumberRange } from '@hazy-lens/core';
import { numberText, numberWithUnit } from '../model/number-text';
import { Drag, type DragHandler } from './drag';
import { stepMultiplier } from './arrow-keys';
import { parseNumber } from './parse-number';
import { controlsWords } from '../words/controls';

export interface NumberChange {
  value: number;
  /** The same for all changes of one drag; null for a change that stands alone. */
  gesture: string | null;
}

/** The range of a number that is shown as it is, and belongs to no recipe. */
export function plainRange(
  label: string,
  unit: string,
  min: number,
  max: number,
  start: number,
): NumberRange {
  return {
    label,
    spoken: label,
    unit,
    min,
    max,
    start,
    step: 1,
    decimals: 0,
    slider: [min, max],
    scale: 1,
  };
}

/** A hand that goes less far only clicks. */
const MIN_SCRUB_PX = 3;
/** Pixels of a label drag that cover the slider's range, where its step is small enough. */
const SCRUB_PX = 400;
const CORRECTION_MS = 2200;
let nextId = 0;

/**
 * One number: drag its name, type it, arrow keys (Shift for ten steps, Alt for a tenth), double click on the name to
 * reset, and a slider where asked for. A value out of range is brought back in sight.
 */
@Component({
  selector: 'hl-number',
  imports: [Drag, MatFormField, MatInput, MatSuffix, MatSlider, MatSliderThumb, MatTooltip],
  template: `
    <label
      [for]="id"
      [matTooltip]="words.dragToChangeDoubleClickFor(shown(range().start))"
      [hlDrag]="scrub"
      (dblclick)="reset()"
      >{{ label() || range().label }}</label
    >
    <mat-form-field
      subscriptSizing="dynamic"
      [class.corrected]="correction()"
      [class.wide]="range().unit.length > 3"
    >
      <input
        matInput
        #field
        type="text"
        inputmode="decimal"
        autocomplete="off"
        role="spinbutton"
        [id]="id"
        [attr.aria-label]="name()"
        [attr.aria-valuenow]="value()"
        [attr.aria-valuemin]="range().min"
        [attr.aria-valuemax]="range().max"
        [attr.aria-valuetext]="withUnit()"
        [attr.data-keeps-steps]="isTyped() ? null : ''"
        [value]="text()"
        [disabled]="disabled()"
        (focus)="field.select()"
        (input)="typed.set(field.value)"
        (keydown)="key($event)"
        (blur)="commit()"
      />
      @if (range().unit) {
        <span matSuffix [class.tight]="range().unit === '%' || range().unit === '°'">{{ range().unit }}</span>
      }
    </mat-form-field>
    @if (slider()) {
      <mat-slider
        [min]="range().slider[0]"
        [max]="range().slider[1]"
        [step]="range().step / 10"
        [disabled]="disabled()"
        (dblclick)="reset()"
      >
        <input
          matSliderThumb
          #thumb
          [attr.aria-label]="words.slider(name())"
          [value]="value()"
          (dragStart)="startGesture()"
          (input)="slide(thumb.valueAsNumber)"
          (valueChange)="slide($event)"
          (dragEnd)="endGesture()"
        />
      </mat-slider>
    }
    @if (correction()) {
      <span class="note" role="status">{{ correction() }}</span>
    }
  `,
  styleUrl: './number-field.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NumberField {
  protected readonly words = controlsWords;
  readonly range = input.required<NumberRange>();
  readonly value = input.required<number>();
  /** In place of the range's own label, and of what is spoken. */
  readonly label = input('');
  readonly spoken = input('');
  readonly slider = input(false);
  readonly disabled = input(false);
  readonly changed = output<NumberChange>();
  /** True while a drag goes on. */
  readonly moving = output<boolean>();
  /** A drag was taken back: all its changes with it. */
  readonly takenBack = output<string>();

  protected readonly id = `number-${nextId++}`;
  protected readonly name = computed(() => this.spoken() || this.range().spoken);
  protected readonly correction = signal('');
  /** What was typed since the last commit; no change of the value from elsewhere overwrites it. */
  protected readonly typed = signal<string | null>(null);
  protected readonly text = computed(() => this.typed() ?? this.shown(this.value()));
  /** True while the box holds something that is not the value yet. */
  protected readonly isTyped = computed(() => this.text() !== this.shown(this.value()));
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');
  private gesture: string | null = null;

  protected withUnit(): string {
    return numberWithUnit(this.value(), this.range());
  }

  protected shown(value: number): string {
    return numberText(value, this.range());
  }

  protected startGesture(): void {
    this.gesture = crypto.randomUUID();
    this.moving.emit(true);
  }

  protected endGesture(): void {
    if (this.gesture === null) return;
    this.gesture = null;
    this.moving.emit(false);
  }

  /** Change per pixel while the label is dragged. */
  private scrubStep(): number {
    const { slider, step } = this.range();
    return Math.min(step, (slider[1] - slider[0]) / SCRUB_PX);
  }

  protected readonly scrub = (event: PointerEvent): DragHandler | null => {
    if (event.button !== 0 || this.disabled()) return null;
    const start = this.value();
    return {
      move: (to) => {
        const distance = to.clientX - event.clientX;
        const { step } = this.range();
        if (this.gesture === null && Math.abs(distance) < MIN_SCRUB_PX) return;
        if (this.gesture === null) this.startGesture();
        // In tenths of a step from the start value.
        const by = Math.round((distance * this.scrubStep() * stepMultiplier(to) * 10) / step);
        this.apply(start + (by * step) / 10, false);
      },
      end: () => this.endGesture(),
      cancel: () => {
        const { gesture } = this;
        this.endGesture();
        if (gesture) this.takenBack.emit(gesture);
      },
    };
  };

  /** `valueChange` comes when the hand lifts, `input` at each move. */
  protected slide(value: number): void {
    this.apply(value, false);
  }

  protected reset(): void {
    this.endGesture();
    this.apply(this.range().start, false);
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter') {
      this.commit();
      this.field().nativeElement.select();
    } else if (event.key === 'Escape') {
      this.show(this.value());
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      const by = (event.key === 'ArrowUp' ? 1 : -1) * this.range().step * stepMultiplier(event);
      this.apply(this.value() + by, true);
    } else if (event.key === 'PageUp' || event.key === 'PageDown') {
      event.preventDefault();
      this.apply(this.value() + (event.key === 'PageUp' ? 10 : -10) * this.range().step, true);
    } else if ((event.key === 'Home' || event.key === 'End') && !this.isTyped()) {
      event.preventDefault();
      this.apply(event.key === 'Home' ? this.range().min : this.range().max, false);
    } else return;
    event.stopPropagation();
  }

  protected commit(): void {
    if (!this.isTyped()) {
      this.typed.set(null);
      return;
    }
    const wanted = parseNumber(this.text());
    let value = this.value();
    if (wanted === null) this.correct('Not a number; value unchanged');
    else value = this.apply(wanted, true);
    this.show(value);
  }

  private show(value: number): void {
    this.typed.set(null);
    this.field().nativeElement.value = this.shown(value);
  }

  /** Sends a value on, brought into range; gives what it became. */
  private apply(wanted: number, tell: boolean): number {
    const { min, max } = this.range();
    const value = Math.min(max, Math.max(min, wanted));
    if (tell && value !== wanted)
      this.correct(
        value < wanted ? controlsWords.maximum(this.shown(value)) : controlsWords.minimum(this.shown(value)),
      );
    if (value !== this.value()) this.changed.emit({ value, gesture: this.gesture });
    return value;
  }

  private correct(text: string): void {
    this.correction.set(text);
    setTimeout(() => this.correction.set(''), CORRECTION_MS);
  }
}
