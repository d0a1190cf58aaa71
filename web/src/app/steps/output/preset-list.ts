import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput } from '@angular/material/input';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { fileOpen, fileSave } from 'browser-fs-access';
import {
  type ExportPreset,
  RecipeError,
  distinctNames,
  exportSize,
  parsePresets,
  presetsText,
  textOf,
  clipFormatOf,
  clipSize,
} from '@hazy-lens/core';
import { type FilmWish, filmWish } from '../../jobs/film';
import type { ExportWish } from '../../jobs/picture-order';
import { counted } from '../../model/counted';
import { exportText, isPreset, stillFormatNamed } from '../../model/export-text';
import { Footage } from '../../project/footage/footage';
import { Notices } from '../../project/session/notices';
import { OpenProject } from '../../project/session/open-project';
import { withErrorNotice } from '../../project/session/report-errors';
import { Presets, type StoredPreset } from '../../storage/presets';
import { signalFrom } from '../../ui/from-observable';
import { NameField } from '../../ui/name-field';
import { Exporting } from './exporting';
import { OutputStore } from '../../workspace/output-store';
import { OutputSettings } from './output-settings';
import { outputWords } from '../../words/output';

const PRESET_FILES = { extensions: ['.json'], description: outputWords.exportPresets };
/** A file of presets is a few kilobytes. */
const MAX_BYTES = 1_000_000;

/** Export settings that were kept: one click uses them, several are exported at once. */
@Component({
  selector: 'hl-preset-list',
  imports: [
    MatButton,
    MatCheckbox,
    MatFormField,
    MatIcon,
    MatIconButton,
    MatInput,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatTooltip,
    NameField,
  ],
  templateUrl: './preset-list.html',
  styleUrl: './preset-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PresetList {
  protected readonly words = outputWords;
  private readonly presets = inject(Presets);
  private readonly store = inject(OutputStore);
  private readonly settings = inject(OutputSettings);
  private readonly exporting = inject(Exporting);
  private readonly project = inject(OpenProject);
  private readonly footage = inject(Footage);
  private readonly notices = inject(Notices);
  private readonly kept = signalFrom(this.presets.shelf(), { all: [], removed: [] });
  protected readonly all = computed(() => this.kept().all);
  private readonly chosen = signal<ReadonlySet<string>>(new Set());
  protected readonly picked = computed(() => this.all().filter(({ id }) => this.chosen().has(id)));
  protected readonly renaming = signal<string | null>(null);
  protected readonly exportsLabel = computed(() =>
    outputWords.exportNamed(counted(this.picked().length, 'preset')),
  );

  protected isNow({ preset }: StoredPreset): boolean {
    const now = this.settings.asPreset(preset.name);
    return (
      isPreset(now, preset) &&
      (!this.footage.isOpen() || JSON.stringify(now.clip) === JSON.stringify(preset.clip))
    );
  }

  protected says({ preset }: StoredPreset): string {
    const clip = preset.clip && this.footage.isOpen() ? `${clipFormatOf(preset.clip.kind).label}; ` : '';
    return clip + exportText(preset);
  }

  protected pick({ id }: StoredPreset, isPicked: boolean): void {
    this.chosen.update((ids) => new Set(isPicked ? [...ids, id] : [...ids].filter((one) => one !== id)));
  }

  protected isPicked({ id }: StoredPreset): boolean {
    return this.chosen().has(id);
  }

  protected use({ preset }: StoredPreset): void {
    this.settings.use(preset);
  }

  protected keep(field: HTMLInputElement): Promise<void> {
    const name = field.value.trim() || outputWords.preset(this.all().length + 1);
    field.value = '';
    return this.change(() => this.presets.keep(this.settings.asPreset(this.freeName(name))));
  }

  protected rename({ id }: StoredPreset, name: string): Promise<void> {
    const others = this.all().filter((one) => one.id !== id);
    return this.change(() => this.presets.rename(id, this.freeName(name, others)));
  }

  /** A name, with a number where another preset has it: they are told apart by their names. */
  private freeName(name: string, others = this.all()): string {
    return distinctNames([...others.map((one) => one.name), name]).at(-1)!;
  }

  protected remove({ id, name }: StoredPreset): Promise<void> {
    return this.change(async () => {
      await this.presets.remove(id);
      this.notices.show({
        kind: 'info',
        text: outputWords.presetDeleted(name),
        action: { label: outputWords.restore, run: () => void this.change(() => this.presets.restore(id)) },
      });
    });
  }

  protected async save(): Promise<void> {
    const chosen = this.picked().length > 0 ? this.picked() : this.all();
    const text = presetsText(chosen.map(({ preset }) => preset));
    await fileSave(new Blob([text], { type: 'application/json' }), {
      fileName: 'hazy-lens.presets.json',
      extensions: PRESET_FILES.extensions,
    }).catch(() => undefined);
  }

  protected async load(): Promise<void> {
    const file = await fileOpen(PRESET_FILES).catch(() => null);
    if (!file) return;
    await this.change(async () => {
      let presets: ExportPreset[];
      try {
        if (file.size > MAX_BYTES) throw new RecipeError(outputWords.theFileIsTooLarge);
        presets = parsePresets(textOf(new Uint8Array(await file.arrayBuffer())));
      } catch (error) {
        if (!(error instanceof RecipeError)) throw error;
        const reason = error.message.replace(/\.$/, '');
        return this.notices.error(outputWords.cantBeUsedYourPresets(file.name, reason));
      }
      const names = distinctNames([...this.all(), ...presets].map(({ name }) => name)).slice(-presets.length);
      for (const [i, preset] of presets.entries()) await this.presets.keep({ ...preset, name: names[i]! });
      this.notices.info(outputWords.importedFrom(counted(presets.length, 'preset'), file.name));
    });
  }

  /** Writes a file with each preset that is picked. To be called while the click is fresh. */
  protected export(): Promise<void> {
    return this.exporting.several(this.wishes(this.picked().map(({ preset }) => preset)));
  }

  private wishes(presets: readonly ExportPreset[]): (ExportWish | FilmWish)[] {
    const stems = presets.map(({ pattern }, i) => this.settings.nameBy(pattern, i + 1));
    const endings = presets.map((preset) => this.endingOf(preset));
    // Where two would have one name, the presets’ own names tell them apart.
    const isTwice = (i: number): boolean =>
      stems.some(
        (stem, k) => k !== i && stem.toLowerCase() === stems[i]!.toLowerCase() && endings[k] === endings[i],
      );
    const names = distinctNames(
      stems.map((stem, i) => (isTwice(i) ? `${stem} ${presets[i]!.name}` : stem) + endings[i]!),
    );
    return presets.map((preset, i) => this.wish(preset, names[i]!));
  }

  private endingOf({ kind, clip }: ExportPreset): string {
    const format = clip && this.footage.isOpen() ? clipFormatOf(clip.kind) : stillFormatNamed(kind);
    return format.extension;
  }

  private wish(preset: ExportPreset, fileName: string): ExportWish | FilmWish {
    const { clip } = preset;
    if (!clip || !this.footage.isOpen()) return { settings: preset, fileName };
    const sheet = this.project.sheet();
    const size = clipSize(sheet, clipFormatOf(clip.kind), exportSize(sheet, preset.size).width);
    const { fps } = this.footage.timeline();
    return { ...filmWish(clip, size, fps, this.store.repeatsUnread()), fileName };
  }

  private change(work: () => Promise<unknown>): Promise<void> {
    return withErrorNotice(this.notices, outputWords.deleteAProjectToMake, work);
  }
}
