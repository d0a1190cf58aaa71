// What machines of a farm tell each other. All that comes in is checked: anyone may write to a queue.
import { z } from 'zod';
import { messageLine } from '@hazy-lens/core';
import { InputError } from '../render/picture';

/** SHA-256 of what is stored, in hexadecimal digits. */
export const HASH = z.string().regex(/^[0-9a-f]{64}$/);
/** Names go into file systems: no folders, nothing that climbs. */
const NAME = z.string().regex(/^(?!\.{1,2}$)[^/\\\p{Cc}]{1,200}$/u);
export const JOB_ID = z.string().regex(/^[a-z0-9]{8,32}$/);
const COUNT = z.number().int().min(0).max(100_000_000);
const TEXT = z.string().max(500);

const STORED = z.object({ name: NAME, hash: HASH });
export type Stored = z.infer<typeof STORED>;

/** All that a job is made of; lies in the store. */
export const MANIFEST = z.object({
  recipe: z.string().max(200_000_000),
  /** What the recipe names. */
  companions: z.array(STORED).max(500),
  input: z.union([
    z.object({ clip: STORED }),
    /** A zip of pictures. */
    z.object({ archive: STORED }),
    z.object({ pictures: z.array(STORED).min(1).max(10_000_000) }),
  ]),
  fps: z.number().min(1).max(240).nullable(),
  output: z.union([
    z.object({ clip: z.enum(['.mp4', '.mov', '.m4v', '.mkv', '.webm', '.gif']) }),
    z.object({ ending: z.literal('.png').nullable() }),
  ]),
  metadata: z.enum(['all', 'without-place', 'none']),
});
export type Manifest = z.infer<typeof MANIFEST>;

/** A job as the farm lists it. */
export const JOB = z.object({
  id: JOB_ID,
  title: TEXT,
  manifest: HASH,
  build: HASH,
  frames: COUNT.min(1),
  fps: z.number().positive(),
  /** Frames of a part. */
  part: COUNT.min(1).max(100_000),
  /** Milliseconds since 1970. */
  sent: z.number(),
  by: TEXT,
  cancelled: z.boolean(),
});
export type Job = z.infer<typeof JOB>;

/** Frames of a job that one machine renders in one go, both included. */
export const PART = z
  .object({ job: JOB_ID, manifest: HASH, build: HASH, from: COUNT, to: COUNT })
  .refine(({ from, to }) => from <= to, 'A part ends before it begins.');
export type Part = z.infer<typeof PART>;

/** What a part has become. */
export const RESULT = z.object({
  files: z.array(STORED).min(1).max(100_000),
  /** A small picture of its first frame; null where there is none. */
  small: HASH.nullable(),
  machine: TEXT,
  ms: z.number().min(0),
});
export type Result = z.infer<typeof RESULT>;

export const MACHINE = z.object({
  name: TEXT,
  since: z.number(),
  frames: COUNT,
  /** Frames a second, over the last parts. */
  fps: z.number().min(0),
  doing: TEXT,
});
export type Machine = z.infer<typeof MACHINE>;

/** What who serves a farm says of it. */
export const FARM = z.object({ build: HASH, since: z.number() });

/** @throws InputError where a message is none of its kind. @param what it is, for the sentence. */
export function read<T>(schema: z.ZodType<T>, text: string | Uint8Array, what: string): T {
  let value: unknown;
  try {
    value = JSON.parse(typeof text === 'string' ? text : Buffer.from(text).toString('utf8'));
  } catch {
    throw new InputError(`${what}: can’t be read. It was damaged, or something else wrote to this farm.`);
  }
  return checked(schema, value, what);
}

/** The same of a message that is parsed already. */
export function checked<T>(schema: z.ZodType<T>, value: unknown, what: string): T {
  const { success, data, error } = schema.safeParse(value);
  if (success) return data;
  const { path, message } = error.issues[0]!;
  throw new InputError(`${what}: isn’t what it should be (${messageLine(`${path.join('.')}: ${message}`)}).`);
}

/** Parts of a job, in order. */
export function partsOfJob({ id, manifest, build, frames, part }: Job): Part[] {
  return Array.from({ length: Math.ceil(frames / part) }, (_, i) => ({
    job: id,
    manifest,
    build,
    from: i * part,
    to: Math.min(frames, (i + 1) * part) - 1,
  }));
}
