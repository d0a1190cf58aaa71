import { createHash, randomUUID, timingSafeEqual } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, mkdtemp, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { InputError } from '../render/picture';
import { HASH } from './messages';

/** Hears that something goes on: files may be large. */
export type Heard = () => void;
const unheard: Heard = () => undefined;

/** Files by the SHA-256 of what is in them. Whatever is read is checked by that. */
export interface Store {
  /** Takes a file in. @returns its hash. @throws InputError where the store is full. */
  putFile(path: string, heard?: Heard): Promise<string>;
  putBytes(bytes: Uint8Array): Promise<string>;
  /** A path at which the file can be read as long as the store is open. @throws InputError where it is missing or damaged. */
  path(hash: string, heard?: Heard): Promise<string>;
  close(): Promise<void>;
}

const hashOf = async (path: string, heard: Heard): Promise<string> => {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) {
    hash.update(chunk as Buffer);
    heard();
  }
  return hash.digest('hex');
};

/** What a hash is, whoever says it. @throws InputError where it is none: no path leaves the store. */
export function checkedHash(hash: string): string {
  if (!HASH.safeParse(hash).success) throw new InputError('What was asked of the store is no file of it.');
  return hash;
}

function storeError(error: unknown, where: string): Error {
  const { code } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC')
    return new InputError(`${where}: the disk is full. Make room; what is finished stays.`);
  if (code === 'EACCES' || code === 'EROFS')
    return new InputError(`${where}: can’t be written to (${code}).`);
  return error as Error;
}

const missing = (hash: string): InputError =>
  new InputError(`The store has no file ${hash.slice(0, 12)}. It was removed; send the job again.`);
const damaged = (hash: string): InputError =>
  new InputError(`File ${hash.slice(0, 12)} of the store is damaged. It was removed; send the job again.`);

/** A folder that all machines see. */
export class FolderStore implements Store {
  /** What was found to be whole: large files are read once for it. */
  private readonly whole = new Map<string, number>();

  constructor(readonly folder: string) {}

  private placeOf(hash: string): string {
    checkedHash(hash);
    return join(this.folder, 'files', hash.slice(0, 2), hash);
  }

  async has(hash: string): Promise<boolean> {
    return stat(this.placeOf(hash)).then(
      (about) => about.isFile(),
      () => false,
    );
  }

  putFile(path: string, heard: Heard = unheard): Promise<string> {
    return this.take(createReadStream(path, { highWaterMark: 1 << 20 }), undefined, heard);
  }

  putBytes(bytes: Uint8Array): Promise<string> {
    return this.take(Readable.from([Buffer.from(bytes)]));
  }

  /** Takes in what comes, if it has the hash that is said. @throws InputError where it has another. */
  async take(from: Readable, expected?: string, heard: Heard = unheard): Promise<string> {
    const folder = join(this.folder, 'coming');
    const part = join(folder, randomUUID());
    const hash = createHash('sha256');
    try {
      await mkdir(folder, { recursive: true });
      const hashed = async function* (chunks: AsyncIterable<Buffer>): AsyncGenerator<Buffer, void> {
        for await (const chunk of chunks) {
          hash.update(chunk);
          heard();
          yield chunk;
        }
      };
      await pipeline(from, hashed, createWriteStream(part));
      const found = hash.digest('hex');
      if (expected !== undefined && found !== expected)
        throw new InputError('What came was damaged on its way. Try again.');
      const place = this.placeOf(found);
      await mkdir(join(place, '..'), { recursive: true });
      // Whole on the disk before it has its name.
      const file = await open(part, 'r+');
      await file.sync().finally(() => file.close());
      await rename(part, place);
      return found;
    } catch (error) {
      await rm(part, { force: true });
      throw storeError(error, this.folder);
    }
  }

  async path(hash: string, heard: Heard = unheard): Promise<string> {
    const place = this.placeOf(hash);
    const about = await stat(place).catch(() => null);
    if (!about?.isFile()) throw missing(hash);
    if (this.whole.get(hash) === about.mtimeMs) return place;
    if ((await hashOf(place, heard)) !== hash) {
      await rm(place, { force: true });
      throw damaged(hash);
    }
    this.whole.set(hash, about.mtimeMs);
    return place;
  }

  /** Removes files that nobody names and that were not touched for a while, and what never came whole. @returns how many. */
  async sweep(named: ReadonlySet<string>, olderThanMs: number): Promise<number> {
    const before = Date.now() - olderThanMs;
    let removed = 0;
    const all = await readdir(this.folder, { recursive: true, withFileTypes: true }).catch(() => []);
    for (const entry of all) {
      const path = join(entry.parentPath, entry.name);
      const isOurs = /[\\/](files[\\/][0-9a-f]{2}|coming)$/.test(entry.parentPath);
      if (!entry.isFile() || !isOurs || named.has(entry.name)) continue;
      const about = await stat(path).catch(() => null);
      if (!about || about.mtimeMs > before) continue;
      await rm(path, { force: true });
      removed++;
    }
    return removed;
  }

  async close(): Promise<void> {
    this.whole.clear();
  }
}

/** The store of the machine that serves, for those that do not see its disk; what is read lies in a folder of our own meanwhile. */
export class HttpStore implements Store {
  private readonly kept: Promise<FolderStore>;

  constructor(
    private readonly address: string,
    private readonly key: string | null,
  ) {
    this.kept = mkdtemp(join(tmpdir(), 'hazy-lens-store-')).then((folder) => new FolderStore(folder));
  }

  private async ask(hash: string, init: RequestInit = {}): Promise<Response> {
    const url = new URL(`store/${checkedHash(hash)}`, this.address);
    const authorization: Record<string, string> = this.key ? { authorization: `Bearer ${this.key}` } : {};
    let answer: Response;
    try {
      answer = await fetch(url, { ...init, headers: authorization });
    } catch {
      throw new InputError(`${url.origin}: the farm’s store doesn’t answer.`);
    }
    if (answer.status === 401)
      throw new InputError(
        `${url.origin}: the farm asks for its key. Set HAZY_LENS_FARM_KEY to what it was served with.`,
      );
    if (answer.status === 507) throw new InputError(`${url.origin}: the farm’s disk is full.`);
    return answer;
  }

  async putFile(path: string, heard: Heard = unheard): Promise<string> {
    const hash = await hashOf(path, heard);
    if ((await this.ask(hash, { method: 'HEAD' })).ok) return hash;
    const file = createReadStream(path).on('data', heard);
    const body = Readable.toWeb(file) as ReadableStream;
    return this.put(hash, body);
  }

  async putBytes(bytes: Uint8Array): Promise<string> {
    return this.put(createHash('sha256').update(bytes).digest('hex'), Buffer.from(bytes));
  }

  private async put(hash: string, body: BodyInit): Promise<string> {
    const answer = await this.ask(hash, { method: 'PUT', body, duplex: 'half' } as RequestInit);
    if (!answer.ok) throw new InputError(`${this.address}: ${(await answer.text()).slice(0, 200)}`);
    return hash;
  }

  async path(hash: string, heard: Heard = unheard): Promise<string> {
    const kept = await this.kept;
    if (await kept.has(hash)) return kept.path(hash, heard);
    const answer = await this.ask(hash);
    if (!answer.ok || !answer.body) throw missing(hash);
    await kept.take(Readable.fromWeb(answer.body as Parameters<typeof Readable.fromWeb>[0]), hash, heard);
    return kept.path(hash, heard);
  }

  async close(): Promise<void> {
    await rm((await this.kept).folder, { recursive: true, force: true });
  }
}

/** @param where a folder, or the address of who serves one. */
export function openStore(where: string, key: string | null): Store {
  return /^https?:\/\//.test(where) ? new HttpStore(where, key) : new FolderStore(where);
}

/** True where two secrets are the same; takes as long whatever they are. */
export function isSameSecret(a: string, b: string): boolean {
  const [one, other] = [a, b].map((text) => createHash('sha256').update(text).digest()) as [Buffer, Buffer];
  return timingSafeEqual(one, other);
}
