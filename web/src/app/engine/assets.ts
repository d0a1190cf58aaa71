import { Injectable, inject } from '@angular/core';
import { Projects } from '../storage/projects';
import { filesWords } from '../words/files';

/** The files that recipes name, kept in this browser; those that it has no room for, in this window. */
@Injectable({ providedIn: 'root' })
export class Assets {
  private readonly projects = inject(Projects);
  /** Those that could not be stored. */
  private readonly files = new Map<string, Blob>();
  /** Those that were read or put in this window: what is stored lies on the disk, whoever holds it. */
  private readonly seen = new Map<string, Blob>();

  /** The file of a name. @throws Error with a sentence where it is not in this browser. */
  async file(name: string): Promise<Blob> {
    const file = this.files.get(name) ?? (await this.projects.asset(name));
    if (file) {
      this.seen.set(name, file);
      return file;
    }
    throw new Error(filesWords.theRecipeNeedsWhichIsnt(name));
  }

  async has(name: string): Promise<boolean> {
    return this.files.has(name) || (await this.projects.asset(name)) !== null;
  }

  /** Keeps a file under a name: to be done before a recipe names it. @param isDraft a finer one of the same name will follow. */
  async put(name: string, file: Blob, isDraft = false): Promise<void> {
    this.seen.set(name, file);
    try {
      await this.projects.saveAsset(name, file, isDraft);
      this.files.delete(name);
    } catch {
      // The autosave tells where there is no room; the file stays usable in this window.
      this.files.set(name, file);
    }
  }

  /** Stores those again that were at hand in this window, and are no longer stored. */
  async putBack(names: readonly string[]): Promise<void> {
    for (const name of names) {
      const file = this.seen.get(name);
      if (file && !(await this.projects.asset(name))) await this.projects.saveAsset(name, file);
    }
  }
}
