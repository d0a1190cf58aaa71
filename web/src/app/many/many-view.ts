import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
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
import { MatOption, MatSelect } from '@angular/material/select';
import { MatTooltip } from '@angular/material/tooltip';
import { directoryOpen, fileOpen, fileSave } from 'browser-fs-access';
import { parseRecipe } from '@hazy-lens/core';
import { hasFolders, pickFolder, writeInto } from '../engine/folder';
import { Exports } from '../jobs/exports';
import { FILE_KINDS, fileKindOf } from '../jobs/file-kinds';
import { MANY, Many } from '../jobs/many';
import { filledPattern } from '../model/file-pattern';
import { safeName } from '../model/safe-name';
import { Notices } from '../project/notices';
import { OpenProject } from '../project/open-project';
import { orTold } from '../project/or-told';
import { Session } from '../project/session';
import { ObjectUrl } from '../shelf/object-url';
import { Batch, type BatchWish, type StoredBatch, type StoredBatchPicture } from '../storage/batch';
import { type StoredRecipe, Recipes } from '../storage/recipes';
import { live } from '../ui/live';
import { NumberField, plainRange } from '../ui/number-field';

/** The present recipe of the open project, among those that can be chosen. */
const PRESENT = 'present';
const FIRST_WISH: BatchWish = {
  type: 'image/jpeg',
  quality: 0.92,
  longEdge: null,
  pattern: '{name} {recipe}',
};
const PICTURES = {
  extensions: ['.jpg', '.jpeg', '.png', '.webp', '.avif', '.tif', '.tiff', '.heic', '.heif'],
};

/** Opens the view of many pictures. */
export function openMany(dialog: MatDialog): void {
  dialog.open(ManyView, { width: '1240px', maxWidth: '96vw', height: '92vh', ariaLabel: MANY });
}

/** One recipe over many pictures: a grid of small ones, each of which can be opened; files of them all. */
@Component({
  selector: 'hl-many-view',
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
    MatOption,
    MatSelect,
    MatTooltip,
    NumberField,
    ObjectUrl,
  ],
  templateUrl: './many-view.html',
  styleUrls: ['../shelf/shelf.scss', './many-view.scss'],
  host: { '(document:drop)': 'drop($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ManyView {
  private readonly batch = inject(Batch);
  private readonly many = inject(Many);
  private readonly exports = inject(Exports);
  private readonly recipes = inject(Recipes);
  private readonly project = inject(OpenProject);
  private readonly session = inject(Session);
  private readonly notices = inject(Notices);
  private readonly dialog = inject<MatDialogRef<ManyView>>(MatDialogRef);
  protected readonly present = PRESENT;
  protected readonly kinds = FILE_KINDS;
  protected readonly quality = plainRange('Quality', '%', 1, 100, 92);
  protected readonly edge = { ...plainRange('Long edge', 'px', 16, 20_000, 2000), step: 10 };
  protected readonly set = live<StoredBatch | null>(this.batch.watch(), null);
  protected readonly pictures = live<readonly StoredBatchPicture[]>(this.batch.watchPictures(), []);
  private readonly kept = live<{ all: readonly StoredRecipe[] }>(this.recipes.shelf(), { all: [] });
  protected readonly saved = computed(() => this.kept().all);
  protected readonly wish = computed(() => this.set()?.wish ?? FIRST_WISH);
  protected readonly kind = computed(() => fileKindOf(this.wish().type));
  /** The job in the queue, while all are being rendered. */
  protected readonly job = computed(
    () => this.exports.jobs().find(({ fileName }) => fileName === MANY) ?? null,
  );
  protected readonly count = computed(() => {
    const all = this.pictures();
    const of = (state: StoredBatchPicture['state']): number =>
      all.filter((one) => one.state === state).length;
    return { all: all.length, done: of('done'), failed: of('failed') };
  });
  protected readonly says = computed(() => {
    const { all, done, failed } = this.count();
    if (all === 0) return 'one recipe over a whole set of pictures';
    return `${all} pictures, ${done} rendered${failed > 0 ? `, ${failed} cannot be used` : ''}`;
  });
  /** The recipe among those that can be chosen, as far as its name tells. */
  protected readonly chosen = computed(
    () => this.saved().find(({ name }) => name === this.set()?.name)?.id ?? PRESENT,
  );
  /** What the first file will be called. */
  protected readonly example = computed(() => {
    const names = this.pictures().map(({ name }) => name);
    const [first] = filledPattern(
      this.wish().pattern,
      names.length > 0 ? names : ['kites.jpg'],
      this.set()?.name ?? 'recipe',
    );
    return first! + this.kind().extension;
  });
  private readonly stop = new AbortController();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop.abort());
    // What is missing is drawn whenever the recipe changes, or pictures come.
    const shown = computed(() => [this.set()?.recipe, this.pictures().length] as const, {
      equal: (a, b) => a[0] === b[0] && a[1] === b[1],
    });
    effect(() => {
      const [recipe, count] = shown();
      if (recipe && count > 0)
        untracked(() => void this.many.showAll(this.stop.signal).catch(() => undefined));
    });
    void this.begin();
  }

  /** The present recipe, where none was chosen yet. */
  private async begin(): Promise<void> {
    if (!(await this.batch.get())) await this.choose(PRESENT);
  }

  protected async choose(id: string): Promise<void> {
    const stored = this.saved().find((one) => one.id === id);
    await this.orSaid(async () => {
      const recipe = parseRecipe(stored?.recipe ?? this.project.keyed());
      const name = stored?.name ?? this.project.state().name;
      await this.batch.put({ id: 'batch', name, recipe, wish: this.wish(), isRunning: false });
    });
  }

  protected want(change: Partial<BatchWish>): void {
    void this.batch.change({ wish: { ...this.wish(), ...change } });
  }

  protected async pick(): Promise<void> {
    await this.add(await fileOpen({ ...PICTURES, multiple: true, description: 'Pictures' }).catch(() => []));
  }

  protected async pickFolder(): Promise<void> {
    const found = await directoryOpen({ recursive: true }).catch(() => []);
    await this.add((found as File[]).filter((file) => file instanceof File));
  }

  /** A file that is dropped while this is open joins the others. */
  protected drop(event: DragEvent): void {
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length > 0) void this.add(files);
  }

  private async add(files: readonly File[]): Promise<void> {
    const wanted = files.filter(({ name }) => !name.startsWith('.'));
    if (wanted.length > 0) await this.orSaid(() => this.batch.add(wanted));
  }

  protected async render(): Promise<void> {
    await this.many.render().catch((error: Error) => {
      if (error.name !== 'AbortError')
        this.notices.error(`The pictures could not all be rendered: ${error.message}`);
    });
  }

  protected pause(): void {
    const job = this.job();
    if (job) this.exports.pause(job, !job.isPaused);
  }

  protected cancel(): void {
    const job = this.job();
    if (job) this.exports.cancel(job);
  }

  protected async saveZip(): Promise<void> {
    const fileName = `${safeName(this.set()?.name ?? 'many')}.zip`;
    await this.orSaid(() => fileSave(this.many.zip(), { fileName, extensions: ['.zip'] }));
  }

  /** True where the browser writes into a folder. */
  protected readonly hasFolders = hasFolders();

  protected async saveFolder(): Promise<void> {
    await this.orSaid(async () => {
      const folder = await pickFolder();
      const files = await this.many.files();
      for (const { name, file } of files) await writeInto(folder, name, file);
      this.notices.info(`${files.length} pictures are in the folder “${folder.name}”.`, 'many');
    });
  }

  /** Opens a picture as a project of its own: what is changed there counts for it alone. */
  protected async open({ index, file, name, projectId }: StoredBatchPicture): Promise<void> {
    const batch = this.set();
    if (!batch) return;
    this.dialog.close();
    if (projectId && (await this.session.openProject(projectId))) return;
    const plain = name.replace(/\.[^.]+$/, '') || 'Picture';
    const opened = await this.session.openFile(new File([file], name, { type: file.type }), plain, {
      recipe: parseRecipe(batch.recipe),
    });
    if (opened) await this.batch.changePicture(index, { projectId: opened });
  }

  protected stateOf({ state, projectId }: StoredBatchPicture): string {
    if (state === 'failed') return 'left out';
    return [...(projectId ? ['its own'] : []), ...(state === 'done' ? ['rendered'] : [])].join(', ');
  }

  protected remove({ index }: StoredBatchPicture): void {
    void this.batch.removePicture(index);
  }

  protected clear(): void {
    this.cancel();
    void this.batch.clear();
  }

  private orSaid(work: () => Promise<unknown>): Promise<void> {
    const noRoom = 'Take fewer pictures at a time, delete projects, or use the command line over the folder.';
    return orTold(this.notices, noRoom, work);
  }
}
