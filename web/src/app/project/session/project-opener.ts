import { Injectable, inject } from '@angular/core';
import { renameReferences } from '@hazy-lens/core';
import type { FileWithHandle } from 'browser-fs-access';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { LayerImages } from '../../engine/layer-images';
import { type Loaded, MediaLoader } from '../../engine/load';
import type { MediaSource } from '../../engine/media-source';
import { EMPTY_HISTORY } from '../../model/history';
import type { Project, ProjectDocument } from '../../model/project';
import { startingRecipe } from '../../model/starting-recipe';
import { requestRead, canRead } from '../../storage/file-handles';
import { Housekeeping } from '../../storage/housekeeping';
import { Projects } from '../../storage/projects';
import type { StoredProject } from '../../storage/rows';
import { Autosave } from '../saving/autosave';
import { DEMO_PICTURES, type DemoPicture } from './demo';
import { MatteCutter } from '../subjects/matte-cutter';
import { ABOUT_KEEPING, NewProjects, nameOf } from './new-projects';
import { Notices } from './notices';
import { AT_START, ON_REQUEST, type OpenedWhen, Openings } from './openings';
import { ABOUT_PROJECT, OtherTabs } from '../saving/other-tabs';
import { ProjectNotices } from './project-notices';
import { LateKeeping } from '../saving/late-keeping';
import { OpenProject } from './open-project';
import { OwnDepth } from './own-depth';
import { type OpenMaterial, ProjectScope } from './scope';
import { NewStart } from './new-start';
import { reasonOf } from '../../model/causes';
import { remember, remembered } from '../../storage/remembered';
import { projectWords } from '../../words/project';

const ABOUT_PLACE = 'place of a source';
const ABOUT_REPLACING = 'changes that would be lost';
/** The first picture comes first. */
const HOUSEKEEPING_MS = 10_000;
const LAST_KEY = 'hazy-lens-last-project';

/** Stores a new project that is as given, and gives its id. */
type Create = (work: ProjectDocument) => Promise<string>;

/** The project of last time: this tab's own, in a new tab the one that was opened last, wherever that was. */
function lastOf(all: readonly StoredProject[]): StoredProject | undefined {
  const own = remembered(LAST_KEY, 'sessionStorage');
  const newest = (a: StoredProject, b: StoredProject): StoredProject =>
    (b.opened ?? 0) > (a.opened ?? 0) ? b : a;
  return all.find(({ id }) => id === own) ?? (all.length > 0 ? all.reduce(newest) : undefined);
}

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
  private readonly newProjects = inject(NewProjects);
  private readonly openings = inject(Openings);
  /** Opens the project of last time, or the demo on the first start, unless something was asked for meanwhile. */
  async start(): Promise<void> {
    this.openings.begin();
    // Without this the browser may clear projects away when the disk fills up.
    void navigator.storage?.persist?.();
    try {
      const all = await this.projects.list();
      const last = lastOf(all);
      const place = last ? await this.placeToAskFor(last) : null;
      if (last && !place) await this.openProject(last.id, AT_START);
      if (last && place) await this.openMeanwhile(all.filter((other) => other !== last));
      if (!this.isOpen()) await this.openDemo(DEMO_PICTURES[0]!, AT_START);
      if (last && place && !this.openings.isRequested) {
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

  /** @returns the id of the new project; null where it is not open, or not kept. */
  async openFile(
    file: FileWithHandle,
    name = nameOf(file),
    given?: ProjectDocument,
    when: OpenedWhen = ON_REQUEST,
  ): Promise<string | null> {
    let id: string | null = null;
    await this.openings.run(file.name, when, async ({ isNewest, listener }) => {
      const load = (from: Blob): Promise<Loaded> => this.loader.load(from, file.name, undefined, listener);
      this.notices.clear(ABOUT_REPLACING);
      const { material: came, about, isReadOn } = await load(file);
      const letGo = [came.hold()];
      try {
        if (!isNewest()) return;
        let material = came;
        const source = await this.newProjects.sourceOf(file, material, about);
        const work = given ?? (await this.newStart.workFor(await material.frame(0)));
        if (!isNewest()) return;
        const create = (now: ProjectDocument): Promise<string> =>
          this.newProjects.create(name, source, file, now);
        const projectId = await this.newProjects.keep(() => create(work), file.name);
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

  /** @returns false where there is no such project. */
  async openProject(id: string, when: OpenedWhen = ON_REQUEST): Promise<boolean> {
    const stored = await this.projects.get(id);
    if (!stored) return false;
    await this.openings.run(stored.name, when, async ({ isNewest, listener }) => {
      this.notices.clear(ABOUT_REPLACING);
      // What the open project still has to write comes first: it may be the same one.
      await this.scope.get(Autosave).save();
      try {
        const found = await this.projects.open(id, { recipe: startingRecipe() });
        const place = await this.placeToAskFor(stored);
        if (place) return this.askFor(place, stored);
        const file = await this.projects.picture(stored.source);
        if (!found || !file) throw new Error(projectWords.itsPictureIsNoLonger);
        const { fileName, footage } = stored.source;
        const { material } = await this.loader.load(file, fileName, footage?.fps, listener);
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

/** A file of the demo. @throws Error where it cannot be reached. */
async function demoFile(name: string): Promise<File> {
  const response = await fetch(`demo/${name}`);
  if (!response.ok) throw new Error(`${name}: ${response.status}`);
  const blob = await response.blob();
  return new File([blob], name, { type: blob.type });
}
