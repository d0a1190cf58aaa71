import { mkdir, readFile, symlink, writeFile } from 'node:fs/promises';
import { basename, dirname, extname, join, resolve } from 'node:path';
import {
  readRecipe,
  renameReferences,
  safeName,
  timelineOf,
  usedFiles,
  type Timeline,
} from '@hazy-lens/core';
import { probeClip } from '../footage/clip-probe';
import type { SoundOf } from '../footage/clip-writer';
import { type FootageJob, soundOf } from '../footage/job';
import { PictureFrames } from '../footage/picture-frames';
import { picturesIn } from '../render/inputs';
import { AS_SOURCE, readInputFile } from '../render/picture';
import { MANIFEST, type Manifest, type Stored, read } from './messages';
import type { Heard, Store } from './store';

/** Pictures that are stored side by side. */
const TOGETHER = 8;

/** Puts all that a job is made of into the store. @param onFile hears how many of its files are there. */
export async function storeJob(
  store: Store,
  { recipe, recipePath, input, fps, output, metadata }: FootageJob,
  onFile: (done: number, of: number) => void = () => undefined,
): Promise<string> {
  const companions: Stored[] = [];
  const names = new Map<string, string>();
  for (const file of new Set(usedFiles(recipe))) {
    const path = join(dirname(recipePath), file);
    const name = `${companions.length}${extname(file)}`;
    // What cannot be read is told by name here, and not by some machine later on.
    await readInputFile(path);
    companions.push({ name, hash: await store.putFile(path) });
    names.set(file, name);
  }
  const manifest: Manifest = {
    recipe: JSON.stringify(renameReferences(recipe, names)),
    companions,
    input:
      typeof input === 'string'
        ? { clip: { name: safeName(basename(input)), hash: await store.putFile(input) } }
        : { pictures: await storePictures(store, input.pictures, onFile) },
    fps,
    output: 'clip' in output ? { clip: extname(output.clip).toLowerCase() as '.mp4' } : { ending: null },
    metadata,
  };
  return store.putBytes(Buffer.from(JSON.stringify(manifest)));
}

async function storePictures(
  store: Store,
  pictures: readonly { name: string; bytes(): Promise<Buffer> }[],
  onFile: (done: number, of: number) => void,
): Promise<Stored[]> {
  const stored = new Array<Stored>(pictures.length);
  let next = 0;
  let done = 0;
  const one = async (): Promise<void> => {
    for (let i = next++; i < pictures.length; i = next++) {
      const { name, bytes } = pictures[i]!;
      stored[i] = { name: safeName(basename(name)), hash: await store.putBytes(await bytes()) };
      onFile(++done, pictures.length);
    }
  };
  await Promise.all(Array.from({ length: TOGETHER }, one));
  return stored;
}

/** @throws InputError where it is missing, damaged or none. */
export async function readManifest(store: Store, hash: string): Promise<Manifest> {
  return read(MANIFEST, await readFile(await store.path(hash)), 'The job’s list of files');
}

/** Lays a job's files out in a folder, as rendering wants them. */
export async function jobFrom(
  store: Store,
  manifest: Manifest,
  folder: string,
  heard?: Heard,
): Promise<FootageJob> {
  await mkdir(folder, { recursive: true });
  const recipePath = join(folder, 'recipe.json');
  await writeFile(recipePath, manifest.recipe);
  for (const { name, hash } of manifest.companions)
    await linkTo(await store.path(hash, heard), join(folder, name));
  const { input, output, fps, metadata } = manifest;
  return {
    recipe: readRecipe(manifest.recipe),
    recipePath,
    input: await inputFrom(store, input, folder, heard),
    fps,
    output: 'clip' in output ? { clip: `result${output.clip}` } : output,
    metadata,
    encoding: AS_SOURCE,
  };
}

async function inputFrom(
  store: Store,
  input: Manifest['input'],
  folder: string,
  heard?: Heard,
): Promise<FootageJob['input']> {
  if ('clip' in input) return store.path(input.clip.hash, heard);
  if ('archive' in input) {
    const path = join(folder, 'frames.zip');
    await linkTo(await store.path(input.archive.hash, heard), path);
    return (await picturesIn(path))!;
  }
  const pictures = input.pictures.map(({ name, hash }) => ({
    name,
    bytes: async () => readFile(await store.path(hash)),
  }));
  return { leftOut: [], pictures };
}

async function linkTo(path: string, link: string): Promise<void> {
  await symlink(resolve(path), link).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EEXIST') throw error;
  });
}

/** What a job comes to, told without rendering a frame. @throws InputError where its source cannot be read. */
export async function surveyJob(
  job: Pick<FootageJob, 'recipe' | 'input' | 'fps'>,
): Promise<{ timeline: Timeline; sound: SoundOf | null }> {
  const { recipe, input, fps } = job;
  if (typeof input !== 'string') {
    const source = await PictureFrames.open(input.pictures, fps);
    return { timeline: timelineOf(recipe.pace, source.times), sound: null };
  }
  const facts = await probeClip(input);
  const timeline = timelineOf(recipe.pace, facts.times);
  return { timeline, sound: soundOf(job, facts, timeline) };
}
