import { randomBytes } from 'node:crypto';
import { Queue } from 'bullmq';
import { Redis } from 'ioredis';
import { messageLine } from '@hazy-lens/core';
import { InputError } from '../render/picture';
import {
  FARM,
  JOB,
  JOB_ID,
  type Job,
  MACHINE,
  type Machine,
  RESULT,
  type Result,
  checked,
  partsOfJob,
  read,
} from './messages';

export const QUEUE = 'hazy-lens-parts';
const KEYS = {
  farm: 'hazy-lens:farm',
  /** Ids by the time they were sent. */
  jobs: 'hazy-lens:jobs',
  job: (id: string) => `hazy-lens:job:${id}`,
  /** What has become of parts, by their first frame; and why those failed that did. */
  results: (id: string) => `hazy-lens:results:${id}`,
  failures: (id: string) => `hazy-lens:failures:${id}`,
  spent: (id: string) => `hazy-lens:spent:${id}`,
  machine: (name: string) => `hazy-lens:machine:${name}`,
} as const;
/** Times that a part is tried. */
export const ATTEMPTS = 3;
/** A machine that says nothing for so long is gone. */
const MACHINE_SECONDS = 15;
/** Parts that are queued in one go. */
const BATCH = 1000;

/** How far a job has got. */
export interface JobState extends Job {
  done: number;
  parts: number;
  failed: { from: number; why: string }[];
  /** Milliseconds of machines that its finished parts took. */
  ms: number;
  small: string | null;
}

/** The farm's Redis. @param key goes along as its password where the address has none. @throws InputError where it does not answer. */
export async function connect(url: string, key: string | null): Promise<Redis> {
  const address = new URL(url);
  if (key && !address.password) address.password = key;
  // Work goes on when Redis comes back, however long that takes.
  const redis = new Redis(address.href, {
    maxRetriesPerRequest: null,
    lazyConnect: true,
    retryStrategy: (times) => Math.min(2000, 100 * times),
  });
  // Each failed try is told; what matters is whether it comes back, and at first why it does not.
  let said = '';
  redis.on('error', ({ message }: Error) => (said = message));
  try {
    await Promise.race([
      redis.connect().then(() => redis.ping()),
      new Promise((_, reject) => setTimeout(() => reject(new Error('no answer')), 5000).unref()),
    ]);
    return redis;
  } catch (error) {
    redis.disconnect();
    const { message } = error as Error;
    const needsKey = /NOAUTH|WRONGPASS|invalid password/i.test(`${message} ${said}`);
    throw new InputError(
      needsKey
        ? `${address.host}: the farm asks for its key. Set HAZY_LENS_FARM_KEY to what it was served with.`
        : `${address.host}: Redis doesn’t answer. Start a farm with "npm run farm -- serve", or check --redis.`,
    );
  }
}

/** Redis counts as gone once it was out of reach for so long. */
const GONE_MS = 3000;
const POLL_MS = 250;

/** The jobs of a farm, its parts and its machines, as Redis has them. */
export class Farm {
  readonly queue: Queue;

  constructor(readonly redis: Redis) {
    this.queue = new Queue(QUEUE, { connection: redis });
    this.queue.on('error', () => undefined);
  }

  /** Says that a farm is served here, and by which build. */
  async found(build: string): Promise<void> {
    await this.redis.set(KEYS.farm, JSON.stringify({ build, since: Date.now() }));
  }

  /** @throws InputError where no farm is served, or one of another build. */
  async checkBuild(build: string): Promise<void> {
    const text = await this.redis.get(KEYS.farm);
    if (text === null)
      throw new InputError('No farm is served on this Redis. Start one with "npm run farm -- serve".');
    const farm = read(FARM, text, 'What the farm says of itself');
    if (farm.build !== build)
      throw new InputError(
        `This machine has build ${build.slice(0, 8)} of Hazy Lens, the farm ${farm.build.slice(0, 8)}: their frames could differ. Install the same on both.`,
      );
  }

  /** Queues a job's parts. @returns its id. */
  async send(job: Omit<Job, 'id' | 'sent' | 'cancelled'>): Promise<string> {
    const id = randomBytes(6).toString('hex');
    const whole = checked(JOB, { ...job, id, sent: Date.now(), cancelled: false }, 'The job');
    await this.redis.set(KEYS.job(id), JSON.stringify(whole));
    const parts = partsOfJob(whole);
    for (let i = 0; i < parts.length; i += BATCH)
      await this.queue.addBulk(
        parts.slice(i, i + BATCH).map((part) => ({
          name: job.title.slice(0, 80),
          data: part,
          opts: {
            // A part is queued once, whoever sends it again.
            jobId: `${id}-${part.from}`,
            attempts: ATTEMPTS,
            backoff: { type: 'exponential', delay: 1000 },
            removeOnComplete: { age: 24 * 3600, count: 1000 },
          },
        })),
      );
    // Only now is it seen: what was cut short before is no job.
    await this.redis.zadd(KEYS.jobs, whole.sent, id);
    return id;
  }

  /** @throws InputError where there is none of that id. */
  async job(id: string): Promise<Job> {
    const text = JOB_ID.safeParse(id).success ? await this.redis.get(KEYS.job(id)) : null;
    if (text === null) throw new InputError(`${messageLine(id)}: the farm has no job of this ID.`);
    return read(JOB, text, `Job ${id}`);
  }

  async state(id: string): Promise<JobState> {
    const job = await this.job(id);
    const [done, first, spent, failures] = await Promise.all([
      this.redis.hlen(KEYS.results(id)),
      this.redis.hget(KEYS.results(id), '0'),
      this.redis.get(KEYS.spent(id)),
      this.redis.hgetall(KEYS.failures(id)),
    ]);
    return {
      ...job,
      done,
      parts: Math.ceil(job.frames / job.part),
      failed: Object.entries(failures)
        .map(([from, why]) => ({ from: Number(from), why }))
        .sort((a, b) => a.from - b.from),
      ms: Number(spent ?? 0),
      small: first === null ? null : read(RESULT, first, `Part 0 of job ${id}`).small,
    };
  }

  /** What has become of a job's parts, by their first frames. */
  async results(id: string): Promise<Map<number, Result>> {
    const all = await this.redis.hgetall(KEYS.results(id));
    return new Map(
      Object.entries(all).map(([from, text]) => [
        Number(from),
        read(RESULT, text, `Part ${from} of job ${id}`),
      ]),
    );
  }

  /** The newest first. */
  async jobs(): Promise<JobState[]> {
    const ids = await this.redis.zrevrange(KEYS.jobs, 0, 199);
    const all = await Promise.all(ids.map((id) => this.state(id).catch(() => null)));
    return all.filter((job) => job !== null);
  }

  /** Notes what has become of a part. Done twice, it is the same. */
  async finish(id: string, from: number, result: Result): Promise<void> {
    const isNew = (await this.redis.hset(KEYS.results(id), `${from}`, JSON.stringify(result))) === 1;
    await this.redis.hdel(KEYS.failures(id), `${from}`);
    if (isNew) await this.redis.incrby(KEYS.spent(id), `${Math.round(result.ms)}`);
  }

  async fail(id: string, from: number, why: string): Promise<void> {
    await this.redis.hset(KEYS.failures(id), `${from}`, why);
  }

  /** Takes what is left of a job off the queue; what is under way is dropped by its machines. */
  async cancel(id: string): Promise<void> {
    const job = await this.job(id);
    await this.redis.set(KEYS.job(id), JSON.stringify({ ...job, cancelled: true }));
    const parts = partsOfJob(job);
    for (let i = 0; i < parts.length; i += BATCH)
      // A part that a machine has in hand cannot be removed.
      await Promise.all(
        parts.slice(i, i + BATCH).map(({ from }) => this.queue.remove(`${id}-${from}`).catch(() => 0)),
      );
  }

  /** Drops finished and cancelled jobs that are older. @returns the hashes that the others name, of their manifests and results. */
  async keepOnly(olderThanMs: number): Promise<Set<string>> {
    const named = new Set<string>();
    for (const id of await this.redis.zrange(KEYS.jobs, '0', '-1')) {
      const state = await this.state(id).catch(() => null);
      const isOver = !state || state.cancelled || state.done + state.failed.length >= state.parts;
      if (isOver && (state?.sent ?? 0) < Date.now() - olderThanMs) {
        await this.redis.zrem(KEYS.jobs, id);
        await this.redis.del(KEYS.job(id), KEYS.results(id), KEYS.failures(id), KEYS.spent(id));
        continue;
      }
      if (!state) continue;
      named.add(state.manifest);
      for (const { files, small } of (await this.results(id)).values()) {
        for (const { hash } of files) named.add(hash);
        if (small) named.add(small);
      }
    }
    return named;
  }

  /** Says that a machine is there. */
  async tell(machine: Machine): Promise<void> {
    await this.redis.set(KEYS.machine(machine.name), JSON.stringify(machine), 'EX', MACHINE_SECONDS);
  }

  async leave(name: string): Promise<void> {
    await this.redis.del(KEYS.machine(name));
  }

  async machines(): Promise<Machine[]> {
    const keys: string[] = [];
    let cursor = '0';
    do {
      const [next, some] = await this.redis.scan(cursor, 'MATCH', KEYS.machine('*'), 'COUNT', 100);
      cursor = next;
      keys.push(...some);
    } while (cursor !== '0');
    const texts = keys.length > 0 ? await this.redis.mget(keys) : [];
    return texts
      .flatMap((text) => (text === null ? [] : [read(MACHINE, text, 'What a machine says of itself')]))
      .sort((a, b) => a.name.localeCompare(b.name));
  }

  /** Waits for what was asked of Redis, but not where that stays out of reach: who is to stop does. */
  async unlessGone(asked: Promise<unknown>): Promise<void> {
    let away = 0;
    let timer: NodeJS.Timeout | undefined;
    const gone = new Promise<void>((resolve) => {
      timer = setInterval(() => {
        away = this.redis.status === 'ready' ? 0 : away + POLL_MS;
        if (away >= GONE_MS) resolve();
      }, POLL_MS);
    });
    await Promise.race([asked, gone]).finally(() => clearInterval(timer));
  }

  async close(): Promise<void> {
    await this.unlessGone(this.queue.close());
    this.redis.disconnect();
  }
}
