import { Injectable, inject } from '@angular/core';
import { Projects } from '../storage/projects';

/** The files that recipes name, kept in this browser; those that it has no room for, in this window. */
@Injectable({ providedIn: 'root' })
export class Assets {
  private readonly projects = inject(Projects);
  /** Those that could not be stored. */
  private readonly files = new Map<string, Blob>();

  /** The file of a name. @throws Error with a sentence where it is not in this browser. */
  async file(name: string): Promise<Blob> {
    const file = this.files.get(name) ?? (await this.projects.asset(name));
    if (file) return file;
    throw new Error(
      `The file “${name}” that the recipe names is not in this browser. Please bring it in again.`,
    );
  }

  async has(name: string): Promise<boolean> {
    return this.files.has(name) || (await this.projects.asset(name)) !== null;
  }

  /** Keeps a file under a name: to be done before a recipe names it. @param isDraft a finer one of the same name will follow. */
  async put(name: string, file: Blob, isDraft = false): Promise<void> {
    try {
      await this.projects.saveAsset(name, file, isDraft);
      this.files.delete(name);
    } catch {
      // The autosave tells where there is no room; the file stays usable in this window.
      this.files.set(name, file);
    }
  }
}
