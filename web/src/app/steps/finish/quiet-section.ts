import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import {
  type CaptionContrast,
  MIN_TEXT_CONTRAST,
  captionContrast,
  cropOf,
  sizeWithin,
} from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { Exporter, type ExportSource } from '../../engine/export';
import { ProjectAssets } from '../../project/session/project-assets';
import { OpenProject } from '../../project/session/open-project';
import { QuietArea, type QuietFrame } from '../../workspace/quiet-area';
import { finishWords } from '../../words/finish';

/** Long edge of what is read: as captions are seen on a page. */
const LONG_EDGE = 1000;
const REST_MS = 220;
/** How much more blur is tried. */
const MORE = [1.5, 2] as const;
/** Steps of lightness, of 255, that no longer take the eye from a text. */
const QUIET = 4;
const BUSY = 10;

interface Readings {
  now: CaptionContrast;
  /** Without any blur. */
  sharp: CaptionContrast;
  more: readonly CaptionContrast[];
}

/** How well a caption would read in a frame on the picture, and what more blur would bring. */
@Component({
  selector: 'hl-quiet-section',
  imports: [MatSlideToggle],
  template: `
    <section class="panel-section" [aria-label]="words.quietArea">
      <mat-slide-toggle [checked]="area.frame() !== null" (change)="area.toggle($event.checked)">
        {{ words.quietAreaForACaption }}
      </mat-slide-toggle>
      @if (area.frame()) {
        @if (readings(); as read) {
          <p role="status">{{ verdict() }}</p>
          <table>
            <tr>
              <td></td>
              @for (column of columns(); track column.name) {
                <th scope="col">{{ column.name }}</th>
              }
            </tr>
            <tr>
              <th scope="row">{{ words.detail }}</th>
              @for (column of columns(); track column.name) {
                <td>{{ column.reading.detail.toFixed(1) }}</td>
              }
            </tr>
            @for (colour of colours; track colour.of) {
              <tr>
                <th scope="row">{{ colour.label }}</th>
                @for (column of columns(); track column.name) {
                  <td>{{ column.reading[colour.of].least.toFixed(1) }} : 1</td>
                }
              </tr>
            }
          </table>
          <p class="hint">{{ words.blurLeavesOfTheDetail(left(read)) }}</p>
        } @else {
          <p class="quiet">{{ words.reading }}</p>
        }
        <p class="hint">
          {{ words.contrastIsAgainstTheWorst }}
        </p>
      }
    </section>
  `,
  styles: `
    table {
      width: 100%;
      margin: 6px 0;
      border-spacing: 0 4px;
    }
    th {
      font-weight: inherit;
      color: var(--ink-3);
      text-align: right;
    }
    th[scope='row'] {
      text-align: left;
    }
    td {
      text-align: right;
      white-space: nowrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QuietSection {
  protected readonly words = finishWords;
  protected readonly area = inject(QuietArea);
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly exporter = inject(Exporter);
  private readonly project = inject(OpenProject);
  private readonly projectAssets = inject(ProjectAssets);
  protected readonly readings = signal<Readings | null>(null);
  protected readonly colours = [
    { of: 'black', label: finishWords.blackText },
    { of: 'white', label: finishWords.whiteText },
  ] as const;
  private turn = 0;

  /** What is read now, and under more blur. */
  protected readonly columns = computed(() => {
    const read = this.readings();
    const more = read?.more.map((reading, i) => ({ name: finishWords.blurTimes(MORE[i]!), reading })) ?? [];
    return read ? [{ name: 'now', reading: read.now }, ...more] : [];
  });

  protected readonly verdict = computed(() => {
    const read = this.readings();
    if (!read) return '';
    const { detail, black, white } = read.now;
    const better = black.readable >= white.readable ? finishWords.black : finishWords.white;
    const { least, readable } = better === 'Black' ? black : white;
    const quiet = detail <= QUIET ? 'calm' : detail <= BUSY ? finishWords.slightlyBusy : 'busy';
    if (least >= MIN_TEXT_CONTRAST) return finishWords.theAreaIsText(quiet, better);
    return finishWords.theAreaIsInPart(quiet, better, Math.floor(readable * 100));
  });

  constructor() {
    effect((onCleanup) => {
      const frame = this.area.frame();
      const picture = this.renderLoop.picture();
      const source = { recipe: this.project.calmRecipe(), companions: this.projectAssets.now() };
      // What is still being read is of what was there before.
      this.turn++;
      if (!frame || !picture) return untracked(() => this.readings.set(null));
      const timer = setTimeout(() => void this.read({ picture, ...source }, frame), REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async read(source: ExportSource, frame: QuietFrame): Promise<void> {
    const { turn } = this;
    const { recipe } = source;
    const withBlur = (times: number): ExportSource => ({
      ...source,
      recipe: { ...recipe, blur: { ...recipe.blur, radius: Math.min(0.1, recipe.blur.radius * times) } },
    });
    const made: CaptionContrast[] = [];
    for (const times of [1, 0, ...MORE]) {
      // What cannot be rendered is said by the stage.
      const reading = await this.one(withBlur(times), frame).catch(() => null);
      if (!reading || turn !== this.turn) return;
      made.push(reading);
    }
    const [now, sharp, ...more] = made;
    this.readings.set({ now: now!, sharp: sharp!, more });
  }

  private async one(source: ExportSource, frame: QuietFrame): Promise<CaptionContrast> {
    const { width, height } = sizeWithin(cropOf(source.recipe, source.picture), LONG_EDGE);
    const pixels = await this.exporter.pixels(source, { width, height });
    const [left, top] = [Math.floor(frame.x * width), Math.floor(frame.y * height)];
    const columns = Math.max(1, Math.min(width - left, Math.round(frame.width * width)));
    const rows = Math.max(1, Math.min(height - top, Math.round(frame.height * height)));
    const part = new Uint8ClampedArray(columns * rows * 4);
    for (let y = 0; y < rows; y++) {
      const from = ((top + y) * width + left) * 4;
      part.set(pixels.data.subarray(from, from + columns * 4), y * columns * 4);
    }
    return captionContrast(part, columns, rows);
  }

  /** How much of the detail the blur leaves, in percent. */
  protected left({ now, sharp }: Readings): number {
    return sharp.detail > 0 ? Math.round((now.detail / sharp.detail) * 100) : 100;
  }
}
