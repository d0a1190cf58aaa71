import {
  DOCUMENT,
  type EnvironmentInjector,
  type Provider,
  createEnvironmentInjector,
  signal,
  ɵChangeDetectionScheduler,
  ɵEffectScheduler,
  ɵINJECTOR_SCOPE,
} from '@angular/core';
import { Actions } from '@ngrx/effects';
import { type Action, Store } from '@ngrx/store';
import { Subject } from 'rxjs';
import { RenderPool } from '../src/app/engine/pool';
import { NO_PROJECT, type Project } from '../src/app/model/project';
import { startingRecipe } from '../src/app/model/starting-recipe';
import { projectReducer } from '../src/app/project/session/project.reducer';
import { PROJECT_SERVICES } from '../src/app/project/session/scope';
import { PROJECT_ROOM } from '../src/app/project/session/services';
import { WORKSPACE_ROOM } from '../src/app/workspace/services';

export const size = { width: 900, height: 200 };

/** A project with a picture of `size` and one band. */
export const openOne: Project = {
  ...NO_PROJECT,
  projectId: 'p',
  name: 'Kites',
  source: { id: 's', fileName: 'a.png', type: 'png', bytes: 1, ...size, date: null },
  work: { recipe: startingRecipe() },
};

/** A page that is nothing but a target for events. */
export class FakePage extends EventTarget {
  readonly defaultView = new EventTarget();
  readonly documentElement = { dataset: {} };
  querySelector = (_selector: string): object | null => null;
}

interface Runnable {
  dirty?: boolean;
  run(): void;
}

/**
 * The application's services without a page, those of one project among them: a store that is nothing but the reducer, and
 * effects that run when they are told to.
 */
export function services(project: Project, ...more: Provider[]) {
  const own = [
    { provide: RenderPool, useValue: { module: Promise.resolve(null), runners: [] } },
    ...PROJECT_ROOM,
    ...WORKSPACE_ROOM,
    ...more,
  ];
  const state = signal(project);
  const actions: { type: string }[] = [];
  const dispatched = new Subject<Action>();
  let isEnded = false;
  const store = {
    selectSignal: () => state.asReadonly(),
    dispatch: (action: Action) => {
      // As the real one does: an error in the reducer ends it, and nothing that is dispatched later does anything.
      if (isEnded) return;
      actions.push(action);
      try {
        state.set(projectReducer(state(), action));
      } catch (error) {
        isEnded = true;
        throw error;
      }
      dispatched.next(action);
    },
  };
  const effects = new Set<Runnable>();
  const scheduler = {
    add: (one: Runnable) => void effects.add(one),
    schedule: (one: Runnable) => void effects.add(one),
    remove: (one: Runnable) => void effects.delete(one),
    flush: () => undefined,
  };
  const page = new FakePage();
  const nothing = { get: (_: unknown, other: unknown) => other ?? null } as unknown as EnvironmentInjector;
  const injector = createEnvironmentInjector(
    [
      { provide: ɵINJECTOR_SCOPE, useValue: 'root' },
      { provide: ɵChangeDetectionScheduler, useValue: { notify: () => undefined } },
      { provide: ɵEffectScheduler, useValue: scheduler },
      { provide: DOCUMENT, useValue: page },
      { provide: Store, useValue: store },
      { provide: Actions, useValue: new Actions(dispatched) },
      { provide: PROJECT_SERVICES, useValue: own },
      ...own,
    ],
    nothing,
  );
  return {
    injector,
    page,
    state,
    actions,
    runEffects: () => [...effects].forEach((one) => one.dirty !== false && one.run()),
  };
}

/** What a browser keeps of itself, for services that ask for it. */
export function fakeStorage(): Storage {
  const items = new Map<string, string>();
  return {
    get length() {
      return items.size;
    },
    key: (i) => [...items.keys()][i] ?? null,
    clear: () => items.clear(),
    getItem: (key) => items.get(key) ?? null,
    setItem: (key, value) => void items.set(key, value),
    removeItem: (key) => void items.delete(key),
  };
}

/** The browser's locks, of this window and of others. */
export class FakeLocks {
  private readonly queues = new Map<string, Promise<unknown>>();
  private readonly heldNames = new Set<string>();

  query = async () => ({ held: [...this.heldNames].map((name) => ({ name })) });

  request = async (
    name: string,
    ...more: [LockOptions, (lock: object | null) => unknown] | [(lock: object | null) => unknown]
  ): Promise<unknown> => {
    const work = more.at(-1) as (lock: object | null) => unknown;
    const { ifAvailable = false } = more.length === 2 ? (more[0] as LockOptions) : {};
    if (this.heldNames.has(name) && ifAvailable) return work(null);
    const before = this.queues.get(name) ?? Promise.resolve();
    const done = before
      .catch(() => undefined)
      .then(async () => {
        this.heldNames.add(name);
        try {
          return await work({ name });
        } finally {
          this.heldNames.delete(name);
        }
      });
    if (ifAvailable) this.heldNames.add(name);
    this.queues.set(
      name,
      done.catch(() => undefined),
    );
    return done;
  };

  /** Another window has a lock until what this gives is called. */
  holdElsewhere(name: string): () => void {
    let close = (): void => undefined;
    this.heldNames.add(name);
    void this.request(name, () => new Promise<void>((resolve) => (close = resolve)));
    return () => queueMicrotask(() => close());
  }
}

/** What is seen first of something that is watched. */
export function firstOf<T>(watched: {
  subscribe(hears: (value: T) => void): { unsubscribe(): void };
}): Promise<T> {
  return new Promise((resolve) => {
    const seen = watched.subscribe((value) => {
      resolve(value);
      queueMicrotask(() => seen.unsubscribe());
    });
  });
}
