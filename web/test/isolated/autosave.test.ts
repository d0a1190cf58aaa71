import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Project } from '../../src/app/model/project';
import { Autosave } from '../../src/app/project/saving/autosave';
import { Notices } from '../../src/app/project/session/notices';
import { OpenProject } from '../../src/app/project/session/open-project';
import { ProjectLock } from '../../src/app/project/saving/project-lock';
import { Projects } from '../../src/app/storage/projects';
import { openOne, services } from '../services';

/** A storage that writes when it is told to. */
class FakeProjects {
  readonly written: number[] = [];
  readonly waiting: { done: () => void; fail: (reason: unknown) => void }[] = [];

  save(project: Project): Promise<boolean> {
    return new Promise((resolve, reject) => {
      const done = (): void => {
        this.written.push(project.work.recipe.colour.saturation);
        resolve(true);
      };
      this.waiting.push({ done, fail: reject });
    });
  }
}

describe('the autosave', () => {
  let projects: FakeProjects;
  let autosave: Autosave;
  let project: OpenProject;
  let notices: Notices;
  let runEffects: () => void;
  let isMine = true;

  beforeEach(() => {
    vi.useFakeTimers();
    isMine = true;
    vi.stubGlobal('document', new EventTarget());
    vi.stubGlobal('addEventListener', () => undefined);
    vi.stubGlobal('window', globalThis);
    projects = new FakeProjects();
    const here = services(
      openOne,
      { provide: Projects, useValue: projects },
      { provide: ProjectLock, useValue: { isMine: () => isMine } },
    );
    ({ runEffects } = here);
    project = here.injector.get(OpenProject);
    autosave = here.injector.get(Autosave);
    notices = here.injector.get(Notices);
    return () => vi.useRealTimers();
  });

  const saturate = (value: number, gesture: string | null = null): void => {
    project.edit('saturation', (draft) => (draft.colour.saturation = value), gesture);
  };
  const settle = () => vi.advanceTimersByTimeAsync(0);

  it('writes a change at once, and what came meanwhile after it', async () => {
    saturate(0.3);
    expect(autosave.isAtRisk()).toBe(true);
    expect(projects.waiting).toHaveLength(1);
    saturate(0.4);
    saturate(0.5);
    projects.waiting[0]!.done();
    await settle();
    // One write has both.
    expect(projects.waiting).toHaveLength(2);
    expect(autosave.isAtRisk()).toBe(true);
    projects.waiting[1]!.done();
    await settle();
    expect(projects.written).toEqual([0.3, 0.5]);
    expect(autosave.isAtRisk()).toBe(false);
  });

  it('writes a gesture in beats while it goes on, and at once when the hand lifts', async () => {
    project.hand.set(true);
    runEffects();
    for (let i = 1; i <= 20; i++) {
      saturate(i / 100, 'drag');
      await vi.advanceTimersByTimeAsync(20);
    }
    expect(projects.waiting).toHaveLength(1);
    projects.waiting[0]!.done();
    await settle();
    saturate(0.9, 'drag');
    project.hand.set(false);
    runEffects();
    await settle();
    expect(projects.waiting).toHaveLength(2);
    projects.waiting[1]!.done();
    await settle();
    expect(projects.written.at(-1)).toBe(0.9);
  });

  it('says when the storage is full, and takes that back when there is room again', async () => {
    saturate(0.3);
    projects.waiting[0]!.fail(new DOMException('full', 'QuotaExceededError'));
    await settle();
    expect(notices.all().map(({ text }) => text)).toEqual([expect.stringContaining('storage is full')]);
    expect(autosave.isAtRisk()).toBe(true);
    expect(autosave.problem()).toBe('failed');
    saturate(0.4);
    projects.waiting[1]!.done();
    await settle();
    expect(notices.all()).toEqual([]);
    expect(autosave.isAtRisk()).toBe(false);
    expect(autosave.problem()).toBe(null);
  });

  it('tries again by itself what could not be saved, and says so once', async () => {
    const full = new DOMException('full', 'QuotaExceededError');
    saturate(0.3);
    projects.waiting[0]!.fail(full);
    await settle();
    notices.clear('saving');
    for (const nth of [1, 2]) {
      await vi.advanceTimersByTimeAsync(2000);
      expect(projects.waiting).toHaveLength(nth + 1);
      if (nth === 1) projects.waiting[nth]!.fail(full);
      else projects.waiting[nth]!.done();
      await settle();
      expect(notices.all()).toEqual([]);
    }
    expect(projects.written).toEqual([0.3]);
    expect(autosave.problem()).toBe(null);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(projects.waiting).toHaveLength(3);
  });

  it('writes nothing of a project that another tab has', async () => {
    isMine = false;
    saturate(0.3);
    await autosave.save();
    expect(projects.waiting).toEqual([]);
    expect(autosave.problem()).toBe('other tab');
    // What was changed here would be lost with the window; a name that comes from there would not.
    expect(autosave.isAtRisk()).toBe(true);
    project.undo();
    project.redo();
    project.rename('Kites at noon');
  });

  it('has nothing to write after a gesture that was taken back', async () => {
    saturate(0.3);
    projects.waiting[0]!.done();
    await settle();
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.8), 'drag');
    project.abandon('drag');
    expect(project.recipe().colour.saturation).toBe(0.3);
    expect(project.undoLabel()).toBe('saturation');
    expect(project.redoLabel()).toBeNull();
    // Of another gesture nothing is taken back.
    project.abandon('other');
    expect(project.recipe().colour.saturation).toBe(0.3);
  });
});
