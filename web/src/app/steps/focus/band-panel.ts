import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import {
  type Band,
  type BandSide,
  type EllipticalBand,
  type IrisBand,
  type LinearBand,
  type PlanarBand,
  type Profile,
} from '@hazy-lens/core';
import { normalAngle } from '../../stage/handles/handles';
import { EIGHTHS, setFalloff } from '../../stage/handles/iris-handles';
import { Document } from '../../state/document';
import { Workspace } from '../../state/workspace';
import { Icon } from '../../ui/icon';
import { type NumberChange, NumberField } from '../../ui/number-field';
import { bandName, within } from './bands';
import { ProfileChoice } from './profile-choice';

type SideName = 'near' | 'far';

/** All numbers of the band in hand. */
@Component({
  selector: 'hl-band-panel',
  imports: [MatTooltip, Icon, NumberField, ProfileChoice],
  templateUrl: './band-panel.html',
  styleUrl: './band-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BandPanel {
  protected readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly band = this.workspace.calmBand;
  protected readonly eighths = EIGHTHS;
  protected readonly sides: readonly { name: SideName; label: string }[] = [
    { name: 'far', label: 'Far side' },
    { name: 'near', label: 'Near side' },
  ];
  protected readonly name = computed(() => {
    const band = this.band();
    return band ? bandName(band, this.document.calmRecipe().focus) : '';
  });
  protected readonly planar = computed(() => this.ofKind<PlanarBand>('planar'));
  protected readonly linear = computed(() => this.ofKind<LinearBand>('linear'));
  protected readonly elliptical = computed(() => this.ofKind<EllipticalBand>('elliptical'));
  protected readonly iris = computed(() => this.ofKind<IrisBand>('iris'));
  protected readonly round = computed(() => this.elliptical() ?? this.iris());
  /** Bands with a middle and an angle. */
  protected readonly centred = computed(() => this.planar() ?? this.round());

  private ofKind<B extends Band>(kind: B['kind']): B | null {
    const band = this.band();
    return band?.kind === kind ? (band as B) : null;
  }

  protected px(length: number): number {
    return length * this.document.diagonal();
  }

  private length({ value }: NumberChange): number {
    return value / this.document.diagonal();
  }

  protected rename(name: string): void {
    const wanted = name.trim().slice(0, 80);
    if (wanted && wanted !== this.name()) this.change('name of band', (band) => (band.name = wanted));
  }

  protected change(label: string, change: (band: Band) => void, gesture: string | null = null): void {
    const band = this.band();
    if (band) this.document.editBand(band.id, label, (one) => void change(one), gesture);
  }

  protected setMode(mode: Band['mode']): void {
    this.change('mode', (band) => (band.mode = mode));
  }

  protected turnInsideOut(): void {
    this.change('inside out', (band) => (band.invert = !band.invert));
  }

  protected setProfile(profile: Profile): void {
    this.change('profile', (band) => (band.profile = profile));
  }

  /** A point of the band: its middle, its start or its end. */
  protected setPoint(which: 'centre' | 'start' | 'end', axis: 0 | 1, { value, gesture }: NumberChange): void {
    const { width, height } = this.document.size();
    this.change(
      'place of band',
      (band) => {
        const point = (band as unknown as Record<string, [number, number]>)[which];
        if (point) point[axis] = within(value / (axis === 0 ? width : height));
      },
      gesture,
    );
  }

  protected setAngle({ value, gesture }: NumberChange): void {
    this.change('angle', (band) => band.kind !== 'linear' && (band.angle = normalAngle(value)), gesture);
  }

  /** Lengths arrive in pixels, haze in percent. */
  protected setSide(side: SideName, key: keyof BandSide, change: NumberChange): void {
    const stored = key === 'haze' ? change.value / 100 : this.length(change);
    const both = this.workspace.linkSides();
    this.change(
      `${both ? 'both sides' : `${side} side`}: ${key}`,
      (band) => {
        if (band.kind !== 'planar') return;
        for (const one of both ? (['near', 'far'] as const) : [side]) band[one][key] = stored;
      },
      change.gesture,
    );
  }

  protected setHaze(
    which: 'startHaze' | 'endHaze' | 'innerHaze' | 'haze',
    { value, gesture }: NumberChange,
  ): void {
    this.change(
      'haze of band',
      (band) => ((band as unknown as Record<string, number>)[which] = value / 100),
      gesture,
    );
  }

  protected setRadius(axis: 0 | 1, change: NumberChange): void {
    this.change(
      'radius',
      (band) => {
        if (band.kind === 'elliptical') band.radii[axis] = this.length(change);
        else if (band.kind === 'iris') band.radius = this.length(change);
      },
      change.gesture,
    );
  }

  protected setRingFalloff({ value, gesture }: NumberChange): void {
    this.change('falloff', (band) => band.kind === 'elliptical' && (band.falloff = value / 100), gesture);
  }

  protected meanFalloff(band: IrisBand): number {
    return (band.falloff.reduce((sum, ratio) => sum + ratio, 0) / band.falloff.length) * 100;
  }

  /** All eight by the same amount: the shape that they make stays. */
  protected setAllFalloffs({ value, gesture }: NumberChange): void {
    this.change(
      'falloff',
      (band) => {
        if (band.kind !== 'iris') return;
        const by = (value - this.meanFalloff(band)) / 100;
        setFalloff(band, band, 0, Math.max(0, band.falloff[0] + by), true);
      },
      gesture,
    );
  }

  protected setEighth(eighth: number, { value, gesture }: NumberChange): void {
    const linked = this.workspace.linkFalloffs();
    this.change(
      'falloff',
      (band) => band.kind === 'iris' && setFalloff(band, band, eighth, value / 100, linked),
      gesture,
    );
  }

  protected setIris(key: 'sides' | 'roundness' | 'aspect', { value, gesture }: NumberChange): void {
    this.change(
      key,
      (band) => {
        if (band.kind === 'iris') band[key] = key === 'sides' ? Math.round(value) : value / 100;
      },
      gesture,
    );
  }
}
