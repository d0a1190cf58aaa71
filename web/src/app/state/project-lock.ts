import { Injectable, signal } from '@angular/core';

/** Lets one tab at a time write to a project; another tab may look, or go on with a copy. */
@Injectable({ providedIn: 'root' })
export class ProjectLock {
  private readonly held = signal<string | null>(null);
  private release: (() => void) | null = null;

  isMine(projectId: string | null): boolean {
    return projectId !== null && this.held() === projectId;
  }

  /** Gives up the project held so far and tries to take another. */
  async take(projectId: string): Promise<boolean> {
    if (this.isMine(projectId)) return true;
    this.drop();
    return new Promise((resolve) => {
      void navigator.locks.request(`hazy-lens-project-${projectId}`, { ifAvailable: true }, (lock) => {
        if (!lock) {
          resolve(false);
          return undefined;
        }
        this.held.set(projectId);
        resolve(true);
        return new Promise<void>((done) => (this.release = done));
      });
    });
  }

  drop(): void {
    this.release?.();
    this.release = null;
    this.held.set(null);
  }
}
