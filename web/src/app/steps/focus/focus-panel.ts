import {
  CdkDrag,
  type CdkDragDrop,
  CdkDragHandle,
  CdkDropList,
  moveItemInArray,
} from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { type BandSide, type Focus, type PlanarBand, profileAt, profilePieces } from '@hazy-lens/core';
import { Document } from '../../state/document';
import { Workspace } from '../../state/workspace';
import { normalAngle } from '../../stage/band-drag';
import { Icon } from '../../ui/icon';
import { type NumberChange, NumberField } from '../../ui/number-field';
import { FieldThumb } from './field-thumb';
import { addBand, bandName, duplicateBand } from './bands';

type SideName = 'near' | 'far';
type SideKey = keyof BandSide;
type NamedProfile = 'linear' | 'smooth' | 'late' | 'early';

@Component({
  selector: 'hl-focus-panel',
  imports: [
    CdkDropList,
    CdkDrag,
    CdkDragHandle,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatTooltip,
    Icon,
    NumberField,
    FieldThumb,
  ],
  templateUrl: './focus-panel.html',
  styleUrl: './focus-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FocusPanel {
  protected readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly focus = computed(() => this.document.recipe().focus);
  protected readonly band = this.workspace.band;
  protected readonly bandName = bandName;
  protected readonly sides: readonly { name: SideName; label: string }[] = [
    { name: 'far', label: 'Far side' },
    { name: 'near', label: 'Near side' },
  ];
  protected readonly profiles: readonly { value: NamedProfile; path: string }[] = (
    ['smooth', 'linear', 'late', 'early'] as const
  ).map((value) => ({ value, path: profilePath(value) }));
  protected readonly centre = computed(() => {
    const band = this.band();
    const { width, height } = this.document.size();
    return band ? { x: band.centre[0] * width, y: band.centre[1] * height } : { x: 0, y: 0 };
  });

  protected readonly makeClear = (band: PlanarBand): void => void (band.mode = 'clear');
  protected readonly makeHaze = (band: PlanarBand): void => void (band.mode = 'haze');
  protected readonly turnInsideOut = (band: PlanarBand): void => void (band.invert = !band.invert);

  /** A field made of one band alone, for its small picture. */
  protected alone(band: PlanarBand): Focus {
    return { on: true, rest: band.mode === 'clear' ? 1 : 0, bands: [{ ...band, on: true }] };
  }

  protected px(length: number): number {
    return length * this.document.diagonal();
  }

  protected add(): void {
    this.workspace.chooseBand(addBand(this.document));
  }

  protected duplicate(band: PlanarBand): void {
    this.workspace.chooseBand(duplicateBand(this.document, band));
  }

  protected remove(band: PlanarBand): void {
    this.document.edit(
      `delete ${bandName(band, this.focus())}`,
      (draft) => (draft.focus.bands = draft.focus.bands.filter((one) => one.id !== band.id)),
    );
  }

  protected move(from: number, to: number): void {
    this.document.edit('order of bands', (draft) => moveItemInArray(draft.focus.bands, from, to));
  }

  protected dropped(event: CdkDragDrop<unknown>): void {
    if (event.previousIndex !== event.currentIndex) this.move(event.previousIndex, event.currentIndex);
  }

  protected toggle(band: PlanarBand): void {
    this.document.editBand(
      band.id,
      `${bandName(band, this.focus())} ${band.on ? 'off' : 'on'}`,
      (one) => (one.on = !one.on),
    );
  }

  protected rename(band: PlanarBand, name: string): void {
    const wanted = name.trim().slice(0, 80);
    if (wanted && wanted !== bandName(band, this.focus()))
      this.document.editBand(band.id, 'name of band', (one) => (one.name = wanted));
  }

  protected change(label: string, change: (band: PlanarBand) => void, gesture: string | null = null): void {
    const band = this.band();
    if (band) this.document.editBand(band.id, label, change, gesture);
  }

  protected setProfile(profile: NamedProfile): void {
    this.change('profile', (band) => (band.profile = profile));
  }

  protected setCentre(axis: 0 | 1, { value, gesture }: NumberChange): void {
    const { width, height } = this.document.size();
    this.change(
      'place of band',
      (band) => (band.centre[axis] = Math.min(2, Math.max(-1, value / (axis === 0 ? width : height)))),
      gesture,
    );
  }

  protected setAngle({ value, gesture }: NumberChange): void {
    this.change('angle', (band) => (band.angle = normalAngle(value)), gesture);
  }

  /** Lengths arrive in pixels, haze in percent. */
  protected setSide(side: SideName, key: SideKey, { value, gesture }: NumberChange): void {
    const stored = key === 'haze' ? value / 100 : value / this.document.diagonal();
    const both = this.workspace.linkSides();
    this.change(
      `${both ? 'both sides' : `${side} side`}: ${key}`,
      (band) => {
        for (const one of both ? (['near', 'far'] as const) : [side]) band[one][key] = stored;
      },
      gesture,
    );
  }

  protected setRest({ value, gesture }: NumberChange): void {
    this.document.edit('haze elsewhere', (draft) => (draft.focus.rest = value / 100), gesture);
  }
}

/** The profile as a small drawing, 28 x 16. */
function profilePath(profile: NamedProfile): string {
  const pieces = profilePieces(profile);
  return Array.from(
    { length: 15 },
    (_, i) => `${i === 0 ? 'M' : 'L'}${i * 2} ${(15 - 14 * profileAt(pieces, i / 14)).toFixed(2)}`,
  ).join('');
}
