import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Matte } from '@hazy-lens/core';
import { fileSave } from 'browser-fs-access';
import { MatteCutter } from '../../engine/matte-cutter';
import { BLANK_MATTE, Rasters } from '../../engine/rasters';
import { Document } from '../../state/document';
import { Notices } from '../../state/notices';
import { Workspace } from '../../state/workspace';
import { Icon } from '../../ui/icon';
import { type NumberChange, NumberField } from '../../ui/number-field';
import { GreyImport } from './grey-import';

/** A subject that stays clear: scribbles that cut it out, and what is done to its outline. */
@Component({
  selector: 'hl-matte-panel',
  imports: [NumberField, Icon],
  template: `
    @if (matte(); as one) {
      <section class="panel-section" aria-label="Subject">
        <div class="row">
          <input
            class="name-field"
            aria-label="Name of the subject"
            [value]="name()"
            #field
            (change)="rename(field.value)"
          />
          @if (cutter.cutting() === one.id) {
            <span class="quiet push" role="status">cutting out …</span>
          }
        </div>
        <p class="hint">Draw over the subject, then over what lies beside it. A few lines are enough.</p>
        <div class="row">
          <div class="choices" role="group" aria-label="What the scribble marks">
            <button [attr.aria-pressed]="workspace.scribble().inside" (click)="mark(true)">Inside</button>
            <button [attr.aria-pressed]="!workspace.scribble().inside" (click)="mark(false)">Outside</button>
          </div>
          @if (one.scribbles.length > 0) {
            <button class="button outlined push" (click)="removeScribbles()">Start over</button>
          }
        </div>
        <hl-number
          label="Grow"
          unit="px"
          [slider]="true"
          [min]="-px(0.03)"
          [max]="px(0.03)"
          [value]="px(one.grow)"
          (changed)="setLength('grow', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <hl-number
          label="Feather"
          unit="px"
          [slider]="true"
          [max]="px(0.05)"
          [value]="px(one.feather)"
          (changed)="setLength('feather', $event)"
          (moving)="workspace.sliding.set($event)"
        />
        <div class="row">
          <div class="choices" role="group" aria-label="How it joins the other subjects">
            <button [attr.aria-pressed]="one.combine === 'add'" (click)="combine('add')">Add</button>
            <button [attr.aria-pressed]="one.combine === 'subtract'" (click)="combine('subtract')">
              Take away
            </button>
          </div>
          <button class="button outlined push" [attr.aria-pressed]="one.invert" (click)="invert()">
            Inside out
          </button>
        </div>
        <div class="row">
          <button class="button outlined" (click)="importer.openMatte(one.id)">
            <hl-icon name="fileUp" />From a file
          </button>
          <button class="button outlined" (click)="save(one)"><hl-icon name="fileDown" />Save matte</button>
        </div>
      </section>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MattePanel {
  private readonly document = inject(Document);
  private readonly rasters = inject(Rasters);
  private readonly notices = inject(Notices);
  protected readonly workspace = inject(Workspace);
  protected readonly cutter = inject(MatteCutter);
  protected readonly importer = inject(GreyImport);
  protected readonly matte = computed(() => {
    const chosen = this.workspace.chosen();
    if (chosen.kind !== 'matte') return null;
    return this.document.recipe().focus.mattes.find((one) => one.id === chosen.id) ?? null;
  });
  protected readonly name = computed(() => {
    const index = this.document.recipe().focus.mattes.findIndex((one) => one.id === this.matte()?.id);
    return this.matte()?.name ?? `Subject ${index + 1}`;
  });

  protected px(length: number): number {
    return length * this.document.diagonal();
  }

  protected mark(inside: boolean): void {
    this.workspace.scribble.update((now) => ({ ...now, inside }));
  }

  protected rename(name: string): void {
    const wanted = name.trim().slice(0, 80);
    if (wanted && wanted !== this.name()) this.change('name of subject', (one) => (one.name = wanted));
  }

  protected setLength(key: 'grow' | 'feather', { value, gesture }: NumberChange): void {
    this.change(`subject: ${key}`, (one) => (one[key] = value / this.document.diagonal()), gesture);
  }

  protected combine(combine: Matte['combine']): void {
    this.change('subject: add or take away', (one) => (one.combine = combine));
  }

  protected invert(): void {
    this.change('subject: inside out', (one) => (one.invert = !one.invert));
  }

  protected removeScribbles(): void {
    this.change('subject: start over', (one) => Object.assign(one, { scribbles: [], image: BLANK_MATTE }));
  }

  protected async save(matte: Matte): Promise<void> {
    try {
      await this.cutter.settled();
      await fileSave(await this.rasters.file(matte.image), {
        fileName: `${this.name()}.png`,
        extensions: ['.png'],
      });
    } catch (error) {
      if ((error as Error).name !== 'AbortError') this.notices.error((error as Error).message);
    }
  }

  private change(label: string, change: (matte: Matte) => void, gesture: string | null = null): void {
    const id = this.matte()?.id;
    this.document.edit(
      label,
      (draft) => draft.focus.mattes.filter((one) => one.id === id).forEach((one) => void change(one)),
      gesture,
    );
  }
}
