import Dexie, {
  type DBCore,
  type DBCoreMutateRequest,
  type EntityTable,
  type PromiseExtended,
  type Table,
  type Transaction,
} from 'dexie';
import type { Operation } from 'fast-json-patch';
import type { HistoryEntry } from '../model/history';
import type { StoredBatch, StoredBatchPicture } from './batch-repository';
import type { FilmPart, StoredFilm } from './clip-repository';
import type { StoredLook } from './own-looks';
import type { StoredPreset } from './presets';
import type { StoredRecipe } from './recipes';
import { diskRoom, fileBytes } from './disk-room';
import type { StoredProject } from './rows';

/** One step of a project's history: each is written once; older rows are not rewritten. */
export interface StoredStep extends Pick<HistoryEntry, 'seq' | 'label' | 'undo' | 'redo'> {
  project: string;
}

/**
 * A source picture as it came, byte for byte; several projects may share one. One that is too large to be kept is known by
 * its place on the person's disk.
 */
export interface StoredPicture {
  id: string;
  file?: Blob;
  handle?: FileSystemFileHandle;
}

/** A file that recipes name: a depth map or a matte as PNG, a table of colours. Projects may share it. */
export interface StoredAsset {
  name: string;
  file: Blob;
  /** True while a finer one of the same name is still to come. */
  draft?: boolean;
  /** When it was first seen that nobody names it. */
  unnamedSince?: number;
}

/** What could not be read any more, as it was. */
export interface QuarantinedProject {
  id: string;
  found: number;
  project: unknown;
  steps: unknown[];
}

/** A part of a film, in its place. */
export interface StoredFilmPart extends FilmPart {
  film: string;
  index: number;
}

export class Database extends Dexie {
  readonly projects!: EntityTable<StoredProject, 'id'>;
  readonly steps!: Table<StoredStep, [string, number]>;
  readonly pictures!: EntityTable<StoredPicture, 'id'>;
  readonly assets!: EntityTable<StoredAsset, 'name'>;
  readonly remains!: EntityTable<QuarantinedProject, 'id'>;
  readonly recipes!: EntityTable<StoredRecipe, 'id'>;
  readonly looks!: EntityTable<StoredLook, 'id'>;
  readonly presets!: EntityTable<StoredPreset, 'id'>;
  readonly batch!: EntityTable<StoredBatch, 'id'>;
  readonly batchPictures!: EntityTable<StoredBatchPicture, 'index'>;
  readonly films!: EntityTable<StoredFilm, 'id'>;
  readonly filmParts!: Table<StoredFilmPart, [string, number]>;

  constructor(name = 'hazy-lens') {
    // What is said to be saved is on the disk.
    super(name, { chromeTransactionDurability: 'strict' });
    this.version(1).stores({ projects: 'id, changed', pictures: 'id' });
    this.version(2).stores({ assets: 'name' });
    this.version(3).stores({ steps: '[project+seq], project', remains: 'id' }).upgrade(historyToSteps);
    this.version(4).upgrade(recipeToWork);
    this.version(5).stores({ recipes: 'id', batch: 'id', batchPictures: 'index' });
    this.version(6).stores({ looks: 'id' });
    this.version(7).stores({ films: 'id', filmParts: '[film+index]' });
    this.version(8).stores({ projects: 'id, changed, opened' });
    this.version(9).stores({ presets: 'id' }).upgrade(batchToSettings);
    this.use({ stack: 'dbcore', name: 'room on the disk', create: withRoom });
  }

  /** One that could not be opened, as on a full disk, is tried again by whoever asks next. */
  override open(): PromiseExtended<Dexie> {
    return super.open().catch((error: Error): never => {
      // A browser without databases does not get one.
      if (error.name !== 'MissingAPIError') this.close({ disableAutoOpen: false });
      throw error;
    });
  }
}

/** What adds to the database does so only where the disk has room for it: the transaction fails else, see `DiskRoom`. */
function withRoom(core: DBCore): DBCore {
  const room = diskRoom();
  if (!room) return core;
  const asked = new WeakMap<object, Promise<void>>();
  const isThere = (request: DBCoreMutateRequest): Promise<void> => {
    const isAdding = request.type === 'put' || request.type === 'add';
    const bytes = isAdding ? fileBytes(request.values) : 0;
    // What a transaction writes beside files is little: it is asked for once.
    const known = asked.get(request.trans);
    if (known && bytes === 0) return known;
    const answer = isAdding ? room.check(bytes) : room.release();
    asked.set(request.trans, answer);
    return answer;
  };
  return {
    ...core,
    table: (name) => {
      const table = core.table(name);
      // The transaction stays open meanwhile.
      const mutate: typeof table.mutate = (request) =>
        Dexie.Promise.resolve(Dexie.waitFor(isThere(request))).then(() => table.mutate(request));
      return { ...table, mutate };
    },
  };
}

type Row = Record<string, unknown>;

/** Until version 2 a project held its whole history. */
async function historyToSteps(transaction: Transaction): Promise<void> {
  const steps: StoredStep[] = [];
  await transaction
    .table<Row>('projects')
    .toCollection()
    .modify((project) => {
      const { past, future } = (project['history'] ?? { past: [], future: [] }) as Record<
        'past' | 'future',
        HistoryEntry[]
      >;
      [...past, ...future].forEach(({ label, undo, redo }, seq) =>
        steps.push({ project: project['id'] as string, seq, label, undo, redo }),
      );
      project['done'] = past.length - 1;
      delete project['history'];
    });
  await transaction.table('steps').bulkPut(steps);
}

/** Until version 3 steps back covered the recipe alone, and were patches of it. */
async function recipeToWork(transaction: Transaction): Promise<void> {
  await transaction
    .table<Row>('projects')
    .toCollection()
    .modify((project) => {
      project['work'] = { recipe: project['recipe'] };
      delete project['recipe'];
    });
  const ofWork = (patch: Operation[]): Operation[] =>
    patch.map((one) => ({
      ...one,
      path: `/recipe${one.path}`,
      ...('from' in one && { from: `/recipe${one.from}` }),
    }));
  await transaction
    .table<StoredStep>('steps')
    .toCollection()
    .modify((step) => {
      step.undo = ofWork(step.undo);
      step.redo = ofWork(step.redo);
    });
}

/** Until version 8 a batch had a few settings of its own, and one file a picture. */
async function batchToSettings(transaction: Transaction): Promise<void> {
  await transaction
    .table<Row>('batch')
    .toCollection()
    .modify((batch) => {
      const { type, quality, longEdge, pattern, metadata, parts } = (batch['wish'] ?? {}) as Row;
      const settings: Row = {
        kind: typeof type === 'string' ? type.replace('image/', '') : 'jpeg',
        ...(typeof quality === 'number' && { quality: Math.round(100 * quality) }),
        ...(typeof longEdge === 'number' && { size: { by: 'long-edge', px: Math.round(longEdge) } }),
        pattern,
        metadata,
      };
      batch['wish'] = { settings, presets: [], parts };
    });
  await transaction
    .table<Row>('batchPictures')
    .toCollection()
    .modify((picture) => {
      picture['outs'] = picture['out'] instanceof Blob ? [{ preset: '', file: picture['out'] }] : [];
      delete picture['out'];
    });
}
