import { realpath, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { InputError } from './picture';

/** A path as the disk knows it, whether there is something or not: links are followed, capitals are as they are. */
async function placeOf(path: string): Promise<string> {
  const full = resolve(path);
  const known = await realpath(full).catch(() => null);
  if (known) return known;
  const above = dirname(full);
  return above === full ? full : join(await placeOf(above), basename(full));
}

/** True where two paths lead to the same file or folder, by whatever names. */
export async function isSamePlace(a: string, b: string): Promise<boolean> {
  const [one, other] = await Promise.all([a, b].map((path) => stat(path).catch(() => null)));
  if (one && other) return one.dev === other.dev && one.ino === other.ino;
  return (await placeOf(a)) === (await placeOf(b));
}

/** @throws InputError where something that is written would take the place of something that is read. */
export async function keepInputs(
  reads: Readonly<Record<string, string>>,
  writes: Readonly<Record<string, string | undefined>>,
): Promise<void> {
  for (const [written, to] of Object.entries(writes))
    for (const [read, from] of Object.entries(reads))
      if (to !== undefined && (await isSamePlace(to, from)))
        throw new InputError(
          `${to}: ${written} is where ${read} is read from, and would be overwritten. Choose another place.`,
        );
}
