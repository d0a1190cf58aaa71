import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatIcon } from '@angular/material/icon';
import type { DepthMap, Profile, Recipe } from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { RecipeNumber } from '../../ui/recipe-number';
import { RasterImport } from './raster-import';
import { ProfileChoice } from './profile-choice';
import { focusWords } from '../../words/focus';

/** The depth map: where it is in focus, how it falls off, and how closely it follows the picture's edges. */
@Component({
  selector: 'hl-depth-panel',
  imports: [MatButton, MatButtonToggle, MatButtonToggleGroup, MatIcon, ProfileChoice, RecipeNumber],
  template: `
    @if (map(); as how) {
      <section class="panel-section" [aria-label]="words.depthMap">
        <p class="hint">{{ words.clickThePictureWhereYou }}</p>
        <hl-recipe-number [at]="['focus', 'depthMap', 'focus']" />
        <hl-recipe-number [at]="['focus', 'depthMap', 'clear']" />
        <hl-recipe-number class="far" [at]="['focus', 'depthMap', 'falloff']" />
        <hl-recipe-number class="near" [at]="['focus', 'depthMap', 'nearFalloff']" [read]="nearFalloff" />
        <hl-recipe-number [at]="['focus', 'depthMap', 'haze']" />
        <div class="row">
          <hl-profile-choice [profile]="how.profile" (chosen)="setProfile($event)" />
          <mat-button-toggle class="push" [checked]="how.invert" (change)="flip('invert', 'invert')">{{
            words.invert
          }}</mat-button-toggle>
        </div>
        <mat-button-toggle-group
          [aria-label]="words.nearValuesOfTheMap"
          [value]="how.swap"
          (change)="flip('swap', 'near and far')"
        >
          <mat-button-toggle [value]="false">{{ words.brightIsNear }}</mat-button-toggle>
          <mat-button-toggle [value]="true">{{ words.darkIsNear }}</mat-button-toggle>
        </mat-button-toggle-group>
        <hl-recipe-number [at]="['focus', 'depthMap', 'align']" />
        <div class="row">
          <button matButton="outlined" (click)="importer.open()">
            <mat-icon svgIcon="fileUp" />{{ words.replaceMap }}
          </button>
          @if (importer.demoDepth(); as own) {
            <button matButton="outlined" (click)="importer.useDemo(own)">{{ words.useDemoMap }}</button>
          }
        </div>
      </section>
    }
  `,
  styles: `
    .near {
      --filled-ink: var(--near);
    }
    .far {
      --filled-ink: var(--far);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DepthPanel {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  protected readonly importer = inject(RasterImport);
  protected readonly map = computed(() => this.project.calmRecipe().focus.depthMap ?? null);

  /** Missing, it is as on the far side. */
  protected readonly nearFalloff = ({ focus }: Recipe): number | undefined =>
    focus.depthMap?.nearFalloff ?? focus.depthMap?.falloff;

  protected setProfile(profile: Profile): void {
    this.change(focusWords.depthMapProfile, (how) => (how.profile = profile));
  }

  protected flip(key: 'swap' | 'invert', label: string): void {
    this.change(focusWords.depthMapNamed(label), (how) => (how[key] = !how[key]));
  }

  private change(label: string, change: (how: DepthMap) => void): void {
    this.project.edit(label, (draft) => {
      if (draft.focus.depthMap) change(draft.focus.depthMap);
    });
  }
}
