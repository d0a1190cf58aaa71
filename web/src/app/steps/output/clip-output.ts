import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput, MatSuffix } from '@angular/material/input';
import { MatOption, MatSelect } from '@angular/material/select';
import { MatTooltip } from '@angular/material/tooltip';
import {
  type NumberRange,
  soundSpeed,
  CLIP_FORMATS,
  type ClipFormat,
  holdsAlpha,
  clipSize,
} from '@hazy-lens/core';
import { FarmClient } from '../../engine/farm-client';
import { hasFolders } from '../../engine/folder';
import { isTransparent } from '../../engine/footage/render-frames';
import { canWrite } from '../../engine/footage/writers';
import { type FilmWish, filmWish } from '../../jobs/film';
import { isFarmKind } from '../../jobs/farm-exports';
import { roughly } from '../../jobs/time-left';
import { Footage } from '../../project/footage/footage';
import { OpenProject } from '../../project/session/open-project';
import { NumberField, plainRange } from '../../ui/number-field';
import { Exporting } from './exporting';
import { ClipEstimator } from './clip-estimator';
import { OutputStore } from '../../workspace/output-store';
import { OutputSettings } from './output-settings';
import { counted } from '../../model/counted';
import { outputWords } from '../../words/output';

/** How the footage is written: as a clip, an animation, or numbered pictures. */
@Component({
  selector: 'hl-clip-output',
  imports: [
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatCheckbox,
    MatFormField,
    MatIcon,
    MatInput,
    MatOption,
    MatSelect,
    MatSuffix,
    MatTooltip,
    NumberField,
  ],
  template: `
    <section class="panel-section" [aria-label]="words.clip">
      <mat-form-field subscriptSizing="dynamic" class="wide">
        <mat-select
          [aria-label]="words.clipFormat"
          [value]="settings.clip().kind"
          (selectionChange)="settings.changeClip({ kind: $event.value })"
        >
          @for (kind of kinds; track kind.id) {
            <mat-option [value]="kind.id">{{ kind.label }}</mat-option>
          }
        </mat-select>
      </mat-form-field>
      @if (unwritable() === settings.clipFormat()) {
        <p class="hint" role="status">
          {{ words.thisBrowserCantEncode(settings.clipFormat().label, size().width, size().height) }}
        </p>
      }
      @if (isEncoded()) {
        <mat-button-toggle-group
          [aria-label]="words.encodeBy"
          hideSingleSelectionIndicator
          [value]="settings.clip().holds"
          (change)="settings.changeClip({ holds: $event.value })"
        >
          <mat-button-toggle value="quality">{{ words.quality }}</mat-button-toggle>
          <mat-button-toggle value="bitrate">{{ words.bitRate }}</mat-button-toggle>
        </mat-button-toggle-group>
      }
      @if (isEncoded() && settings.clip().holds === 'bitrate') {
        <hl-number
          [range]="rate"
          [slider]="true"
          [value]="settings.clip().rate"
          (changed)="settings.changeClip({ rate: $event.value })"
        />
      } @else if (settings.clipFormat().id !== 'gif' && settings.clipFormat().id !== 'png') {
        <hl-number
          [range]="quality"
          [slider]="true"
          [value]="settings.clip().quality"
          (changed)="settings.changeClip({ quality: $event.value })"
        />
      }
      <hl-number
        [range]="width()"
        [slider]="true"
        [value]="size().width"
        (changed)="settings.setClipWidth($event.value)"
      />
      <p class="quiet">{{ says() }}</p>
      <p class="quiet estimate">{{ estimate() }}</p>
      @if (unread(); as text) {
        <p class="hint">{{ text }}</p>
        <mat-checkbox
          [checked]="store.repeatsUnread()"
          (change)="store.set({ repeatsUnread: $event.checked })"
          >{{ words.repeatTheFrameBefore }}</mat-checkbox
        >
      }
      <label for="film-name" class="quiet">{{ words.fileName }}</label>
      <mat-form-field subscriptSizing="dynamic" class="wide">
        <input
          matInput
          id="film-name"
          #file
          maxlength="120"
          [matTooltip]="words.canIncludeNameDateRecipe"
          [value]="settings.shownName()"
          (input)="settings.nameAs(file.value)"
        />
        <span matTextSuffix>{{ settings.clipFormat().extension }}</span>
      </mat-form-field>
      @if (settings.shownName() !== settings.fileName()) {
        <p class="quiet">{{ settings.fileName() }}{{ settings.clipFormat().extension }}</p>
      }
      <button
        matButton="filled"
        [disabled]="unwritable() === settings.clipFormat()"
        (click)="exporting.film(wish())"
      >
        <mat-icon svgIcon="download" />{{ words.export(settings.clipFormat().label) }}
      </button>
      @if (settings.clipFormat().writer.by === 'frames' && hasFolders) {
        <button matButton="outlined" (click)="exporting.intoFolder(wish())">
          {{ words.exportToFolder }}
        </button>
      }
      @if (farm.host(); as host) {
        <button matButton="outlined" [disabled]="!isFarmKind()" (click)="exporting.onFarm(wish())">
          <mat-icon svgIcon="network" />{{ words.renderOnTheFarm }}
        </button>
        <p class="quiet">{{ onFarm(host) }}</p>
      }
      <p role="status">{{ exporting.finished() }}</p>
      @if (transparency(); as text) {
        <p class="hint">{{ text }}</p>
      }
      @if (sound(); as text) {
        <p class="hint">{{ text }}</p>
      }
    </section>
  `,
  styles: `
    .wide {
      width: 100%;
    }
    /* Its line is there before it is known. */
    .estimate {
      min-height: 1lh;
    }
  `,
  providers: [ClipEstimator],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ClipOutput {
  protected readonly words = outputWords;
  private readonly project = inject(OpenProject);
  protected readonly store = inject(OutputStore);
  private readonly footage = inject(Footage);
  protected readonly exporting = inject(Exporting);
  protected readonly farm = inject(FarmClient);
  private readonly estimator = inject(ClipEstimator);
  protected readonly settings = inject(OutputSettings);
  protected readonly kinds = CLIP_FORMATS;
  protected readonly quality: NumberRange = plainRange(outputWords.quality, '%', 1, 100, 80);
  protected readonly width = computed<NumberRange>(() => ({
    ...plainRange(outputWords.width, 'px', 16, this.project.sheet().width, this.project.sheet().width),
    step: 16,
  }));

  protected readonly size = computed(() =>
    clipSize(this.project.sheet(), this.settings.clipFormat(), this.settings.clipWidth()),
  );

  protected readonly rate: NumberRange = {
    ...plainRange(outputWords.bitRate, 'Mbit/s', 0.1, 200, 12),
    step: 0.1,
  };
  protected readonly isEncoded = computed(() => this.settings.clipFormat().writer.by === 'encoder');

  private readonly film = computed(() =>
    filmWish(this.settings.clip(), this.size(), this.footage.timeline().fps, this.store.repeatsUnread()),
  );

  /** A kind that this browser cannot write in the size that is set. */
  protected readonly unwritable = signal<ClipFormat | null>(null);

  protected readonly says = computed(() => {
    const { frames, fps } = this.footage.timeline();
    const { width, height } = this.size();
    return `${width} × ${height} px, ${counted(frames, 'frame')}, ${(frames / fps).toFixed(2)} s`;
  });

  /** A bit rate says how large the file gets; else a trial does, and how long it takes. */
  protected readonly estimate = computed(() => {
    const { frames, fps } = this.footage.timeline();
    const tried = this.estimator.estimate(this.film());
    const isRated = this.isEncoded() && this.settings.clip().holds === 'bitrate';
    const bytes = isRated ? (this.film().bitrate * frames) / fps / 8 : tried?.bytes;
    const size = bytes === undefined ? [] : [outputWords.aboutMb((bytes / 1e6).toFixed(1))];
    const time = tried ? [outputWords.toMake(roughly(tried.ms))] : [];
    return [...size, ...time].join(', ');
  });

  /** What of the clip's kept part its file lacks. */
  protected readonly unread = computed(() => {
    const from = this.footage.facts()?.missingFrom ?? null;
    const { to } = this.footage.timeline();
    const { starts } = this.footage.times();
    if (from === null || starts[from]! >= to) return null;
    return outputWords.theFileIsCutShort(from + 1);
  });

  protected readonly transparency = computed(() => {
    if (!this.footage.facts()?.isTransparent) return null;
    if (!holdsAlpha(this.settings.clipFormat())) return outputWords.transparentAreasBecomeWhitePng;
    return isTransparent({ material: this.footage.material()!, recipe: this.project.keyed() })
      ? outputWords.transparentAreasStayTransparent
      : outputWords.transparentAreasBecomeWhite;
  });

  protected readonly sound = computed(() => {
    if (!this.footage.facts()?.sound) return null;
    if (this.settings.clipFormat().writer.by !== 'encoder') return outputWords.thisFormatHasNoAudio;
    const { pace } = this.project.keyed();
    const speed = soundSpeed(pace);
    if (speed === 1) return outputWords.audioIsIncludedConverted;
    if (speed !== null) return outputWords.audioIsStretched(speed);
    return pace.curve || pace.direction !== 'forward'
      ? outputWords.audioIsIncluded
      : outputWords.audioIsIncludedOnlyAt1;
  });

  protected readonly hasFolders = hasFolders();

  protected readonly isFarmKind = computed(() => isFarmKind(this.settings.clipFormat()));

  protected onFarm(host: string): string {
    return this.isFarmKind()
      ? `Sends the footage, the recipe and its pictures to ${host}. Rendered at full size; it goes on there if you close this window.`
      : 'The farm renders MP4, H.264; WebM, VP9; GIF; and PNG frames.';
  }

  constructor() {
    this.estimator.watch(this.film);
    effect(() => void this.checkKind(this.film()));
    void this.farm.look();
  }

  private async checkKind(film: Pick<FilmWish, 'kind' | 'width' | 'height' | 'bitrate'>): Promise<void> {
    const can = await canWrite(film.kind, film);
    if (this.settings.clipFormat() === film.kind) this.unwritable.set(can ? null : film.kind);
  }

  protected wish(): FilmWish {
    const { extension } = this.settings.clipFormat();
    return { ...this.film(), fileName: this.settings.fileName() + extension };
  }
}
