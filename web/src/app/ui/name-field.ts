import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  afterNextRender,
  input,
  output,
  viewChild,
} from '@angular/core';
import { MatFormField, MatInput } from '@angular/material/input';

/** A name that can be written over: Enter or leaving it keeps what was written, Escape takes it back. */
@Component({
  selector: 'hl-name-field',
  imports: [MatFormField, MatInput],
  template: `
    <mat-form-field subscriptSizing="dynamic">
      <input
        matInput
        #field
        autocomplete="off"
        [attr.aria-label]="label()"
        [attr.maxlength]="longest()"
        [value]="name()"
        (keydown.enter)="field.blur()"
        (keydown.escape)="$event.stopPropagation(); field.value = name(); field.blur()"
        (blur)="commit(field)"
      />
    </mat-form-field>
  `,
  styles: `
    :host {
      flex: 1;
      min-width: 0;
      margin-left: -5px;
    }
    mat-form-field {
      --mat-form-field-filled-container-color: transparent;
      width: 100%;
    }
    input {
      font-weight: 600;
      text-overflow: ellipsis;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NameField {
  readonly label = input.required<string>();
  readonly name = input.required<string>();
  readonly longest = input(80);
  /** Takes the focus as soon as it is there, with all of the name selected. */
  readonly takesFocus = input(false);
  readonly renamed = output<string>();
  readonly left = output();
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');

  constructor() {
    afterNextRender(() => {
      // A menu that closes gives the focus back first.
      if (this.takesFocus()) setTimeout(() => this.field().nativeElement.select());
    });
  }

  protected commit(field: HTMLInputElement): void {
    const wanted = field.value.trim().slice(0, this.longest());
    if (wanted && wanted !== this.name()) this.renamed.emit(wanted);
    else field.value = this.name();
    this.left.emit();
  }
}
