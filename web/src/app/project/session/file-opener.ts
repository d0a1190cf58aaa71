import { Injectable, inject, signal } from '@angular/core';
import { inNaturalOrder } from '@hazy-lens/core';
import { unzipFile } from '../../engine/codecs/codec';
import { isTableFile } from '../../engine/lut-cache';
import { zipHolds } from '../../engine/zip-names';
import { zipOf } from '../../engine/zip-of';
import { isStorageFull, sentenceOf } from '../../model/causes';
import { counted } from '../../model/counted';
import { type OpenAs, type OpeningAdvice, adviseOpening } from '../../model/opening';
import { BatchRepository } from '../../storage/batch-repository';
import { BUNDLE_INDEX, MAX_BUNDLE_BYTES, ProjectBundles } from '../../storage/bundles';
import { projectWords } from '../../words/project';
import { readFacts } from '../footage/file-facts';
import { LookShelf } from '../recipes/look-shelf';
import { isRecipe } from '../recipes/recipe-files';
import { RecipeImport } from '../recipes/recipe-import';
import { NewProjects } from './new-projects';
import { Notices } from './notices';
import { ON_REQUEST, Openings } from './openings';
import { ProjectOpener } from './project-opener';
import { withErrorNotice } from './report-errors';
import { ProjectScope } from './scope';

/** Numbered pictures together, as far as a browser keeps them well. */
const MAX_NUMBERED_BYTES = 2_000_000_000;
const ABOUT_ADDING = 'files for the shelf';

/** Several pictures that were brought in, and the question what they should become. */
export interface SeveralFiles {
  names: readonly string[];
  advice: OpeningAdvice;
  answer: (as: OpenAs | null) => void;
}

/** Takes files that a person brings in for what they are. */
@Injectable({ providedIn: 'root' })
export class FileOpener {
  private readonly opener = inject(ProjectOpener);
  private readonly openings = inject(Openings);
  private readonly newProjects = inject(NewProjects);
  private readonly notices = inject(Notices);
  private readonly scope = inject(ProjectScope);
  private readonly batch = inject(BatchRepository);
  private readonly bundles = inject(ProjectBundles);
  /** Several pictures that wait for an answer what they should become, or null. */
  readonly asking = signal<SeveralFiles | null>(null);
  /** True once pictures went to the batch from here, until it is shown. */
  readonly batchWanted = signal(false);

  /**
   * A picture, a clip or a project's bundle becomes a project; what several pictures should become is asked. A recipe,
   * with the pictures it names, is applied to the open project, and so is a colour table.
   */
  async open(files: readonly File[]): Promise<void> {
    const [first] = files;
    if (!first) return;
    if (files.length === 1 && (await zipHolds(first, BUNDLE_INDEX))) await this.openBundle(first);
    else if (await isRecipe(files)) await this.scope.get(RecipeImport).open(files);
    else if (isTableFile(first.name)) await this.bringLook(first);
    else if (files.length === 1) await this.opener.openFile(first);
    else await this.openSeveral(inNaturalOrder(files));
  }

  /** A project that was saved as a file comes back with all that it had. */
  private async openBundle(file: File): Promise<void> {
    let id: string | null = null;
    await this.openings.run(file.name, ON_REQUEST, async ({ isNewest }) => {
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
    if (id !== null) await this.opener.openProject(id);
  }

  private async openSeveral(files: readonly File[]): Promise<void> {
    const names = files.map(({ name }) => name);
    const advice = adviseOpening(names, await readFacts(files));
    const as = await new Promise<OpenAs | null>((resolve) => {
      // Who brings in others meanwhile no longer means those.
      this.asking()?.answer(null);
      const question: SeveralFiles = {
        names,
        advice,
        answer: (as) => {
          // A dialog that fades may answer once more.
          if (this.asking() === question) this.asking.set(null);
          resolve(as);
        },
      };
      this.asking.set(question);
    });
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
    await this.opener.openFile(first!);
    const added: string[] = [];
    for (const [i, file] of others.entries()) {
      this.notices.info(projectWords.addingToTheShelfOf(file.name, i + 1, others.length), ABOUT_ADDING);
      try {
        const { name } = await this.newProjects.addToShelf(file);
        added.push(`“${name}”`);
      } catch (error) {
        this.notices.error(sentenceOf(error));
      }
    }
    this.notices.clear(ABOUT_ADDING);
    if (added.length > 0)
      this.notices.info(projectWords.addedToTheShelf(counted(added.length, 'project'), added.join(', ')));
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
    await this.opener.openFile(
      new File([await zipOf(files.map((file) => ({ name: file.name, file })))], `${name}.zip`),
      name,
    );
  }
}
