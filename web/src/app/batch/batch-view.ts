import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import {
  type MatDialog,
  MatDialogClose,
  MatDialogContent,
  MatDialogRef,
  MatDialogTitle,
} from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatFormField, MatInput } from '@angular/material/input';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatOption, MatSelect } from '@angular/material/select';
import { MatTooltip } from '@angular/material/tooltip';
import { directoryOpen, fileOpen, fileSave } from 'browser-fs-access';
import {
  type ExportPreset,
  type ExportSettings,
  LOOK_PARTS,
  RAW_EXTENSIONS,
  defaultExportSettings,
  nameByPattern,
  parseRecipe,
  safeName,
  withoutEnding,
} from '@hazy-lens/core';
import { filesIn } from '../engine/dropped-files';
import { hasFile, hasFolders, pickFolder, writeInto } from '../engine/folder';
import { zipOf } from '../engine/zip-of';
import { JobQueue } from '../jobs/job-queue';
import { BATCH_JOB, BatchRenderer, commonRecipe } from '../jobs/batch-renderer';
import { exportText, stillFormatNamed } from '../model/export-text';
import { PART_NAMES } from '../model/part-names';
import { Notices } from '../project/session/notices';
import { OpenProject } from '../project/session/open-project';
import { withErrorNotice } from '../project/session/report-errors';
import { ProjectOpener } from '../project/session/project-opener';
import { BlobImage } from '../shelf/blob-image';
import {
  BATCH_PATTERN,
  BatchRepository,
  type BatchWish,
  type StoredBatch,
  type StoredBatchPicture,
  outputsOf,
} from '../storage/batch-repository';
import { Presets, type StoredPreset } from '../storage/presets';
import { type StoredRecipe, Recipes } from '../storage/recipes';
import { signalFrom } from '../ui/from-observable';
import { ExportSettingsForm } from '../ui/export-settings';
import { reasonOf } from '../model/causes';
import { counted } from '../model/counted';
import { batchWords } from '../words/batch';

/** The recipe of the open project, among those that can be chosen; and that of another one, where it is being rendered. */
const CURRENT = 'current';
const OTHER = 'other';
const FIRST_WISH: BatchWish = {
  settings: { ...defaultExportSettings(), pattern: BATCH_PATTERN },
  presets: [],
  parts: [...LOOK_PARTS],
};
const PICTURES = {
  extensions: [
    '.jpg',
    '.jpeg',
    '.png',
    '.webp',
    '.avif',
    '.tif',
    '.tiff',
    '.heic',
    '.heif',
    ...RAW_EXTENSIONS,
  ],
};

/** Opens the view of many pictures. */
export function openMany(dialog: MatDialog): void {
  dialog.open(BatchView, { width: '1240px', maxWidth: '96vw', height: '92vh', ariaLabel: BATCH_JOB });
}

/** One recipe over many pictures: a grid of small ones, each of which can be opened; files of them all. */
@Component({
  selector: 'hl-batch-view',
  imports: [
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatFormField,
    MatIcon,
    MatIconButton,
    MatInput,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatOption,
    MatSelect,
    MatTooltip,
    ExportSettingsForm,
    BlobImage,
  ],
  templateUrl: './batch-view.html',
  styleUrls: ['../shelf/shelf.scss', './batch-view.scss'],
  host: { '(document:drop)': 'drop($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchView {
  protected readonly words = batchWords;
  private readonly batch = inject(BatchRepository);
  private readonly batchRenderer = inject(BatchRenderer);
  private readonly queue = inject(JobQueue);
  private readonly recipes = inject(Recipes);
  private readonly presets = inject(Presets);
  private readonly project = inject(OpenProject);
  private readonly opener = inject(ProjectOpener);
  private readonly notices = inject(Notices);
  private readonly dialog = inject<MatDialogRef<BatchView>>(MatDialogRef);
  protected readonly current = CURRENT;
  protected readonly other = OTHER;
  protected readonly parts = PART_NAMES;
  protected readonly set = signalFrom<StoredBatch | null>(this.batch.watch(), null);
  protected readonly pictures = signalFrom<readonly StoredBatchPicture[]>(this.batch.watchPictures(), []);
  private readonly kept = signalFrom<{ all: readonly StoredRecipe[] }>(this.recipes.shelf(), { all: [] });
  protected readonly saved = computed(() => this.kept().all);
  protected readonly wish = computed(() => this.set()?.wish ?? FIRST_WISH);
  private readonly shelf = signalFrom<{ all: readonly StoredPreset[] }>(this.presets.shelf(), { all: [] });
  /** Presets that can be chosen: those that are kept, and those that were chosen before. */
  protected readonly offered = computed<readonly ExportPreset[]>(() => {
    // Of one name the kept one counts.
    const all = [...this.shelf().all.map(({ preset }) => preset), ...this.wish().presets];
    return [...new Map(all.toReversed().map((preset) => [preset.name, preset])).values()].toReversed();
  });
  protected readonly chosenPresets = computed(() => this.wish().presets.map(({ name }) => name));
  /** The job in the queue, while all are being rendered. */
  protected readonly job = computed(
    () => this.queue.jobs().find(({ fileName }) => fileName === BATCH_JOB) ?? null,
  );
  protected readonly count = computed(() => {
    const all = this.pictures();
    const of = (state: StoredBatchPicture['state']): number =>
      all.filter((one) => one.state === state).length;
    return { all: all.length, done: of('done'), failed: of('failed') };
  });
  protected readonly says = computed(() => {
    const { all, done, failed } = this.count();
    if (all === 0) return batchWords.oneRecipeForManyPictures;
    return batchWords.rendered(counted(all, 'picture'), done, failed > 0 ? batchWords.failed(failed) : '');
  });
  /** The recipe among those that can be chosen. */
  protected readonly chosen = computed(() => {
    const set = this.set();
    const saved = this.saved().find(({ id }) => id === set?.recipeId);
    if (saved) return saved.id;
    // Read again, its fields are in the order of those that were stored.
    const isCurrent =
      !set || JSON.stringify(parseRecipe(set.recipe)) === JSON.stringify(parseRecipe(this.project.keyed()));
    return isCurrent ? CURRENT : OTHER;
  });
  protected readonly projectName = computed(() => this.project.state().name);
  /** What the first picture’s files will be called. */
  protected readonly example = computed(() => {
    const recipe = this.set()?.name ?? 'recipe';
    const [first] = this.pictures();
    const file = first?.name ?? 'kites.jpg';
    const source = { name: withoutEnding(file), file, recipe: first?.own?.name ?? recipe };
    const day = new Date();
    return outputsOf(this.wish())
      .map(({ pattern, kind }) => nameByPattern(pattern, source, day) + stillFormatNamed(kind).extension)
      .join(', ');
  });
  /** What each picture is written as. */
  protected readonly written = computed(() =>
    outputsOf(this.wish()).map((one) => (one.name ? `${one.name}: ${exportText(one)}` : exportText(one))),
  );
  /** The settings of the files are in view. */
  protected readonly isSetting = signal(false);
  /** Index of the picture whose original is shown while a button is held. */
  protected readonly comparing = signal<number | null>(null);
  private readonly stop = new AbortController();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop.abort());
    // What is missing is drawn whenever the recipe changes, or pictures come.
    const shown = computed(
      () => [this.set()?.recipe, this.pictures().length, String(this.wish().parts)] as const,
      { equal: (a, b) => a.every((one, i) => one === b[i]) },
    );
    effect(() => {
      const [recipe, count] = shown();
      if (recipe && count > 0)
        untracked(() => void this.batchRenderer.showAll(this.stop.signal).catch(() => undefined));
    });
    void this.begin();
  }

  /**
   * The recipe of what is open now is meant, unless a saved one was chosen, all are being rendered with another one, or one of
   * the pictures itself is open to be changed on its own.
   */
  private async begin(): Promise<void> {
    const batch = await this.batch.get();
    const { projectId } = this.project.state();
    const isOwn = (await this.batch.pictures()).some((one) => one.projectId === projectId);
    if (!batch || (batch.recipeId === null && !batch.isRunning && !isOwn)) await this.choose(CURRENT);
  }

  protected async choose(id: string): Promise<void> {
    if (id === OTHER) return;
    const stored = this.saved().find((one) => one.id === id);
    await this.orSaid(async () => {
      const recipe = parseRecipe(stored?.recipe ?? this.project.keyed());
      const name = stored?.name ?? this.project.state().name;
      const last = await this.batch.get();
      const { wish, isRunning } = last ?? { wish: FIRST_WISH, isRunning: false };
      await this.batch.put({ id: 'batch', name, recipeId: stored?.id ?? null, recipe, wish, isRunning });
    });
  }

  protected choosePresets(names: readonly string[]): void {
    this.want({ presets: this.offered().filter(({ name }) => names.includes(name)) });
  }

  protected change(change: Partial<ExportSettings>): void {
    this.want({ settings: { ...this.wish().settings, ...change } });
  }

  protected want(change: Partial<BatchWish>): void {
    void this.batch.change({ wish: { ...this.wish(), ...change } });
  }

  protected async pick(): Promise<void> {
    await this.add(
      await fileOpen({ ...PICTURES, multiple: true, description: batchWords.pictures }).catch(() => []),
    );
  }

  protected async pickFolder(): Promise<void> {
    const found = await directoryOpen({ recursive: true }).catch(() => []);
    await this.add((found as File[]).filter((file) => file instanceof File));
  }

  /** Files and folders that are dropped while this is open join the others. */
  protected drop(event: DragEvent): void {
    void (event.dataTransfer && filesIn(event.dataTransfer))?.then((files) => this.add(files));
  }

  private async add(files: readonly File[]): Promise<void> {
    const wanted = files.filter(({ name }) => !name.startsWith('.'));
    if (wanted.length > 0) await this.orSaid(() => this.batch.add(wanted));
  }

  /** The same pictures once more, with another recipe of the shelf. */
  protected addRecipe({ name, recipe }: StoredRecipe): Promise<void> {
    const own = { name, recipe, isWhole: false };
    const all = this.pictures();
    const has = (picture: string): boolean =>
      all.some((one) => one.name === picture && one.own?.name === name);
    const once = all.filter((one) => one.own === null && !has(one.name));
    return this.orSaid(() =>
      this.batch.addRows(once.map((one) => ({ name: one.name, file: one.file, own }))),
    );
  }

  protected async render(): Promise<void> {
    await this.batchRenderer.render().catch((error: Error) => {
      if (error.name !== 'AbortError')
        this.notices.error(batchWords.thePicturesCouldntAllBeRendered(reasonOf(error)));
    });
  }

  protected pause(): void {
    const job = this.job();
    if (job) this.queue.pause(job, !job.isPaused);
  }

  protected cancel(): void {
    const job = this.job();
    if (job) this.queue.cancel(job);
  }

  protected async saveZip(): Promise<void> {
    const fileName = `${safeName(this.set()?.name ?? 'many')}.zip`;
    await this.orSaid(async () => {
      const files = await this.batchRenderer.made();
      await fileSave(zipOf(files), { fileName, extensions: ['.zip'] });
      this.tellMissing(`“${fileName}”`);
    });
  }

  /** Says what is not among the files that were saved. */
  private tellMissing(where: string): void {
    const { all, failed } = this.count();
    // One picture may have a file for each of several presets.
    const saved = this.pictures().filter(({ outs }) => outs.length > 0).length;
    const waiting = all - saved - failed;
    const missing = [
      ...(waiting > 0 ? [batchWords.notRenderedYet(waiting, waiting === 1 ? 'is' : 'are')] : []),
      ...(failed > 0 ? [batchWords.cantBeUsed(failed)] : []),
    ];
    const text = batchWords.ofPicturesAreIn(saved, all, where);
    this.notices.info(missing.length > 0 ? `${text}: ${missing.join(', ')}.` : `${text}.`, 'many');
  }

  /** True where the browser writes into a folder. */
  protected readonly hasFolders = hasFolders();

  protected async saveFolder(): Promise<void> {
    await this.orSaid(async () => {
      const folder = await pickFolder();
      const files = await this.batchRenderer.made();
      const sources = new Set(this.pictures().map(({ name }) => name.toLowerCase()));
      const same = files.find(({ name }) => sources.has(name.toLowerCase()));
      if (same && (await hasFile(folder, same.name)))
        throw new Error(
          `“${same.name}” in the folder “${folder.name}” may be the picture that you added. Choose another folder, or names with {recipe}`,
        );
      for (const { name, file } of files) await writeInto(folder, name, file);
      this.tellMissing(batchWords.theFolder(folder.name));
    });
  }

  /** Opens a picture as a project of its own: what is changed there counts for it alone. */
  protected async open({ index, file, name, projectId, own }: StoredBatchPicture): Promise<void> {
    const batch = this.set();
    if (!batch) return;
    this.dialog.close();
    if (projectId && (await this.opener.openProject(projectId))) return;
    const plain = name.replace(/\.[^.]+$/, '') || batchWords.picture;
    const recipe = own?.isWhole ? own.recipe : commonRecipe({ ...batch, ...own });
    const opened = await this.opener.openFile(new File([file], name, { type: file.type }), plain, { recipe });
    if (opened) await this.batch.changePicture(index, { projectId: opened });
  }

  protected stateOf({ state, projectId }: StoredBatchPicture): string {
    if (state === 'failed') return batchWords.failedName;
    return [...(projectId ? [batchWords.adjusted] : []), ...(state === 'done' ? ['rendered'] : [])].join(
      ', ',
    );
  }

  protected remove({ index }: StoredBatchPicture): void {
    void this.batch.removePicture(index);
  }

  protected clear(): void {
    this.cancel();
    void this.batch.clear().then(() => this.begin());
  }

  private orSaid(work: () => Promise<unknown>): Promise<void> {
    const noRoom = batchWords.addFewerPictures;
    return withErrorNotice(this.notices, noRoom, work);
  }
}
