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
import { type QuietReading, READABLE, quietReading, sheetOf } from '@hazy-lens/core';
import { Engine } from '../../engine/engine';
import { Exporter, type ExportSource } from '../../engine/export';
import { FocusPicturesSource } from '../../project/focus-pictures';
import { OpenProject } from '../../project/open-project';
import { QuietArea, type QuietFrame } from '../../workspace/quiet-area';

/** Long edge of what is read: as captions are seen on a page. */
const LONG_EDGE = 1000;
const REST_MS = 220;
/** How much more blur is tried. */
const MORE = [1.5, 2] as const;
/** Steps of lightness, of 255, that no longer take the eye from a text. */
const QUIET = 4;
const BUSY = 10;

interface Readings {
  now: QuietReading;
  /** Without any blur. */
  sharp: QuietReading;
  more: readonly QuietReading[];
}

/** How well a caption would read in a frame on the picture, and what more blur would bring. */
@Component({
  selector: 'hl-quiet-section',
  imports: [MatSlideToggle],
  template: `
    <section class="panel-section" aria-label="Quiet area">
      <mat-slide-toggle [checked]="area.frame() !== null" (change)="area.toggle($event.checked)">
        Quiet area for a caption
      </mat-slide-toggle>
      @if (area.frame()) {
        @if (readings(); as read) {
          <p role="status">{{ verdict() }}</p>
          <dl>
            <dt>Detail</dt>
            <dd>{{ detail(read.now) }}, {{ left(read.now) }} of it without blur</dd>
            <dt>Black text</dt>
            <dd>{{ text(read.now, 'black') }}</dd>
            <dt>White text</dt>
            <dd>{{ text(read.now, 'white') }}</dd>
            @for (one of read.more; track $index) {
              <dt>{{ more[$index] }} × blur</dt>
              <dd>
                detail {{ detail(one) }}, black {{ contrast(one.black.least) }}, white
                {{ contrast(one.white.least) }}
              </dd>
            }
          </dl>
        } @else {
          <p class="quiet">Reading …</p>
        }
        <p class="hint">
          Contrast is the least with any pixel; small text wants 4.5. The frame is never in the file.
        </p>
      }
    </section>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 76px 1fr;
      gap: 4px 8px;
      margin: 6px 0;
    }
    dt {
      color: var(--ink-3);
    }
    dd {
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QuietSection {
  protected readonly area = inject(QuietArea);
  private readonly engine = inject(Engine);
  private readonly exporter = inject(Exporter);
  private readonly project = inject(OpenProject);
  private readonly focusPictures = inject(FocusPicturesSource);
  protected readonly readings = signal<Readings | null>(null);
  protected readonly more = MORE;
  private turn = 0;

  protected readonly verdict = computed(() => {
    const read = this.readings();
    if (!read) return '';
    const { detail, black, white } = read.now;
    const better = black.readable >= white.readable ? 'Black' : 'White';
    const { least, readable } = better === 'Black' ? black : white;
    const quiet = detail <= QUIET ? 'quiet' : detail <= BUSY ? 'rather restless' : 'busy';
    if (least >= READABLE) return `It is ${quiet}. ${better} text reads all over it.`;
    return `It is ${quiet}. ${better} text reads on ${Math.floor(readable * 100)} % of it.`;
  });

  constructor() {
    effect((onCleanup) => {
      const frame = this.area.frame();
      const picture = this.engine.picture();
      const source = { recipe: this.project.calmRecipe(), focusPictures: this.focusPictures.pictures() };
      if (!frame || !picture) return untracked(() => this.readings.set(null));
      const timer = setTimeout(() => void this.read({ picture, ...source }, frame), REST_MS);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async read(source: ExportSource, frame: QuietFrame): Promise<void> {
    const turn = ++this.turn;
    const { recipe } = source;
    const withBlur = (times: number): ExportSource => ({
      ...source,
      recipe: { ...recipe, blur: { ...recipe.blur, radius: Math.min(0.1, recipe.blur.radius * times) } },
    });
    const made: QuietReading[] = [];
    for (const times of [1, 0, ...MORE]) {
      // What cannot be rendered is said by the stage.
      const reading = await this.one(withBlur(times), frame).catch(() => null);
      if (!reading || turn !== this.turn) return;
      made.push(reading);
    }
    const [now, sharp, ...more] = made;
    this.readings.set({ now: now!, sharp: sharp!, more });
  }

  private async one(source: ExportSource, frame: QuietFrame): Promise<QuietReading> {
    const sheet = sheetOf(source.recipe, source.picture);
    const scale = Math.min(1, LONG_EDGE / Math.max(sheet.width, sheet.height));
    const width = Math.max(1, Math.round(sheet.width * scale));
    const height = Math.max(1, Math.round(sheet.height * scale));
    const pixels = await this.exporter.pixels(source, { width, height });
    const [left, top] = [Math.floor(frame.x * width), Math.floor(frame.y * height)];
    const columns = Math.max(1, Math.min(width - left, Math.round(frame.width * width)));
    const rows = Math.max(1, Math.min(height - top, Math.round(frame.height * height)));
    const part = new Uint8ClampedArray(columns * rows * 4);
    for (let y = 0; y < rows; y++) {
      const from = ((top + y) * width + left) * 4;
      part.set(pixels.data.subarray(from, from + columns * 4), y * columns * 4);
    }
    return quietReading(part, columns, rows);
  }

  protected readonly detail = ({ detail }: QuietReading): string => detail.toFixed(1);
  protected readonly contrast = (value: number): string => `${value.toFixed(1)} : 1`;
  protected left({ detail }: QuietReading): string {
    const sharp = this.readings()?.sharp.detail ?? 0;
    return `${sharp > 0 ? Math.round((detail / sharp) * 100) : 100} %`;
  }
  protected text(read: QuietReading, colour: 'black' | 'white'): string {
    const { least, readable } = read[colour];
    return `${this.contrast(least)}, reads on ${Math.floor(readable * 100)} %`;
  }
}
