import { Injectable, inject } from '@angular/core';
import type { FileWithHandle } from 'browser-fs-access';
import type { ImageInfo } from '../../engine/codecs/messages';
import { MediaLoader } from '../../engine/load';
import type { MediaSource } from '../../engine/media-source';
import { isStorageFull, reasonOf } from '../../model/causes';
import type { ProjectDocument, SourceInfo } from '../../model/project';
import { Projects } from '../../storage/projects';
import type { StoredProject } from '../../storage/rows';
import { projectWords } from '../../words/project';
import { footageInfo } from '../footage/footage-file';
import { takenAt } from '../footage/taken-at';
import { NewStart } from './new-start';
import { Notices } from './notices';

/** A larger one is not copied where its place can be remembered. */
const MAX_KEPT_BYTES = 1_500_000_000;
export const ABOUT_KEEPING = 'what is kept';

/** Makes projects of files. */
@Injectable({ providedIn: 'root' })
export class NewProjects {
  private readonly loader = inject(MediaLoader);
  private readonly projects = inject(Projects);
  private readonly notices = inject(Notices);
  private readonly newStart = inject(NewStart);

  /** Makes a project of a file without opening it. @throws Error with a sentence. */
  async addToShelf(file: FileWithHandle): Promise<StoredProject> {
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

  /** What is known of a file that was decoded. */
  async sourceOf(file: File, material: MediaSource, about: ImageInfo): Promise<SourceInfo> {
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

  /** Puts a new project on the shelf and gives its id; null, and said, where that fails. */
  async keep(create: () => Promise<string>, fileName: string): Promise<string | null> {
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
  async create(
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
    this.notices.info(projectWords.isTooLargeToStore(source.fileName));
    return id;
  }
}

/** What a project of a file is called. */
export function nameOf({ name }: File): string {
  return name.replace(/\.[^.]+$/, '') || projectWords.picture;
}
