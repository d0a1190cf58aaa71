import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatIcon } from '@angular/material/icon';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import type { Matte, RecipePath } from '@hazy-lens/core';
import { fileSave } from 'browser-fs-access';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { ProjectAssets } from '../../project/session/project-assets';
import { MatteCutter } from '../../project/subjects/matte-cutter';
import { BLANK_MATTE, Rasters } from '../../engine/rasters';
import { Elements } from '../../project/subjects/elements';
import { OpenProject } from '../../project/session/open-project';
import { Notices } from '../../project/session/notices';
import { ToolStore } from '../../workspace/tool-store';
import { SelectionStore } from '../../workspace/selection-store';
import { NameField } from '../../ui/name-field';
import { RecipeNumber } from '../../ui/recipe-number';
import { matteName } from '../../model/mattes';
import { FollowControls } from '../../ui/follow-controls';
import { RasterImport } from './raster-import';
import { sentenceOf } from '../../model/causes';
import { focusWords } from '../../words/focus';

/** A subject that stays clear: scribbles that cut it out, and what is done to its outline. */
@Component({
  selector: 'hl-matte-panel',
  imports: [
    FollowControls,
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatIcon,
    MatProgressBar,
    MatSlideToggle,
    NameField,
    RecipeNumber,
  ],
  template: `
    @if (matte(); as one) {
      <section class="panel-section" [aria-label]="words.subject">
        <div class="row">
          <hl-name-field [label]="words.nameOfTheSubject" [name]="name()" (renamed)="rename($event)" />
          @if (cutter.cutting() === one.id) {
            <span class="quiet push" role="status">{{ words.cuttingOut }}</span>
          }
        </div>
        @if (cutter.cutting() === one.id) {
          <div class="row work">
            <mat-progress-bar mode="indeterminate" [aria-label]="words.cuttingOutLabel" />
            @if (cutter.canCancel()) {
              <button matButton="outlined" (click)="cutter.cancel()">{{ words.cancel }}</button>
            }
          </div>
        }
        <p class="hint">{{ words.scribbleOverTheSubjectThen }}</p>
        <div class="row">
          <mat-button-toggle-group
            [aria-label]="words.scribbleMode"
            [value]="settings.scribble().inside"
            (change)="mark($event.value)"
          >
            <mat-button-toggle [value]="true">{{ words.inside }}</mat-button-toggle>
            <mat-button-toggle [value]="false">{{ words.outside }}</mat-button-toggle>
          </mat-button-toggle-group>
          @if (one.scribbles.length > 0) {
            <button matButton="outlined" class="push" (click)="removeScribbles()">
              {{ words.deleteScribbles }}
            </button>
          }
        </div>
        <div class="row">
          <span id="subject-as-label">{{ words.subjectIs }}</span>
          <mat-button-toggle-group
            class="push"
            aria-labelledby="subject-as-label"
            [value]="one.as"
            (change)="setAs($event.value)"
          >
            <mat-button-toggle value="clear">{{ words.clear }}</mat-button-toggle>
            <mat-button-toggle value="standing">{{ words.standing }}</mat-button-toggle>
          </mat-button-toggle-group>
        </div>
        @if (one.as === 'standing') {
          <p class="hint">{{ words.asHazyAllOver }}</p>
        }
        @if (mayLift()) {
          <div class="row">
            <mat-slide-toggle
              [checked]="one.lifted"
              [disabled]="one.combine !== 'add'"
              (change)="lift($event.checked)"
              >{{ words.lifted }}</mat-slide-toggle
            >
            @if (one.lifted && projectAssets.isLifting()) {
              <span class="quiet push" role="status">{{ words.fillingInTheBackground }}</span>
            }
          </div>
          @if (one.lifted) {
            <p class="hint">
              {{ words.theBackgroundIsFilled }}
            </p>
          }
        }
        <hl-recipe-number [at]="at('grow')" />
        <hl-recipe-number [at]="at('feather')" />
        <div class="row">
          <mat-button-toggle-group
            [aria-label]="words.howItCombines"
            [value]="one.combine"
            (change)="combine($event.value)"
          >
            <mat-button-toggle value="add">{{ words.add }}</mat-button-toggle>
            <mat-button-toggle value="subtract">{{ words.subtract }}</mat-button-toggle>
          </mat-button-toggle-group>
          <mat-button-toggle class="push" [checked]="one.invert" (change)="invert()">{{
            words.invert
          }}</mat-button-toggle>
        </div>
        <div class="row">
          <button matButton="outlined" (click)="importer.openMatte(one.id)">
            <mat-icon svgIcon="fileUp" />{{ words.importMatte }}
          </button>
          <button matButton="outlined" (click)="save(one)">
            <mat-icon svgIcon="fileDown" />{{ words.exportMatte }}
          </button>
        </div>
        <button matButton="outlined" (click)="makeElement(one)">{{ words.makeElement }}</button>
      </section>
      <hl-follow-controls [at]="place()" [label]="name()" />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MattePanel {
  protected readonly words = focusWords;
  private readonly project = inject(OpenProject);
  private readonly rasters = inject(Rasters);
  private readonly notices = inject(Notices);
  protected readonly settings = inject(ToolStore);
  private readonly selection = inject(SelectionStore);
  protected readonly cutter = inject(MatteCutter);
  private readonly elements = inject(Elements);
  protected readonly importer = inject(RasterImport);
  protected readonly projectAssets = inject(ProjectAssets);
  private readonly renderLoop = inject(StageRenderLoop);
  /** Off a still without transparent places: nothing else has a background that can be filled in once. */
  protected readonly mayLift = computed(
    () => this.renderLoop.picture()?.parts === null && !this.renderLoop.material()?.footage,
  );
  private readonly index = computed(() => {
    const chosen = this.selection.chosen();
    if (chosen.kind !== 'matte') return -1;
    return this.project.calmRecipe().focus.mattes.findIndex(({ id }) => id === chosen.id);
  });
  protected readonly matte = computed(() => this.project.calmRecipe().focus.mattes[this.index()] ?? null);
  protected readonly name = computed(() => matteName(this.project.calmRecipe().focus.mattes, this.index()));
  protected readonly place = computed<RecipePath>(() => ['focus', 'mattes', this.index()]);
  private readonly paths = computed<Record<'grow' | 'feather', RecipePath>>(() => ({
    grow: ['focus', 'mattes', this.index(), 'grow'],
    feather: ['focus', 'mattes', this.index(), 'feather'],
  }));

  protected at(key: 'grow' | 'feather'): RecipePath {
    return this.paths()[key];
  }

  protected mark(inside: boolean): void {
    this.settings.setScribble({ inside });
  }

  protected rename(name: string): void {
    this.change(focusWords.renameSubject, (one) => (one.name = name));
  }

  protected setAs(as: Matte['as']): void {
    this.change(as === 'standing' ? 'subject: standing' : 'subject: clear', (one) => (one.as = as));
  }

  protected lift(lifted: boolean): void {
    this.change(lifted ? focusWords.liftSubject : focusWords.unliftSubject, (one) => (one.lifted = lifted));
  }

  protected combine(combine: Matte['combine']): void {
    this.change(focusWords.subjectMode, (one) => (one.combine = combine));
  }

  protected invert(): void {
    this.change(focusWords.invertSubject, (one) => (one.invert = !one.invert));
  }

  protected removeScribbles(): void {
    this.change(focusWords.deleteScribblesName, (one) =>
      Object.assign(one, { scribbles: [], image: BLANK_MATTE }),
    );
  }

  /** A copy of the subject over the picture, which the tools take in hand. */
  protected async makeElement(matte: Matte): Promise<void> {
    const id = await this.elements.lift(matte, this.name());
    if (id !== null) this.selection.choose({ kind: 'element', id });
  }

  protected async save(matte: Matte): Promise<void> {
    try {
      const fileName = `${this.name()}.png`;
      const { mattes } = (await this.cutter.settled(this.project.recipe())).focus;
      const { image } = mattes.find(({ id }) => id === matte.id) ?? matte;
      await fileSave(await this.rasters.file(image), { fileName, extensions: ['.png'] });
    } catch (error) {
      if ((error as Error).name !== 'AbortError') this.notices.error(sentenceOf(error));
    }
  }

  private change(label: string, change: (matte: Matte) => void): void {
    const id = this.matte()?.id;
    this.project.edit(label, (draft) =>
      draft.focus.mattes.filter((one) => one.id === id).forEach((one) => void change(one)),
    );
  }
}
