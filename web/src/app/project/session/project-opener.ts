import { Injectable, inject, signal } from '@angular/core';
import { type RawPreview, inNaturalOrder, renameReferences } from '@hazy-lens/core';
import type { FileWithHandle } from 'browser-fs-access';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { LayerImages } from '../../engine/layer-images';
import { type Loaded, MediaLoader } from '../../engine/load';
import { type CodecListener, unzipFile } from '../../engine/codecs/codec';
import type { ImageInfo } from '../../engine/codecs/messages';
import { isTableFile } from '../../engine/lut-cache';
import type { MediaSource } from '../../engine/media-source';
import { zipHolds } from '../../engine/zip-names';
import { zipOf } from '../../engine/zip-of';
import { EMPTY_HISTORY } from '../../model/history';
import type { Project, SourceInfo, ProjectDocument } from '../../model/project';
import { type OpenAs, type OpeningAdvice, adviseOpening } from '../../model/opening';
import { startingRecipe } from '../../model/starting-recipe';
import { requestRead, canRead } from '../../storage/file-handles';
import { BatchRepository } from '../../storage/batch-repository';
import { BUNDLE_INDEX, MAX_BUNDLE_BYTES, ProjectBundles } from '../../storage/bundles';
import { Housekeeping } from '../../storage/housekeeping';
import { Projects } from '../../storage/projects';
import type { StoredProject } from '../../storage/rows';
import { Autosave } from '../saving/autosave';
import { DEMO_PICTURES, type DemoPicture } from './demo';
import { MatteCutter } from '../subjects/matte-cutter';
import { Notices } from './notices';
import { footageInfo } from '../footage/footage-file';
import { ABOUT_PROJECT, OtherTabs } from '../saving/other-tabs';
import { ProjectNotices } from './project-notices';
import { withErrorNotice } from './report-errors';
import { LateKeeping } from '../saving/late-keeping';
import { OpenProject } from './open-project';
import { OwnDepth } from './own-depth';
import { type OpenMaterial, ProjectScope } from './scope';
import { LookShelf } from '../recipes/look-shelf';
import { isRecipe } from '../recipes/recipe-files';
import { RecipeImport } from '../recipes/recipe-import';
import { readFacts } from '../footage/file-facts';
import { NewStart } from './new-start';
import { takenAt } from '../footage/taken-at';
import { counted } from '../../model/counted';
import { isStorageFull, reasonOf, sentenceOf } from '../../model/causes';
import { remember, remembered } from '../../storage/remembered';
import { projectWords } from '../../words/project';

/** Numbered pictures together, as far as a browser keeps them well. */
const MAX_NUMBERED_BYTES = 2_000_000_000;
/** A larger one is not copied where its place can be remembered. */
const MAX_KEPT_BYTES = 1_500_000_000;
const ABOUT_ADDING = 'files for the shelf';
const ABOUT_PLACE = 'place of a source';
const ABOUT_KEEPING = 'what is kept';
const ABOUT_REPLACING = 'changes that would be lost';
/** The first picture comes first. */
const HOUSEKEEPING_MS = 10_000;
const LAST_KEY = 'hazy-lens-last-project';

/** Several pictures that were brought in, and the question what they should become. */
export interface SeveralFiles {
  names: readonly string[];
  advice: OpeningAdvice;
  answer: (as: OpenAs | null) => void;
}

/** What is being opened. */
interface Opening {
  name: string;
  /** The share that is decoded, 0..1; null where that is not known. */
  done: number | null;
  /** What a raw file shows of itself meanwhile. */
  preview: RawPreview | null;
}

/** Stores a new project that is as given, and gives its id. */
type Create = (work: ProjectDocument) => Promise<string>;

/** The project of last time: this tab's own, in a new tab the one that was opened last, wherever that was. */
function lastOf(all: readonly StoredProject[]): StoredProject | undefined {
  const own = remembered(LAST_KEY, 'sessionStorage');
  const newest = (a: StoredProject, b: StoredProject): StoredProject =>
    (b.opened ?? 0) > (a.opened ?? 0) ? b : a;
  return all.find(({ id }) => id === own) ?? (all.length > 0 ? all.reduce(newest) : undefined);
}

/** Whether a person asked for something to be opened, or the page does so when it starts. */
interface OpenedWhen {
  isRequested: boolean;
}
const ON_REQUEST: OpenedWhen = { isRequested: true };
const AT_START: OpenedWhen = { isRequested: false };

/** Opens pictures and projects, and says plainly where that fails; what is open stays open then. */
@Injectable({ providedIn: 'root' })
export class ProjectOpener {
  private readonly loader = inject(MediaLoader);
  private readonly projects = inject(Projects);
  private readonly notices = inject(Notices);
  private readonly scope = inject(ProjectScope);
  private readonly images = inject(LayerImages);
  private readonly housekeeping = inject(Housekeeping);
  private readonly newStart = inject(NewStart);
  private readonly batch = inject(BatchRepository);
  private readonly bundles = inject(ProjectBundles);
  /** What is being opened just now, or null. */
  readonly opening = signal<Opening | null>(null);
  /** Several pictures that wait for an answer what they should become, or null. */
  readonly asking = signal<SeveralFiles | null>(null);
  /** True once pictures went to the batch from here, until it is shown. */
  readonly batchWanted = signal(false);
  /** Counts what was asked for: only the newest is shown. */
  private turn = 0;
  /** A person asked for something since the start: what the page opens by itself comes too late. */
  private isAsked = false;

  /** Opens the project of last time, or the demo on the first start, unless something was asked for meanwhile. */
  async start(): Promise<void> {
    this.isAsked = false;
    // Without this the browser may clear projects away when the disk fills up.
    void navigator.storage?.persist?.();
    try {
      const all = await this.projects.list();
      const last = lastOf(all);
      const place = last ? await this.placeToAskFor(last) : null;
      if (last && !place) await this.openProject(last.id, AT_START);
      if (last && place) await this.openMeanwhile(all.filter((other) => other !== last));
      if (!this.isOpen()) await this.openDemo(DEMO_PICTURES[0]!, AT_START);
      if (last && place && !this.isAsked) {
        this.askFor(place, last);
        this.rememberProject(last.id);
      }
    } catch (error) {
      this.notices.error(projectWords.savedProjectsCantBeLoaded(reasonOf(error)), ABOUT_KEEPING);
      if (!this.isOpen()) await this.openDemo(DEMO_PICTURES[0]!, AT_START);
    }
    // What is not cleared away today is tomorrow.
    setTimeout(() => void this.housekeeping.tidy().catch(() => undefined), HOUSEKEEPING_MS);
  }

  private rememberProject(id: string): void {
    remember(LAST_KEY, id, 'sessionStorage');
    // Without room a new tab opens another one: nothing is lost.
    this.projects.markOpened(id).catch(() => undefined);
  }

  private isOpen(): boolean {
    return this.scope.get(OpenProject).isOpen();
  }

  /** Opens the newest project that needs no question, where there is one. */
  private async openMeanwhile(all: readonly StoredProject[]): Promise<void> {
    for (const project of all)
      if (!(await this.placeToAskFor(project))) return void (await this.openProject(project.id, AT_START));
  }

  async openDemo(demo: DemoPicture, when: OpenedWhen = ON_REQUEST): Promise<void> {
    try {
      const file = await demoFile(demo.file);
      const names = new Map<string, string>();
      for (const name of demo.files ?? [])
        names.set(name, await this.images.keep(await demoFile(name), name));
      await this.openFile(file, demo.name, { recipe: renameReferences(demo.recipe, names) }, when);
    } catch {
      this.notices.error(
        `The demo picture “${demo.name}” can’t be reached. Start Hazy Lens again; your projects are safe.`,
      );
    }
  }

  /**
   * A picture, a clip or a project's bundle becomes a project; what several pictures should become is asked. A recipe,
   * with the pictures it names, is applied to the open project, and so is a colour table.
   */
  async openDropped(files: readonly File[]): Promise<void> {
    const [first] = files;
    if (!first) return;
    if (files.length === 1 && (await zipHolds(first, BUNDLE_INDEX))) await this.openBundle(first);
    else if (await isRecipe(files)) await this.scope.get(RecipeImport).open(files);
    else if (isTableFile(first.name)) await this.bringLook(first);
    else if (files.length === 1) await this.openFile(first);
    else await this.openSeveral(inNaturalOrder(files));
  }

  /** A project that was saved as a file comes back with all that it had. */
  private async openBundle(file: File): Promise<void> {
    let id: string | null = null;
    await this.inTurn(file.name, ON_REQUEST, async (isNewest) => {
      const tooMuch = projectWords.unpacksToMoreThanGb(file.name, MAX_BUNDLE_BYTES / 1e9);
      const files = await unzipFile(file, { mostBytes: MAX_BUNDLE_BYTES, tooMuch });
      if (!isNewest()) return;
      id = await this.bundles.add(files).catch((error: Error) => {
        throw new Error(
          isStorageFull(error)
            ? projectWords.cantBeAddedBrowserStorage(file.name)
            : projectWords.cantBeOpened(file.name, sentenceOf(error)),
          { cause: error },
        );
      });
    });
    if (id !== null) await this.openProject(id);
  }

  /** Stops what is being opened; what is open stays. */
  cancelOpening(): void {
    this.turn++;
    this.opening.set(null);
  }

  private async openSeveral(files: readonly File[]): Promise<void> {
    const names = files.map(({ name }) => name);
    const advice = adviseOpening(names, await readFacts(files));
    const as = await new Promise<OpenAs | null>((answer) => this.asking.set({ names, advice, answer }));
    this.asking.set(null);
    if (as === 'clip') await this.openNumbered(files);
    else if (as === 'projects') await this.openEach(files);
    else if (as === 'batch') {
      const noRoom = projectWords.addFewerPictures;
      await withErrorNotice(this.notices, noRoom, () => this.batch.add(files));
      this.batchWanted.set(true);
    }
  }

  /** Opens the first file, and puts the others on the shelf beside the work. */
  private async openEach([first, ...others]: readonly File[]): Promise<void> {
    await this.openFile(first!);
    const added: string[] = [];
    for (const [i, file] of others.entries()) {
      this.notices.info(projectWords.addingToTheShelfOf(file.name, i + 1, others.length), ABOUT_ADDING);
      try {
        const { name } = await this.addToShelf(file);
        added.push(`“${name}”`);
      } catch (error) {
        this.notices.error(sentenceOf(error));
      }
    }
    this.notices.clear(ABOUT_ADDING);
    if (added.length > 0)
      this.notices.info(projectWords.addedToTheShelf(counted(added.length, 'project'), added.join(', ')));
  }

  /** Makes a project of a file without opening it. @throws Error with a sentence. */
  private async addToShelf(file: FileWithHandle): Promise<StoredProject> {
    const { material, about } = await this.loader.load(file, file.name);
    const letGo = material.hold();
    try {
      const source = await this.sourceOf(file, material, about);
      const first = await material.frame(0);
      const work = await this.newStart.workFor(first);
      const project = await this.projects.create(nameOf(file), source, file, work);
      // Nobody looks at it: the next picture gets its memory.
      if (!material.footage) first.releaseTo(this.loader.free);
      return project;
    } finally {
      letGo();
    }
  }

  private async sourceOf(file: File, material: MediaSource, about: ImageInfo): Promise<SourceInfo> {
    const footage = footageInfo(material);
    const { width, height } = material;
    return {
      id: crypto.randomUUID(),
      fileName: file.name,
      bytes: file.size,
      width,
      height,
      date: await takenAt(file),
      ...about,
      ...(footage && { footage }),
    };
  }

  private async bringLook(file: File): Promise<void> {
    await this.scope
      .get(LookShelf)
      .bringIn(file)
      .catch((error: Error) => this.notices.error(sentenceOf(error)));
  }

  /** Numbered pictures become footage; they are kept together in one file. */
  private async openNumbered(files: readonly File[]): Promise<void> {
    const [first] = files;
    const name = first!.name.replace(/\.[^.]+$/, '').replace(/[\s_.-]*\d+$/, '') || projectWords.frames;
    const bytes = files.reduce((sum, { size }) => sum + size, 0);
    if (bytes > MAX_NUMBERED_BYTES)
      return this.notices.error(
        projectWords.isMbOfPicturesMore(name, Math.round(bytes / 1e6), MAX_NUMBERED_BYTES / 1e6),
      );
    await this.openFile(
      new File([await zipOf(files.map((file) => ({ name: file.name, file })))], `${name}.zip`),
      name,
    );
  }

  /** @returns the id of the new project; null where it is not open, or not kept. */
  async openFile(
    file: FileWithHandle,
    name = nameOf(file),
    given?: ProjectDocument,
    when: OpenedWhen = ON_REQUEST,
  ): Promise<string | null> {
    let id: string | null = null;
    await this.inTurn(file.name, when, async (isNewest) => {
      const load = (from: Blob): Promise<Loaded> =>
        this.loader.load(from, file.name, undefined, this.listener(isNewest));
      const { material: came, about, isReadOn } = await load(file);
      const letGo = [came.hold()];
      try {
        if (!isNewest()) return;
        let material = came;
        const source = await this.sourceOf(file, material, about);
        const work = given ?? (await this.newStart.workFor(await material.frame(0)));
        if (!isNewest()) return;
        const create = (now: ProjectDocument): Promise<string> => this.create(name, source, file, now);
        const projectId = await this.keep(() => create(work), file.name);
        // A clip is read for as long as it is open: the kept one stays where it is, the person's own may be moved or replaced.
        const kept = projectId && isReadOn ? await this.projects.picture(source) : null;
        if (kept) {
          material = (await load(kept)).material;
          letGo.push(material.hold());
        }
        if (!isNewest()) return;
        const project = { projectId, name, source, work, history: EMPTY_HISTORY };
        await this.show(project, material, isNewest, create);
        id = projectId;
        void this.scope.get(OwnDepth).offer();
        for (const note of material.footage?.notes ?? []) this.notices.info(`“${file.name}”: ${note}`);
      } finally {
        for (const one of letGo) one();
      }
    });
    return id;
  }

  /** Puts a new project on the shelf and gives its id; null, and said, where that fails. */
  private async keep(create: () => Promise<string>, fileName: string): Promise<string | null> {
    try {
      return await create();
    } catch (error) {
      this.notices.error(
        isStorageFull(error)
          ? projectWords.cantBeSavedBrowserStorage(fileName)
          : projectWords.couldntBeKept(fileName, reasonOf(error)),
        ABOUT_KEEPING,
      );
      return null;
    }
  }

  /** Stores a new project, with its source or the place of that, and gives its id. */
  private async create(
    name: string,
    source: SourceInfo,
    file: FileWithHandle,
    work: ProjectDocument,
  ): Promise<string> {
    const { handle } = file;
    if (handle && file.size > MAX_KEPT_BYTES) return this.keepPlace(name, source, handle, work);
    try {
      return (await this.projects.create(name, source, file, work)).id;
    } catch (error) {
      const place = handle && isStorageFull(error) ? this.keepPlace(name, source, handle, work) : null;
      const id = await place?.catch(() => null);
      if (id) return id;
      throw error;
    }
  }

  /** Keeps where a source lies in place of the source. */
  private async keepPlace(
    name: string,
    source: SourceInfo,
    handle: FileSystemFileHandle,
    work: ProjectDocument,
  ): Promise<string> {
    const { id } = await this.projects.create(name, source, handle, work);
    this.notices.info(
      `“${source.fileName}” is too large to store here, so the project uses the file on disk. Leave the file in place; you’ll be asked for access on reopening.`,
    );
    return id;
  }

  /** @returns false where there is no such project. */
  async openProject(id: string, when: OpenedWhen = ON_REQUEST): Promise<boolean> {
    const stored = await this.projects.get(id);
    if (!stored) return false;
    await this.inTurn(stored.name, when, async (isNewest) => {
      // What the open project still has to write comes first: it may be the same one.
      await this.scope.get(Autosave).save();
      try {
        const found = await this.projects.open(id, { recipe: startingRecipe() });
        const place = await this.placeToAskFor(stored);
        if (place) return this.askFor(place, stored);
        const file = await this.projects.picture(stored.source);
        if (!found || !file) throw new Error(projectWords.itsPictureIsNoLonger);
        const { fileName, footage } = stored.source;
        const { material } = await this.loader.load(file, fileName, footage?.fps, this.listener(isNewest));
        const letGo = material.hold();
        const isShown = await this.show(found.project, material, isNewest).finally(letGo);
        if (!isShown) return;
        const notices = this.scope.get(ProjectNotices);
        if (found.isLost)
          notices.error(
            `Edits to “${stored.name}” are damaged. The picture is open with a default band; the damaged data is kept.`,
            ABOUT_PROJECT,
          );
        else if (found.stepsBack > 0)
          notices.error(
            `The last ${found.stepsBack === 1 ? 'edit' : projectWords.edits(found.stepsBack)} to “${stored.name}” can’t be read. The project opened without them; nothing else is lost.`,
            ABOUT_PROJECT,
          );
        void this.scope.get(MatteCutter).finishDrafts();
      } catch (error) {
        throw new Error(projectWords.couldntBeOpened(stored.name, reasonOf(error)), {
          cause: error,
        });
      }
    });
    return true;
  }

  /** Where a project's source lies outside of this browser, and may not be read without asking; else null. */
  private async placeToAskFor({ source }: StoredProject): Promise<FileSystemFileHandle | null> {
    const place = await this.projects.placeOf(source);
    return place && !(await canRead(place)) ? place : null;
  }

  /** Whether a source outside of this browser may be read can only be asked after a click. */
  private askFor(place: FileSystemFileHandle, { id, name }: StoredProject): void {
    const ask = async (): Promise<void> => {
      await requestRead(place);
      await this.openProject(id);
    };
    this.notices.show({
      kind: 'info',
      topic: ABOUT_PLACE,
      text: projectWords.usesOnDiskAllowAccess(name, place.name),
      action: { label: projectWords.allowAccess, run: () => void ask() },
    });
  }

  /** Opens something with its name shown; what is asked for later takes its place. Errors are told. */
  private async inTurn(
    name: string,
    { isRequested }: OpenedWhen,
    open: (isNewest: () => boolean) => Promise<void>,
  ): Promise<void> {
    if (this.isAsked && !isRequested) return;
    this.isAsked ||= isRequested;
    const turn = ++this.turn;
    const isNewest = (): boolean => turn === this.turn;
    this.notices.clear(ABOUT_REPLACING);
    this.opening.set({ name, done: null, preview: null });
    try {
      await open(isNewest);
    } catch (error) {
      if (isNewest()) this.notices.error(sentenceOf(error));
    } finally {
      if (isNewest()) this.opening.set(null);
    }
  }

  /** Shows how far a picture is decoded, and the preview in a raw file until that is developed. */
  private listener(isNewest: () => boolean): CodecListener {
    const tell = (news: Partial<Opening>): void => {
      if (isNewest()) this.opening.update((now) => now && { ...now, ...news });
    };
    return { onProgress: (done) => tell({ done }), onPreview: (preview) => tell({ preview }) };
  }

  /**
   * Shows what was opened, unless something else was asked for meanwhile; where the open project has changes that cannot
   * be saved, only when that is wanted. @param create stores it where it is not stored yet. @returns whether it is open now.
   */
  private async show(
    project: Project,
    material: MediaSource,
    isNewest: () => boolean,
    create?: Create,
  ): Promise<boolean> {
    const first = await material.frame(0);
    const autosave = this.scope.get(Autosave);
    await autosave.save();
    if (!isNewest()) return false;
    if (autosave.isAtRisk()) {
      this.askToReplace(project, { material, first }, create);
      return false;
    }
    await this.change(project, { material, first }, create);
    return true;
  }

  /** What is to be opened is held until that is answered, or the question is put away. */
  private askToReplace(project: Project, opened: OpenMaterial, create?: Create): void {
    const { name } = this.scope.get(OpenProject).state();
    const letGo = opened.material.hold();
    const open = async (): Promise<void> => {
      const changed = this.change(project, opened, create);
      this.notices.clear(ABOUT_REPLACING);
      await changed;
    };
    this.notices.show({
      kind: 'error',
      topic: ABOUT_REPLACING,
      text: projectWords.hasUnsavedChangesOpeningDiscardsThem(name, project.name),
      action: { label: projectWords.discardAndOpen, run: () => void open() },
      gone: letGo,
    });
  }

  private async change(project: Project, opened: OpenMaterial, create?: Create): Promise<void> {
    this.notices.clear(ABOUT_PLACE);
    this.scope.open(project, opened);
    if (create && project.projectId === null)
      this.scope.get(LateKeeping).begin(create, async (id) => {
        this.notices.clear(ABOUT_KEEPING);
        await this.isOpenAs(id);
      });
    await this.isOpenAs(project.projectId);
  }

  /** A project is open that other tabs may know. @param id null where it is not stored. */
  private async isOpenAs(id: string | null): Promise<void> {
    if (id) this.rememberProject(id);
    await this.scope.get(OtherTabs).join(
      () => this.continueAsCopy(id),
      () => this.openProject(id!),
    );
  }

  /** The project of an id, with what was changed in this tab since, as one of its own. */
  private async continueAsCopy(projectId: string | null): Promise<void> {
    const project = this.scope.get(OpenProject).state();
    const engine = this.scope.get(StageRenderLoop);
    const [material, first] = [engine.material(), engine.guide()];
    if (project.projectId !== projectId || !material || !first) return;
    const letGo = material.hold();
    try {
      const copy = await this.projects.saveAsCopy(project);
      if (this.scope.get(OpenProject).state() === project) await this.change(copy, { material, first });
    } catch (error) {
      this.notices.error(projectWords.theCopyCouldntBeKept(reasonOf(error)));
    } finally {
      letGo();
    }
  }
}

/** What a project of a file is called. */
function nameOf({ name }: File): string {
  return name.replace(/\.[^.]+$/, '') || projectWords.picture;
}

/** A file of the demo. @throws Error where it cannot be reached. */
async function demoFile(name: string): Promise<File> {
  const response = await fetch(`demo/${name}`);
  if (!response.ok) throw new Error(`${name}: ${response.status}`);
  const blob = await response.blob();
  return new File([blob], name, { type: blob.type });
}
