import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import { addEntity, removeEntity, updateEntity, withEntities } from '@ngrx/signals/entities';

/** A file that is being made, as people see it. */
export interface Job {
  readonly id: number;
  readonly fileName: string;
  readonly says: string;
  /** 0..1 */
  readonly progress: number;
  readonly remaining: string | null;
  /** Null where it cannot be paused. */
  readonly isPaused: boolean | null;
}

/** The exports that are under way, in the order in which they were asked for. */
export const JobStore = signalStore(
  { providedIn: 'root' },
  withState({ nextId: 1 }),
  withEntities<Job>(),
  withMethods((store) => ({
    /** @returns the new job's id. */
    add(job: Omit<Job, 'id'>): number {
      const id = store.nextId();
      patchState(store, addEntity({ ...job, id }), { nextId: id + 1 });
      return id;
    },
    change: (id: number, changes: Partial<Omit<Job, 'id'>>): void =>
      patchState(store, updateEntity({ id, changes })),
    remove: (id: number): void => patchState(store, removeEntity(id)),
  })),
);
export type JobStore = InstanceType<typeof JobStore>;
