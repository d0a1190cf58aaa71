import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';

/** What this build computes with: machines of one farm have the same, so that their frames do. */
export async function buildId(built: URL): Promise<string> {
  const hash = createHash('sha256');
  for (const name of ['farm.mjs', 'render-thread.mjs', 'kernels.wasm'])
    hash.update(await readFile(new URL(name, built)));
  return hash.digest('hex');
}
