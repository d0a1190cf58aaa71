import { Injectable, signal } from '@angular/core';
import { type LockWish, locks } from '../../storage/locks';

const nameOf = (projectId: string): string => `hazy-lens-project-${projectId}`;

/** Lets one tab at a time write to a project; another tab may look, or go on with a copy. */
@Injectable({ providedIn: 'root' })
export class ProjectLock {
  private readonly held = signal<string | null>(null);
  /** The project whose lock this tab has, whether it writes to it or not yet. */
  private granted: string | null = null;
  private release: (() => void) | null = null;
  private waiting: AbortController | null = null;
  /** Counts what is wanted: a lock that is granted too late goes back at once. */
  private wanted = 0;

  isMine(projectId: string | null): boolean {
    return projectId !== null && this.held() === projectId;
  }

  /** Gives up the project held so far and tries to take another; false where another tab has it, or this one moved on. */
  async take(projectId: string): Promise<boolean> {
    if (this.granted !== projectId) {
      this.drop();
      await this.request(projectId, { ifAvailable: true });
      if (this.granted !== projectId) return false;
    }
    this.held.set(projectId);
    return true;
  }

  /**
   * Waits until no other tab has the project that was tried last; false where this one moves on before that. From then on no
   * other tab gets it, and `take` makes it this one's.
   */
  wait(projectId: string): Promise<boolean> {
    this.waiting = new AbortController();
    return this.request(projectId, { signal: this.waiting.signal });
  }

  private request(projectId: string, wish: LockWish): Promise<boolean> {
    const turn = this.wanted;
    return new Promise((resolve, reject) => {
      locks()
        .request(nameOf(projectId), wish, (lock) => {
          if (!lock || turn !== this.wanted) {
            resolve(false);
            return undefined;
          }
          this.granted = projectId;
          resolve(true);
          return new Promise<void>((done) => (this.release = done));
        })
        .catch((error: Error) => (error.name === 'AbortError' ? resolve(false) : reject(error)));
    });
  }

  /** True where a tab, this one or another, works on a project. */
  async isTaken(projectId: string): Promise<boolean> {
    const { held } = await locks().query();
    return held?.some(({ name }) => name === nameOf(projectId)) ?? false;
  }

  drop(): void {
    this.wanted++;
    this.waiting?.abort();
    this.waiting = null;
    this.release?.();
    this.release = null;
    this.granted = null;
    this.held.set(null);
  }
}
