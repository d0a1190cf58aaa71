import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import {
  MatExpansionPanel,
  MatExpansionPanelContent,
  MatExpansionPanelHeader,
  MatExpansionPanelTitle,
} from '@angular/material/expansion';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Band, IrisBand, Profile, Recipe, RecipePath } from '@hazy-lens/core';
import { bandName } from '../../model/bands';
import { bandIn } from '../../model/elements';
import { OpenProject } from '../../project/session/open-project';
import { EIGHTHS, setFalloff } from '../../stage/handles/iris-handles';
import { NameField } from '../../ui/name-field';
import { RecipeNumber } from '../../ui/recipe-number';
import { SelectionStore } from '../../workspace/selection-store';
import { ToolStore } from '../../workspace/tool-store';
import { FollowControls } from '../../ui/follow-controls';
import { ProfileChoice } from './profile-choice';
import { focusWords } from '../../words/focus';

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/** All numbers of the band in hand. */
@Component({
  selector: 'hl-band-panel',
  imports: [
    FollowControls,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatExpansionPanel,
    MatExpansionPanelContent,
    MatExpansionPanelHeader,
    MatExpansionPanelTitle,
    MatIcon,
    MatTooltip,
    NameField,
    ProfileChoice,
    RecipeNumber,
  ],
  templateUrl: './band-panel.html',
  styleUrl: './band-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BandPanel {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  protected readonly settings = inject(ToolStore);
  protected readonly band = this.selection.calmBand;
  private readonly index = computed(() =>
    this.selection.calmFocus().bands.findIndex(({ id }) => id === this.band()?.id),
  );
  protected readonly name = computed(() => {
    const band = this.band();
    return band ? bandName(band, this.selection.calmFocus()) : '';
  });
  protected readonly sides = [
    { name: 'far', other: 'near', label: focusWords.farSide },
    { name: 'near', other: 'far', label: focusWords.nearSide },
  ] as const;
  protected readonly ends = [
    { name: 'start', haze: 'startHaze', label: focusWords.start },
    { name: 'end', haze: 'endHaze', label: 'End' },
  ] as const;
  protected readonly eighths = EIGHTHS.map((index) => ({
    index,
    label: `${index * 45}°`,
    write: (draft: Recipe, value: number): void =>
      this.onIris(draft, (band) => setFalloff(band, band, index, value, this.settings.linkFalloffs())),
  }));

  /** Paths from the band in hand; one that is asked for again is the same object. */
  private readonly pathTo = computed(() => {
    const band: RecipePath = [...this.selection.focusPath(), 'bands', this.index()];
    const known = new Map<string, RecipePath>();
    return (rest: RecipePath): RecipePath => {
      const key = rest.join('.');
      const path = known.get(key) ?? [...band, ...rest];
      known.set(key, path);
      return path;
    };
  });

  /** Where a field of the band in hand stands in the recipe. */
  protected at(...rest: RecipePath): RecipePath {
    return this.pathTo()(rest);
  }

  protected rename(name: string): void {
    this.change(focusWords.renameBand, (band) => (band.name = name));
  }

  private change(label: string, change: (band: Band) => void): void {
    const band = this.band();
    if (band) this.project.editBand(band.id, label, (one) => void change(one));
  }

  protected setMode(mode: Band['mode']): void {
    this.change(focusWords.bandMode, (band) => (band.mode = mode));
  }

  protected turnInsideOut(): void {
    this.change('invert', (band) => (band.invert = !band.invert));
  }

  protected setProfile(profile: Profile): void {
    this.change(focusWords.falloffProfile, (band) => (band.profile = profile));
  }

  private onIris(recipe: Recipe, work: (band: IrisBand) => void): void {
    const band = bandIn(recipe, this.band()?.id);
    if (band?.kind === 'iris') work(band);
  }

  protected readonly meanFalloff = (recipe: Recipe): number | undefined => {
    const band = bandIn(recipe, this.band()?.id);
    return band?.kind === 'iris' ? sum(band.falloff) / band.falloff.length : undefined;
  };

  /** All eight by the same amount: the shape that they make stays. */
  protected readonly setAllFalloffs = (draft: Recipe, mean: number): void =>
    this.onIris(draft, (band) => {
      const by = mean - sum(band.falloff) / band.falloff.length;
      setFalloff(band, band, 0, Math.max(0, band.falloff[0] + by), true);
    });
}
