import { copyFile, link, mkdtemp, rename, rm, symlink } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { clipKind, joinClip, type SoundOf } from '../footage/clip-writer';
import { makeFolder } from '../footage/job';
import { InputError } from '../render/picture';
import type { Farm } from './farm';
import { type Job, type Stored, partsOfJob } from './messages';
import type { Store } from './store';

/** The files of a job's parts, in order. @throws InputError where some are missing. */
export async function resultOf(farm: Farm, job: Job): Promise<Stored[]> {
  const results = await farm.results(job.id);
  return partsOfJob(job).flatMap(({ from, to }) => {
    const result = results.get(from);
    if (!result) throw new InputError(`Frames ${from + 1} to ${to + 1} aren’t there yet.`);
    return result.files;
  });
}

/** Puts the pictures of a finished job into a folder. */
export async function collectPictures(store: Store, files: readonly Stored[], folder: string): Promise<void> {
  await makeFolder(folder);
  for (const { name, hash } of files) {
    const part = join(folder, `${name}.part-${process.pid}`);
    await copyFile(await store.path(hash), part);
    await rename(part, join(folder, name));
  }
}

/** Puts the parts of a finished job together to a clip. */
export async function collectClip(
  store: Store,
  files: readonly Stored[],
  out: string,
  sound: SoundOf | null,
): Promise<void> {
  const kind = clipKind(out);
  const folder = await mkdtemp(join(dirname(resolve(out)), '.hazy-lens-join-'));
  try {
    const parts: string[] = [];
    for (const [i, { hash }] of files.entries()) {
      const part = join(folder, `${i}${kind.part}`);
      const from = resolve(await store.path(hash));
      await link(from, part).catch(() => symlink(from, part));
      parts.push(part);
    }
    await joinClip(out, kind, parts, sound);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
