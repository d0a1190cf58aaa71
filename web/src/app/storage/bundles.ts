import { Injectable } from '@angular/core';
import * as z from 'zod';
import { assetNames } from './asset-names';
import { Database, type StoredStep } from './database';
import { canRead, readHandle } from './file-handles';
import { type StoredProject, readProject } from './rows';

const FORMAT = 'hazy-lens-project';
/** The file in a bundle that says what the others are. */
export const BUNDLE_INDEX = 'hazy-lens-project.json';
const SOURCE_FOLDER = 'source/';
const ASSET_FOLDER = 'files/';
/** What a bundle may unpack to; a zip of this kind goes no further than 4 GB. */
export const MAX_BUNDLE_BYTES = 3_900_000_000;
const ASSET_NAME = /^[\w][\w.-]{0,199}$/;
const MAX_STEPS = 1000;

const operations = z.array(z.looseObject({ op: z.string(), path: z.string() }));
const bundle = z.object({
  format: z.literal(FORMAT),
  version: z.literal(1),
  project: z.unknown(),
  steps: z
    .array(z.object({ seq: z.int(), label: z.string().max(400), undo: operations, redo: operations }))
    .max(MAX_STEPS),
});

/** A file of a zip. */
interface NamedFile {
  name: string;
  file: Blob;
}

/** Projects as files: each with its source, its recipe and variants, its history, and the pictures that these name. */
@Injectable({ providedIn: 'root' })
export class ProjectBundles {
  private readonly database = new Database();

  /** The files of a project's bundle. @throws Error with a sentence where its source is not there. */
  async files(id: string): Promise<NamedFile[]> {
    const { projects, steps, pictures, assets } = this.database;
    const project = readProject(await projects.get(id));
    if (!project) throw new Error('The project is damaged. Save its rest from the shelf.');
    const picture = await pictures.get(project.source.id);
    const place = picture?.handle && (await canRead(picture.handle)) ? picture.handle : null;
    const source = picture?.file ?? (place && (await readHandle(place)));
    if (!source)
      throw new Error(`The file of “${project.name}” is on disk. Open the project and allow access first.`);
    const own = (await steps.where('project').equals(id).toArray()) as StoredStep[];
    const history = own.map(({ seq, label, undo, redo }) => ({ seq, label, undo, redo }));
    const named = new Set([...assetNames(project.work), ...history.flatMap((step) => assetNames(step))]);
    const found = (await assets.bulkGet([...named])).filter((asset) => asset !== undefined);
    const row = { ...project, thumbnail: null, deleted: undefined };
    const text = JSON.stringify({ format: FORMAT, version: 1, project: row, steps: history });
    const all = [
      { name: BUNDLE_INDEX, file: new Blob([text], { type: 'application/json' }) },
      { name: SOURCE_FOLDER + project.source.fileName.replaceAll(/[/\\]/g, '_'), file: source },
      ...found.map(({ name, file }) => ({ name: ASSET_FOLDER + name, file })),
    ];
    if (all.reduce((sum, { file }) => sum + file.size, 0) > MAX_BUNDLE_BYTES)
      throw new Error(`“${project.name}” is larger than a bundle can be (${MAX_BUNDLE_BYTES / 1e9} GB).`);
    return all;
  }

  /**
   * Puts a project from the files of a bundle on the shelf, as one of its own. @returns its id. @throws Error with a
   * sentence where they are none.
   */
  async add(files: ReadonlyMap<string, Blob>): Promise<string> {
    const index = files.get(BUNDLE_INDEX);
    const read = index && bundle.safeParse(parsed(await index.text()));
    if (!read?.success) throw new Error('The bundle is damaged, or of a newer version. Save it once more.');
    const original = readProject(read.data.project);
    const source = [...files].find(([name]) => name.startsWith(SOURCE_FOLDER))?.[1];
    if (!original || !source) throw new Error('The bundle is incomplete. Save it once more.');
    const [id, now] = [crypto.randomUUID(), Date.now()];
    const project: StoredProject = {
      ...original,
      id,
      source: { ...original.source, id: crypto.randomUUID(), bytes: source.size },
      created: now,
      changed: now,
      thumbnail: null,
      opened: undefined,
    };
    delete project.deleted;
    const { projects, steps, pictures, assets } = this.database;
    await this.database.transaction('rw', [projects, steps, pictures, assets], async () => {
      for (const [path, file] of files) {
        const name = path.startsWith(ASSET_FOLDER) ? path.slice(ASSET_FOLDER.length) : '';
        // One of the same name is the same.
        if (ASSET_NAME.test(name) && !(await assets.get(name))) await assets.put({ name, file });
      }
      await pictures.put({ id: project.source.id, file: source });
      await projects.put(project);
      await steps.bulkPut(read.data.steps.map((step) => ({ ...step, project: id }) as StoredStep));
    });
    return id;
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
