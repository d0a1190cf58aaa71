import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { type NumberRange, cropGeometry } from '@hazy-lens/core';
import { setCropAspect, quarterTurned } from '../../model/crop';
import { OpenProject } from '../../project/session/open-project';
import { NumberField, plainRange } from '../../ui/number-field';
import { RecipeNumber } from '../../ui/recipe-number';
import { MendSection } from './mend-section';
import { MendTool } from '../../workspace/mend-tool';
import { CropTool, FORMS, type Form } from '../../workspace/crop-tool';
import { tidyWords } from '../../words/tidy';

/** What is done to the picture before everything else. */
@Component({
  selector: 'hl-tidy-panel',
  imports: [
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatIcon,
    MatTooltip,
    MendSection,
    NumberField,
    RecipeNumber,
  ],
  template: `
    <h2 class="panel-title">{{ words.tidy }}</h2>
    <hl-mend-section />
    @if (mends.kind() === null) {
      <section class="panel-section" [aria-label]="words.crop">
        <h3 class="quiet">{{ words.crop }}</h3>
        <mat-button-toggle-group
          class="forms"
          [aria-label]="words.aspectRatio"
          [value]="tool.form()"
          (change)="setForm($event.value)"
        >
          @for (form of forms; track form) {
            <mat-button-toggle [value]="form">{{ form }}</mat-button-toggle>
          }
        </mat-button-toggle-group>
        @if (tool.form() === 'Custom') {
          <div class="row own">
            <hl-number
              [range]="wide"
              [value]="tool.own()[0]"
              (changed)="setOwn($event.value, tool.own()[1])"
            />
            <hl-number
              [range]="high"
              [value]="tool.own()[1]"
              (changed)="setOwn(tool.own()[0], $event.value)"
            />
          </div>
        }
        <div class="row">
          <button
            matButton="outlined"
            [disabled]="tool.form() === 'Free' || tool.form() === '1:1'"
            [attr.aria-pressed]="tool.isUpright()"
            (click)="setUpright(!tool.isUpright())"
          >
            {{ tool.isUpright() ? words.landscape : words.portrait }}
          </button>
          <span class="quiet push">{{ size() }}</span>
        </div>
      </section>
      <section class="panel-section" [aria-label]="words.rotation">
        <hl-recipe-number [at]="turnAt" (moved)="tool.set({ turning: $event })" />
        <div class="row">
          <button
            matButton="outlined"
            [matTooltip]="words.drawAlongAHorizon"
            [attr.aria-pressed]="tool.levels()"
            (click)="tool.set({ levels: !tool.levels() })"
          >
            <mat-icon svgIcon="level" />{{ words.level }}
          </button>
          <button matButton="outlined" [matTooltip]="words.rotateClockwiseBy90" (click)="quarter()">
            {{ words.rotate90 }}
          </button>
          <button matButton="outlined" [matTooltip]="words.flipHorizontally" (click)="flip()">
            {{ words.flip }}
          </button>
        </div>
        @if (tool.levels()) {
          <p class="hint">{{ words.drawAlongALine }}</p>
        } @else {
          <p class="hint">
            {{ words.bandsBrushStrokesAndSubjects }}
          </p>
        }
        <button matButton class="whole" [disabled]="isWhole()" (click)="reset()">
          {{ words.resetCrop }}
        </button>
      </section>
    }
  `,
  styleUrl: './tidy-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TidyPanel {
  protected readonly words = tidyWords;
  private readonly project = inject(OpenProject);
  protected readonly tool = inject(CropTool);
  protected readonly mends = inject(MendTool);
  protected readonly forms = FORMS;
  protected readonly turnAt = ['tidy', 'crop', 'turn'];
  protected readonly wide: NumberRange = plainRange(tidyWords.width, '', 1, 100, 2);
  protected readonly high: NumberRange = plainRange(tidyWords.height, '', 1, 100, 1);
  private readonly crop = computed(() => this.project.calmRecipe().tidy.crop);
  protected readonly size = computed(() => {
    const { width, height } = cropGeometry(this.crop(), this.project.size());
    return `${width} × ${height} px`;
  });
  protected readonly isWhole = computed(() => {
    const { size, turn, flip } = this.crop();
    return size[0] === 1 && size[1] === 1 && turn === 0 && !flip;
  });

  protected setForm(form: Form): void {
    this.tool.set({ form });
    this.takeForm(tidyWords.aspectRatioName);
  }

  protected setUpright(isUpright: boolean): void {
    this.tool.set({ isUpright });
    this.takeForm(tidyWords.aspectRatioName);
  }

  protected setOwn(wide: number, high: number): void {
    this.tool.set({ own: [wide, high] });
    this.takeForm(tidyWords.aspectRatioName);
  }

  private takeForm(label: string): void {
    const ratio = this.tool.ratio();
    if (ratio !== null) this.tool.edit(label, setCropAspect(this.tool.current, this.project.size(), ratio));
  }

  protected quarter(): void {
    this.tool.set({ isUpright: !this.tool.isUpright() });
    this.tool.edit(tidyWords.rotate90Name, quarterTurned(this.tool.current, this.project.size()));
  }

  protected flip(): void {
    const { current } = this.tool;
    this.tool.edit('flip', { ...current, flip: !current.flip });
  }

  protected reset(): void {
    this.tool.set({ form: 'Free' });
    this.project.edit(tidyWords.resetCropName, ({ tidy }) => {
      tidy.crop = { centre: [0.5, 0.5], size: [1, 1], turn: 0, flip: false };
    });
  }
}
