import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatFormField } from '@angular/material/input';
import { MatOption, MatSelect } from '@angular/material/select';
import { MatTooltip } from '@angular/material/tooltip';
import {
  type ExportSettings as Settings,
  type ExportSize,
  type NumberRange,
  STILL_FORMATS,
  type Size,
  exportSize,
  threadsShareMemory,
} from '@hazy-lens/core';
import { SIZE_NAMES, stillFormatNamed } from '../model/export-text';
import { METADATA_NAMES } from '../model/metadata-names';
import { NumberField, plainRange } from './number-field';
import { controlsWords } from '../words/controls';

const [MAX_EDGE, MAX_MP] = [20_000, 120];
/** Where nothing was said yet. */
const FIRST: Record<ExportSize['by'], number> = {
  full: 0,
  'long-edge': 2400,
  'short-edge': 1600,
  megapixels: 12,
  percent: 50,
};

/** A size asked for in one way, with its number. */
function sizeBy(by: ExportSize['by'], value: number): ExportSize {
  switch (by) {
    case 'full':
      return { by };
    case 'long-edge':
    case 'short-edge':
      return { by, px: Math.round(value) };
    case 'megapixels':
      return { by, mp: value };
    case 'percent':
      return { by, percent: value };
  }
}

function numberOf(size: ExportSize): number {
  if (size.by === 'megapixels') return size.mp;
  if (size.by === 'percent') return size.percent;
  return size.by === 'full' ? 0 : size.px;
}

/** How pictures are written: format, size, sharpening and metadata. */
@Component({
  selector: 'hl-export-settings',
  imports: [
    MatButtonToggle,
    MatButtonToggleGroup,
    MatFormField,
    MatOption,
    MatSelect,
    MatTooltip,
    NumberField,
  ],
  templateUrl: './export-settings.html',
  styleUrl: './export-settings.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ExportSettingsForm {
  protected readonly words = controlsWords;
  readonly settings = input.required<Settings>();
  /** What is written, at its full size; null where it is of many. */
  readonly picture = input<Size | null>(null);
  /** Bits that the source has; null where there are many. */
  readonly sourceBits = input<8 | 16 | null>(null);
  readonly hasMetadata = input(true);
  readonly changed = output<Partial<Settings>>();
  /** Without shared memory there is only what browsers write by themselves. */
  protected readonly isLimited = !threadsShareMemory();
  protected readonly formats = STILL_FORMATS.filter(({ isOfBrowsers }) => isOfBrowsers || !this.isLimited);
  protected readonly sizes = SIZE_NAMES;
  protected readonly metadataNames = METADATA_NAMES;
  protected readonly quality = plainRange(controlsWords.quality, '%', 1, 100, 92);
  protected readonly sharpening = plainRange(controlsWords.sharpening, '%', 0, 100, 0);
  protected readonly format = computed(() => stillFormatNamed(this.settings().kind));
  protected readonly bits = computed(() => this.settings().bits ?? this.sourceBits());

  protected readonly sizeNumber = computed<{ range: NumberRange; value: number } | null>(() => {
    const { size } = this.settings();
    const picture = this.picture();
    const value = numberOf(size);
    const range = (label: string, unit: string, min: number, max: number, step: number): NumberRange => ({
      ...plainRange(label, unit, min, max, Math.min(max, FIRST[size.by])),
      step,
      decimals: step < 1 ? 1 : 0,
    });
    // What is asked for stays, also where this picture is smaller.
    const most = (full: number, otherwise: number): number => Math.max(value, picture ? full : otherwise);
    const { width, height } = picture ?? { width: 0, height: 0 };
    switch (size.by) {
      case 'full':
        return null;
      case 'long-edge':
        return {
          range: range(controlsWords.longEdge, 'px', 16, most(Math.max(width, height), MAX_EDGE), 10),
          value,
        };
      case 'short-edge':
        return {
          range: range(controlsWords.shortEdge, 'px', 16, most(Math.min(width, height), MAX_EDGE), 10),
          value,
        };
      case 'megapixels': {
        const full = Math.max(0.1, Math.round((width * height) / 1e5) / 10);
        return { range: range(controlsWords.megapixels, 'MP', 0.1, most(full, MAX_MP), 0.1), value };
      }
      case 'percent':
        return { range: range(controlsWords.percent, '%', 1, 100, 1), value };
    }
  });
  /** The size in pixels. */
  protected readonly pixels = computed(() => {
    const picture = this.picture();
    if (!picture) return null;
    const { width, height } = exportSize(picture, this.settings().size);
    return `${width} × ${height} px`;
  });

  protected chooseSize(by: ExportSize['by']): void {
    this.changed.emit({ size: sizeBy(by, this.most(by)) });
  }

  /** What is asked for at first: no more than there is. */
  private most(by: ExportSize['by']): number {
    const picture = this.picture();
    if (!picture) return FIRST[by];
    const { width, height } = picture;
    if (by === 'long-edge') return Math.max(16, Math.min(FIRST[by], Math.max(width, height)));
    if (by === 'short-edge') return Math.max(16, Math.min(FIRST[by], Math.min(width, height)));
    if (by === 'megapixels')
      return Math.max(0.1, Math.min(FIRST[by], Math.round((width * height) / 1e5) / 10));
    return FIRST[by];
  }

  protected setSize(value: number): void {
    this.changed.emit({ size: sizeBy(this.settings().size.by, value) });
  }
}
