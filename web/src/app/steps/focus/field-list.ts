import {
  CdkDrag,
  type CdkDragDrop,
  CdkDragHandle,
  CdkDropList,
  moveItemInArray,
} from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, resource } from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import {
  type Band,
  type ResolvedFocus,
  type Focus,
  type Recipe,
  packedStrokeOf,
  keepMaskFrom,
} from '@hazy-lens/core';
import { ProjectAssets } from '../../project/session/project-assets';
import { Rasters } from '../../engine/rasters';
import { OpenProject } from '../../project/session/open-project';
import { type Selection, SelectionStore } from '../../workspace/selection-store';
import { bandName, duplicateBand } from '../../model/bands';
import { focusOf } from '../../model/elements';
import { removeStrokes } from '../../model/carry';
import { matteName } from '../../model/mattes';
import { focusNeighbour } from '../../ui/focus-neighbour';
import { FieldThumb } from './field-thumb';
import { counted } from '../../model/counted';
import { focusWords } from '../../words/focus';

/** A row of what makes the field, in the order in which it speaks. */
interface FieldRow {
  key: string;
  chosen: Selection;
  label: string;
  note: string;
  look: ResolvedFocus;
  /** Null where it is always part of the field. */
  on: boolean | null;
  toggle?: (draft: Recipe) => void;
  remove?: (recipe: Recipe) => void;
  /** Set for bands, which can be ordered and duplicated. */
  band?: Band;
  index: number;
}

/** Looks of parts of a recipe that did not change stay the same, and so do their small pictures. */
const looks = new WeakMap<object, ResolvedFocus>();

function lookOf(part: object, look: () => Partial<ResolvedFocus>): ResolvedFocus {
  let known = looks.get(part);
  if (!known) looks.set(part, (known = { ...EMPTY, ...look() }));
  return known;
}

/** What an element has none of. */
const NOTHING: Pick<Focus, 'depthMap' | 'strokes' | 'strokesOn' | 'mattes'> = {
  strokes: [],
  strokesOn: false,
  mattes: [],
};

const EMPTY: ResolvedFocus = { rest: 1, soundings: [], depth: null, bands: [], strokes: [], keep: [] };

/** All that is in the field, in order, each with a small picture of its own field; one of them is in hand. */
@Component({
  selector: 'hl-field-list',
  imports: [
    CdkDropList,
    CdkDrag,
    CdkDragHandle,
    MatIcon,
    MatIconButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatSlideToggle,
    FieldThumb,
  ],
  template: `
    <div class="rows" cdkDropList (cdkDropListDropped)="dropped($event)">
      @for (row of rows(); track row.key) {
        <div
          class="row-of-field"
          cdkDrag
          cdkDragLockAxis="y"
          [cdkDragDisabled]="!row.band"
          [class.chosen]="isChosen(row)"
          [class.off]="row.on === false"
        >
          @if (row.band) {
            <span class="handle" cdkDragHandle aria-hidden="true"><mat-icon svgIcon="grip" /></span>
          } @else {
            <span class="handle"></span>
          }
          <hl-field-thumb [look]="row.look" [size]="project.size()" />
          <button
            class="choose"
            [attr.aria-pressed]="isChosen(row)"
            (click)="selection.choose(row.chosen)"
            (keydown.delete)="removeByKey(row, $event)"
          >
            <span>{{ row.label }}</span>
            @if (row.note) {
              &ngsp;<span class="note">{{ row.note }}</span>
            }
          </button>
          @if (row.on !== null) {
            <mat-slide-toggle
              [checked]="row.on"
              [aria-label]="row.label"
              (change)="project.edit(row.label + (row.on ? ' off' : ' on'), row.toggle!)"
            />
            <button
              matIconButton
              [attr.aria-label]="words.moreForNamed(row.label)"
              [matMenuTriggerFor]="more"
            >
              <mat-icon svgIcon="ellipsis" />
            </button>
            <mat-menu #more="matMenu">
              @if (row.band; as band) {
                <button mat-menu-item (click)="duplicate(band)">{{ words.duplicate }}</button>
                <button mat-menu-item [disabled]="row.index === 0" (click)="move(row.index, row.index - 1)">
                  {{ words.moveUp }}
                </button>
                <button
                  mat-menu-item
                  [disabled]="row.index === focus().bands.length - 1"
                  (click)="move(row.index, row.index + 1)"
                >
                  {{ words.moveDown }}
                </button>
              }
              <button mat-menu-item (click)="remove(row)">{{ words.delete }}</button>
            </mat-menu>
          }
        </div>
      }
    </div>
  `,
  styleUrl: './field-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldList {
  protected readonly words = focusWords;
  protected readonly project = inject(OpenProject);
  protected readonly selection = inject(SelectionStore);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly rasters = inject(Rasters);
  private readonly whole = computed(() => this.project.calmRecipe().focus);
  protected readonly focus = this.selection.calmFocus;

  /** The pictures of the mattes by name, for their small pictures. */
  private readonly matteRasters = resource({
    params: () => ({
      names: this.whole().mattes.map(({ image }) => image),
      version: this.rasters.replaced(),
    }),
    loader: async ({ params: { names } }) =>
      new Map(
        await Promise.all(
          names.map(async (name) => [name, await this.rasters.get(name).catch(() => null)] as const),
        ),
      ),
  });

  protected readonly rows = computed<FieldRow[]>(() => {
    const focus = this.focus();
    const layer = this.selection.layer();
    const { soundings, bands } = focus;
    const { depthMap, strokes, strokesOn, mattes } = layer === null ? this.whole() : NOTHING;
    const percent = Math.round(focus.rest * 100);
    const rows: FieldRow[] = [];
    const add = (row: Omit<FieldRow, 'index'>, index = 0): void => void rows.push({ ...row, index });
    if ((soundings.length === 0 || !focus.soundingsOn) && !depthMap?.on)
      add({
        key: 'rest',
        chosen: { kind: 'rest' },
        label: focusWords.baseHaze,
        note: `${percent}%`,
        look: { ...EMPTY, rest: focus.rest },
        on: null,
      });
    if (soundings.length > 0)
      add({
        key: 'soundings',
        chosen: { kind: 'soundings', index: null },
        label: focusWords.soundings,
        note: `${soundings.length}`,
        look: lookOf(soundings, () => ({ soundings })),
        on: focus.soundingsOn,
        toggle: (draft) => {
          const one = focusOf(draft, layer);
          one.soundingsOn = !one.soundingsOn;
        },
        remove: (draft) => (focusOf(draft, layer).soundings = []),
      });
    if (depthMap) {
      const map = this.projectAssets.ofFocus().depth;
      add({
        key: 'depth',
        chosen: { kind: 'depth' },
        label: focusWords.depthMap,
        note: focusWords.focus(Math.round(depthMap.focus * 100)),
        look: { ...EMPTY, depth: map && { how: depthMap, map } },
        on: depthMap.on,
        toggle: ({ focus: one }) => (one.depthMap!.on = !one.depthMap!.on),
        remove: ({ focus: one }) => delete one.depthMap,
      });
    }
    bands.forEach((band, i) =>
      add(
        {
          key: band.id,
          chosen: { kind: 'band', id: band.id },
          label: bandName(band, focus),
          note: band.mode === 'haze' ? 'haze' : '',
          look: lookOf(band, () => ({ rest: band.mode === 'clear' ? 1 : 0, bands: [band] })),
          on: band.on,
          toggle: (draft) =>
            focusOf(draft, layer)
              .bands.filter(({ id }) => id === band.id)
              .forEach((b) => (b.on = !b.on)),
          remove: (draft) => {
            const one = focusOf(draft, layer);
            one.bands = one.bands.filter(({ id }) => id !== band.id);
          },
          band,
        },
        i,
      ),
    );
    if (strokes.length > 0)
      add({
        key: 'brush',
        chosen: { kind: 'brush' },
        label: focusWords.brush,
        note: counted(strokes.length, 'stroke'),
        look: lookOf(strokes, () => ({ rest: 0.5, strokes: strokes.map(packedStrokeOf) })),
        on: strokesOn,
        toggle: ({ focus: one }) => (one.strokesOn = !one.strokesOn),
        remove: removeStrokes,
      });
    mattes.forEach((matte, i) =>
      add({
        key: matte.id,
        chosen: { kind: 'matte', id: matte.id },
        label: matteName(mattes, i),
        note: matte.combine === 'subtract' ? 'subtracts' : '',
        look: {
          ...EMPTY,
          keep: keepMaskFrom(
            (this.matteRasters.hasValue() && this.matteRasters.value().get(matte.image)) || null,
          ),
        },
        on: matte.on,
        toggle: ({ focus: one }) =>
          one.mattes.filter(({ id }) => id === matte.id).forEach((m) => (m.on = !m.on)),
        remove: ({ focus: one }) => (one.mattes = one.mattes.filter(({ id }) => id !== matte.id)),
      }),
    );
    return rows;
  });

  protected isChosen(row: FieldRow): boolean {
    const chosen = this.selection.chosen();
    if (chosen.kind !== row.chosen.kind) return false;
    return !('id' in chosen) || !('id' in row.chosen) || chosen.id === row.chosen.id;
  }

  protected remove(row: FieldRow): void {
    this.project.edit(focusWords.deleteNamedName(row.label), row.remove!);
  }

  protected removeByKey(row: FieldRow, event: Event): void {
    if (!row.remove) return;
    event.stopPropagation();
    focusNeighbour(event.currentTarget as HTMLElement, '.rows', '.choose');
    this.remove(row);
  }

  protected duplicate(band: Band): void {
    const id = crypto.randomUUID();
    const layer = this.selection.layer();
    this.project.edit(focusWords.duplicateBand, (draft) => duplicateBand(focusOf(draft, layer), band.id, id));
    this.selection.chooseBand(id);
  }

  protected move(from: number, to: number): void {
    const layer = this.selection.layer();
    this.project.edit(focusWords.reorderBands, (draft) =>
      moveItemInArray(focusOf(draft, layer).bands, from, to),
    );
  }

  protected dropped(event: CdkDragDrop<unknown>): void {
    const first = this.rows().findIndex((row) => row.band);
    const last = this.focus().bands.length - 1;
    const held = (i: number): number => Math.min(last, Math.max(0, i - first));
    const [from, to] = [held(event.previousIndex), held(event.currentIndex)];
    if (from !== to) this.move(from, to);
  }
}
