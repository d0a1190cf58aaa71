import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  input,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { factor } from './keys';

export interface NumberChange {
  value: number;
  /** The same for all changes of one drag; null for a change that stands alone. */
  gesture: string | null;
}

let nextId = 0;

/**
 * One number: drag its name, type it, arrow keys (Shift for ten steps, Alt for a tenth), double click on the name to
 * reset, and a slider where asked for. A value out of range is brought back in sight.
 */
@Component({
  selector: 'hl-number',
  template: `
    <label
      [for]="id"
      [title]="'Drag to change, double click for ' + shown(initial())"
      (pointerdown)="startScrub($event)"
      (pointermove)="scrub($event)"
      (pointerup)="endGesture()"
      (pointercancel)="endGesture()"
      (dblclick)="reset()"
      >{{ label() }}</label
    >
    <span class="box" [class.corrected]="correction()">
      <input
        #field
        type="text"
        inputmode="decimal"
        autocomplete="off"
        role="spinbutton"
        [id]="id"
        [attr.aria-label]="name() || label()"
        [attr.aria-valuenow]="value()"
        [attr.aria-valuemin]="min()"
        [attr.aria-valuemax]="max()"
        [attr.aria-valuetext]="shown(value()) + (unit() ? ' ' + unit() : '')"
        [value]="text()"
        [disabled]="disabled()"
        (focus)="field.select()"
        (input)="text.set(field.value)"
        (keydown)="key($event)"
        (blur)="commit()"
      />
      @if (unit()) {
        <span class="unit">{{ unit() }}</span>
      }
    </span>
    @if (slider()) {
      <input
        class="slider"
        type="range"
        tabindex="-1"
        [attr.aria-label]="(name() || label()) + ' slider'"
        [min]="min()"
        [max]="sliderMax() ?? max()"
        [step]="step() / 10"
        [value]="value()"
        [disabled]="disabled()"
        [style.--filled.%]="filled()"
        (pointerdown)="startGesture()"
        (input)="slide($event)"
        (change)="endGesture()"
        (dblclick)="reset()"
      />
    }
    @if (correction()) {
      <span class="note" role="status">{{ correction() }}</span>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 1fr auto;
      align-items: center;
      gap: 2px 8px;
      min-height: 28px;
      position: relative;
    }
    label {
      cursor: ew-resize;
      touch-action: none;
      user-select: none;
      color: var(--ink-2);
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .box {
      display: inline-flex;
      align-items: center;
      border: 1px solid transparent;
      border-radius: 4px;
      background: var(--field);
      padding-right: 6px;
    }
    .box:hover {
      border-color: var(--line-strong);
    }
    .box:focus-within {
      border-color: var(--focus);
    }
    .box.corrected {
      border-color: var(--warn);
    }
    .box input {
      width: var(--number-width, 52px);
      height: 24px;
      border: 0;
      background: none;
      color: var(--ink);
      font: inherit;
      text-align: right;
      padding: 0 4px;
      outline: none;
    }
    .unit {
      color: var(--ink-2);
      font-size: 11px;
      min-width: 14px;
    }
    .slider {
      grid-column: 1 / -1;
    }
    .note {
      position: absolute;
      right: 0;
      top: 27px;
      z-index: 3;
      background: var(--raised);
      border: 1px solid var(--warn);
      border-radius: 4px;
      padding: 1px 6px;
      font-size: 11px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NumberField {
  readonly label = input.required<string>();
  /** Spoken instead of the label where that is too short alone. */
  readonly name = input('');
  readonly value = input.required<number>();
  readonly min = input(0);
  readonly max = input(100);
  readonly step = input(1);
  readonly decimals = input(0);
  readonly unit = input('');
  readonly initial = input(0);
  readonly slider = input(false);
  /** Where the slider ends, if before `max`. */
  readonly sliderMax = input<number | null>(null);
  readonly disabled = input(false);
  readonly changed = output<NumberChange>();
  /** True while a drag goes on. */
  readonly moving = output<boolean>();

  protected readonly id = `number-${nextId++}`;
  protected readonly correction = signal('');
  protected readonly text = linkedSignal(() => this.shown(this.value()));
  protected readonly filled = computed(
    () => (100 * (this.value() - this.min())) / ((this.sliderMax() ?? this.max()) - this.min()),
  );
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');
  private gesture: string | null = null;
  private scrubFrom: { x: number; value: number; moved: boolean } | null = null;

  protected shown(value: number): string {
    // No "-0" for a value that rounds to nothing.
    return (Number(value.toFixed(this.decimals())) + 0).toFixed(this.decimals());
  }

  protected startGesture(): void {
    this.gesture = crypto.randomUUID();
    this.moving.emit(true);
  }

  protected endGesture(): void {
    this.gesture = null;
    this.scrubFrom = null;
    this.moving.emit(false);
  }

  protected startScrub(event: PointerEvent): void {
    if (event.button !== 0 || this.disabled()) return;
    (event.target as HTMLElement).setPointerCapture(event.pointerId);
    this.scrubFrom = { x: event.clientX, value: this.value(), moved: false };
  }

  protected scrub(event: PointerEvent): void {
    const from = this.scrubFrom;
    if (!from) return;
    const distance = event.clientX - from.x;
    if (!from.moved && Math.abs(distance) < 3) return;
    if (!from.moved) this.startGesture();
    from.moved = true;
    this.apply(from.value + distance * this.step() * factor(event), false);
  }

  protected slide(event: Event): void {
    if (!this.gesture) this.startGesture();
    this.apply(Number((event.target as HTMLInputElement).value), false);
  }

  protected reset(): void {
    this.endGesture();
    this.apply(this.initial(), false);
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter') {
      this.commit();
      this.field().nativeElement.select();
    } else if (event.key === 'Escape') {
      this.show(this.value());
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      this.apply(this.value() + (event.key === 'ArrowUp' ? 1 : -1) * this.step() * factor(event), true);
    } else return;
    event.stopPropagation();
  }

  protected commit(): void {
    const typed = this.text().trim().replace(',', '.');
    if (typed === this.shown(this.value())) return;
    const wanted = Number.parseFloat(typed);
    let value = this.value();
    if (Number.isFinite(wanted)) value = this.apply(wanted, true);
    else this.correct('Not a number: left as it was');
    this.show(value);
  }

  private show(value: number): void {
    this.text.set(this.shown(value));
    this.field().nativeElement.value = this.text();
  }

  /** Sends a value on, brought into range; gives what it became. */
  private apply(wanted: number, tell: boolean): number {
    const value = Math.min(this.max(), Math.max(this.min(), wanted));
    if (tell && value !== wanted)
      this.correct(value < wanted ? `At most ${this.shown(value)}` : `At least ${this.shown(value)}`);
    if (value !== this.value()) this.changed.emit({ value, gesture: this.gesture });
    return value;
  }

  private correct(text: string): void {
    this.correction.set(text);
    setTimeout(() => this.correction.set(''), 2200);
  }
}
