import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import {
  type ClipSettings,
  type ExportPreset,
  type ExportSettings,
  type ExportSize,
  exportSize,
  nameByPattern,
  clipFormatOf,
} from '@hazy-lens/core';
import { variantsOf } from '../../model/variants';
import { Footage } from '../../project/footage/footage';
import { OpenProject } from '../../project/session/open-project';
import { OutputStore } from '../../workspace/output-store';

const NAME = '{name}';

interface OwnSettings {
  size: ExportSize;
  /** How files are named, see `nameByPattern`. */
  pattern: string;
  /** Width of a clip; null for the full size. */
  clipWidth: number | null;
}

/** How files of one project are wanted: size and name are its own. */
@Injectable()
export class OutputSettings {
  private readonly project = inject(OpenProject);
  private readonly footage = inject(Footage);
  private readonly store = inject(OutputStore);
  private readonly own = signalState<OwnSettings>({ size: { by: 'full' }, pattern: NAME, clipWidth: null });
  readonly pattern = this.own.pattern;
  readonly clipWidth = this.own.clipWidth;
  /** How a picture is written. */
  readonly still = computed<ExportSettings>(() => ({
    ...this.store.still(),
    size: this.own().size,
    pattern: this.pattern(),
  }));
  /** How footage is written. */
  readonly clip = this.store.clip;
  readonly clipFormat = computed(() => clipFormatOf(this.clip().kind));
  readonly sourceBits = computed(() => ((this.project.source()?.bits ?? 8) > 8 ? 16 : 8));
  readonly fileName = computed(() => this.nameBy(this.pattern()));
  /** What stands in the field for the name: the pattern, where one was given. */
  readonly shownName = computed(() => (this.pattern() === NAME ? this.fileName() : this.pattern()));

  change({ size, ...others }: Partial<ExportSettings>): void {
    if (size) patchState(this.own, { size });
    this.store.setStill(others);
  }

  changeClip(change: Partial<ClipSettings>): void {
    this.store.setClip(change);
  }

  nameAs(pattern: string): void {
    patchState(this.own, { pattern });
  }

  /** @param clipWidth null for the full size. */
  setClipWidth(clipWidth: number | null): void {
    patchState(this.own, { clipWidth });
  }

  /** The settings as they are now, under a name. */
  asPreset(name: string): ExportPreset {
    if (!this.footage.isOpen()) return { ...this.still(), name, clip: null };
    return { ...this.still(), size: this.clipSize(), name, clip: this.clip() };
  }

  private clipSize(): ExportSize {
    const px = this.clipWidth();
    if (px === null) return { by: 'full' };
    const { width, height } = this.project.sheet();
    return { by: width >= height ? 'long-edge' : 'short-edge', px: Math.round(px) };
  }

  use({ name: _, clip, ...settings }: ExportPreset): void {
    this.change(settings);
    this.nameAs(settings.pattern);
    if (clip) this.store.setClip(clip);
    const { size } = settings;
    this.setClipWidth(size.by === 'full' ? null : exportSize(this.project.sheet(), size).width);
  }

  /** The name of a file of the project by a pattern, without its ending. @param number its place among others. */
  nameBy(pattern: string, number = 1): string {
    const { name, source, work } = this.project.state();
    const recipe = variantsOf(work).find(({ id }) => id === work.variants?.current)?.name ?? 'recipe';
    const of = { name, file: source?.fileName ?? '', recipe };
    return nameByPattern(pattern, of, new Date(), String(number).padStart(2, '0'));
  }
}
