import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import type { Spot } from './handles/handles';

/** A tab on the picture that is dragged, or moved by arrow keys; while it has the focus it says where it is. */
@Component({
  selector: 'hl-point-grip',
  imports: [Drag],
  template: `
    <div
      class="grip"
      [class.turn]="turns()"
      role="slider"
      tabindex="0"
      [attr.aria-label]="label()"
      [attr.aria-valuemin]="range()[0]"
      [attr.aria-valuemax]="range()[1]"
      [attr.aria-valuenow]="value().toFixed(0)"
      [attr.aria-valuetext]="says()"
      [style.transform]="'translate(' + at().x + 'px, ' + at().y + 'px)'"
      [hlDrag]="grasp()"
      (keydown)="key($event)"
      (focus)="focused.set(true)"
      (blur)="focused.set(false)"
    >
      <span class="tab"></span>
      @if (focused()) {
        <span class="says">{{ says() }}</span>
      }
    </div>
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
  styleUrl: './band-handles.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PointGrip {
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  readonly range = input<readonly [number, number]>([-100, 200]);
  readonly says = input.required<string>();
  /** Where it stands on the stage. */
  readonly at = input.required<Spot>();
  /** It turns something, rather than moving it. */
  readonly turns = input(false);
  readonly grasp = input.required<DragStart>();
  /** Arrow keys: (1, 0) is a step to the right, (0, 1) one down; there are tenths and tens. */
  readonly stepped = output<Spot>();
  protected readonly focused = signal(false);

  protected key(event: KeyboardEvent): void {
    const step = arrowOf(event);
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const by = stepMultiplier(event);
    this.stepped.emit({ x: step[0] * by, y: step[1] * by });
  }
}
