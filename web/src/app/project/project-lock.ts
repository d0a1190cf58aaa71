import { Injectable, signal } from '@angular/core';
import { locks } from '../model/locks';

const nameOf = (projectId: string): string => `hazy-lens-project-${projectId}`;

/** Lets one tab at a time write to a project; another tab may look, or go on with a copy. */
@Injectable({ providedIn: 'root' })
export class ProjectLock {
  private readonly held = signal<string | null>(null);
  private release: (() => void) | null = null;
  /** Counts what is wanted: a lock that is granted too late goes back at once. */
  private wanted = 0;

  isMine(projectId: string | null): boolean {
    return projectId !== null && this.held() === projectId;
  }

  /** Gives up the project held so far and tries to take another; false where another tab has it, or this one moved on. */
  async take(projectId: string): Promise<boolean> {
    if (this.isMine(projectId)) return true;
    this.drop();
    const turn = this.wanted;
    return new Promise((resolve, reject) => {
      locks()
        .request(nameOf(projectId), { ifAvailable: true }, (lock) => {
          if (!lock || turn !== this.wanted) {
            resolve(false);
            return undefined;
          }
          this.held.set(projectId);
          resolve(true);
          return new Promise<void>((done) => (this.release = done));
        })
        .catch(reject);
    });
  }

  /** True where a tab, this one or another, works on a project. */
  async isTaken(projectId: string): Promise<boolean> {
    const { held } = await locks().query();
    return held?.some(({ name }) => name === nameOf(projectId)) ?? false;
  }

  drop(): void {
    this.wanted++;
    this.release?.();
    this.release = null;
    this.held.set(null);
  }
}
