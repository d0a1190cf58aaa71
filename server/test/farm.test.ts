import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { type Server, createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { fileURLToPath } from 'node:url';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { buildId } from '../src/farm/build-id';
import { Farm, QUEUE, connect } from '../src/farm/farm';
import { createFarmServer, sweep } from '../src/farm/farm-server';
import { readManifest } from '../src/farm/manifest';
import { type OwnRedis, startRedis } from '../src/farm/redis-server';
import { FolderStore, HttpStore, type Store } from '../src/farm/store';
import { FarmWorker, type WorkerOptions } from '../src/farm/worker';

const PORT = 4794;
const REDIS = `redis://127.0.0.1:${PORT}`;
const FRAMES = 24;
const SIZE = { width: 96, height: 64 };
const built = new URL('../dist/', import.meta.url);
const [farmProgram, renderProgram] = ['farm.mjs', 'render.mjs'].map((name) =>
  fileURLToPath(new URL(name, built)),
) as [string, string];
const RECIPE = {
  format: 'hazy-lens-recipe',
  version: 1,
  focus: {
    bands: [{ id: 'a', kind: 'planar', near: { falloff: 0.3 }, far: { falloff: 0.3 } }],
    mattes: [{ id: 'm', image: 'mattes/tram.png' }],
  },
  blur: { kind: 'lens', radius: 0.03 },
  colour: { saturation: 0.4 },
  finish: { grain: { amount: 0.3 } },
  pace: { speed: 1, deflicker: { amount: 0.5 } },
};

describe('a farm', () => {
  let folder: string;
  let redis: OwnRedis;
  let build: string;
  const open: { close(): Promise<unknown> }[] = [];
  const children: ChildProcess[] = [];
  const at = (name: string): string => join(folder, name);
  const store = (): FolderStore => new FolderStore(at('store'));

  const farm = async (): Promise<Farm> => {
    const made = new Farm(await connect(REDIS, null));
    open.push(made);
    return made;
  };
  const machine = async (name: string, parts: Partial<WorkerOptions> & { store?: Store } = {}) => {
    const options = { name, threads: 1, build, built, lockMs: 1500, stillMs: 60_000, ...parts };
    const worker = new FarmWorker(await farm(), parts.store ?? store(), options);
    open.unshift(worker);
    return worker;
  };
  /** Runs a program to its end; machines of this process go on beside it. */
  const run = async (...args: string[]) => {
    const child = spawn(process.execPath, [farmProgram, ...args], { stdio: ['ignore', 'pipe', 'pipe'] });
    const texts = { stdout: '', stderr: '' };
    for (const of of ['stdout', 'stderr'] as const)
      child[of].setEncoding('utf8').on('data', (text: string) => (texts[of] += text));
    const [status] = (await once(child, 'close')) as [number | null];
    return { status, ...texts };
  };
  /** A program that goes on by itself. */
  const started = (...args: string[]): ChildProcess & { said: () => string } => {
    const child = spawn(process.execPath, [farmProgram, ...args], { stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream!.on('data', (text) => (said += String(text)));
    children.push(child);
    return Object.assign(child, { said: () => said });
  };
  const workProgram = (): ChildProcess & { said: () => string } =>
    started('work', '--redis', REDIS, '--store', at('store'), '--lost-after', '2');
  const sendArgs = (out: string, input = 'frames'): string[] => [
    ...['send', '--recipe', at('r.json'), '--in', at(input), '--out', at(out)],
    ...['--redis', REDIS, '--store', at('store'), '--part', '4'],
  ];
  const ended = async (child: ChildProcess): Promise<number | null> => {
    if (child.exitCode === null && child.signalCode === null) await once(child, 'exit');
    return child.exitCode;
  };
  const until = async (isSo: () => boolean | Promise<boolean>, ms = 30_000): Promise<void> => {
    const end = Date.now() + ms;
    while (!(await isSo())) {
      if (Date.now() > end) throw new Error('It took too long.');
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  const bytesOf = (out: string): Record<string, string> =>
    Object.fromEntries(
      readdirSync(at(out)).map((name) => [
        name,
        createHash('sha256')
          .update(readFileSync(join(at(out), name)))
          .digest('hex'),
      ]),
    );

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'hazy-lens-farm-'));
    redis = await startRedis(at('redis'), PORT, '127.0.0.1', null);
    build = await buildId(built);
    mkdirSync(at('frames'));
    mkdirSync(at('mattes'));
    for (let i = 0; i < FRAMES; i++) {
      const pixels = Uint8Array.from({ length: SIZE.width * SIZE.height * 3 }, (_, k) =>
        (k + 9 * i) % 90 < 45 ? 60 + (i % 3) * 4 : 180,
      );
      const png = await sharp(pixels, { raw: { ...SIZE, channels: 3 } })
        .png()
        .toBuffer();
      writeFileSync(at(`frames/walk ${i}.png`), png);
    }
    await sharp({ create: { width: 20, height: 20, channels: 3, background: '#888888' } })
      .png()
      .toFile(at('mattes/tram.png'));
    writeFileSync(at('r.json'), JSON.stringify(RECIPE));
    const args = ['--recipe', at('r.json'), '--in', at('frames'), '--out', at('alone'), '--workers', '1'];
    const { status, stderr } = spawnSync(process.execPath, [renderProgram, ...args], { encoding: 'utf8' });
    expect(stderr).toBe('');
    expect(status).toBe(0);
    await (await farm()).found(build);
  });

  afterEach(async () => {
    for (const child of children.splice(0)) {
      child.kill('SIGKILL');
      await ended(child);
    }
    // Workers first: they say good-bye.
    for (const one of open.splice(0)) await one.close();
    const left = await farm();
    await left.queue.obliterate({ force: true });
    await left.close();
    open.length = 0;
  });
  afterAll(async () => {
    await redis.stop();
    rmSync(folder, { recursive: true });
  });

  it('makes the same pictures as one machine, byte for byte, though a worker is killed', async () => {
    const [first, second] = [workProgram(), workProgram()];
    const sender = started(...sendArgs('both'));
    const look = await farm();
    await until(async () => (await look.jobs()).some(({ done }) => done >= 1));
    // In the middle of a part.
    await until(async () => (await look.machines()).some((one) => one.name.includes(`-${first.pid}-`)));
    first.kill('SIGKILL');
    expect(await ended(sender), sender.said()).toBe(0);
    expect(second.exitCode).toBe(null);
    expect(bytesOf('both')).toEqual(bytesOf('alone'));
  });

  it('takes the part of a worker that hangs, whose late result changes nothing', async () => {
    const look = await farm();
    const hanging = workProgram();
    const sender = started(...sendArgs('hung'));
    await until(async () => (await look.jobs())[0]?.done === 1);
    hanging.kill('SIGSTOP');
    await machine('steady');
    expect(await ended(sender), sender.said()).toBe(0);
    hanging.kill('SIGCONT');
    await new Promise((resolve) => setTimeout(resolve, 500));
    expect(bytesOf('hung')).toEqual(bytesOf('alone'));
    const [job] = await look.jobs();
    expect(job).toMatchObject({ done: 6, parts: 6, failed: [] });
  });

  it('gives up what shows no frame for long, and tries it again', async () => {
    let stuck = 1;
    const plain = store();
    const sticky: Store = {
      putFile: (path) => (stuck-- > 0 ? new Promise(() => undefined) : plain.putFile(path)),
      putBytes: (bytes) => plain.putBytes(bytes),
      path: (hash) => plain.path(hash),
      close: () => plain.close(),
    };
    await machine('sticky', { store: sticky, stillMs: 1200 });
    const { status, stderr } = await run(...sendArgs('stuck'));
    expect(stderr).toBe('');
    expect(status).toBe(0);
    expect(bytesOf('stuck')).toEqual(bytesOf('alone'));
  });

  it('goes on when Redis is restarted in the middle', async () => {
    await machine('one');
    const sender = started(...sendArgs('restarted'));
    const look = await farm();
    await until(async () => (await look.jobs())[0]?.done === 2);
    await redis.stop();
    await new Promise((resolve) => setTimeout(resolve, 500));
    redis = await startRedis(at('redis'), PORT, '127.0.0.1', null);
    expect(await ended(sender), sender.said()).toBe(0);
    expect(bytesOf('restarted')).toEqual(bytesOf('alone'));
  });

  it('lets a machine stop while Redis is away', async () => {
    const program = workProgram();
    await until(() => program.said().includes('takes parts'));
    await redis.stop();
    program.kill('SIGTERM');
    expect(await ended(program), program.said()).toBe(0);
    redis = await startRedis(at('redis'), PORT, '127.0.0.1', null);
  });

  it('names a part that fails three times, and finishes the others', async () => {
    mkdirSync(at('bad'));
    for (const name of readdirSync(at('frames')))
      writeFileSync(at(`bad/${name}`), readFileSync(at(`frames/${name}`)));
    writeFileSync(at('bad/walk 9.png'), readFileSync(at('frames/walk 9.png')).subarray(0, 60));
    writeFileSync(at('plain.json'), JSON.stringify({ ...RECIPE, pace: { speed: 1 } }));
    await machine('one');
    const args = sendArgs('none', 'bad').map((arg) => (arg === at('r.json') ? at('plain.json') : arg));
    const { status, stderr } = await run(...args);
    expect(status).toBe(3);
    expect(stderr).toMatch(/^Frames 9 to 12 failed: walk 9\.png: .*\(one\)\n$/);
    expect((await (await farm()).jobs())[0]).toMatchObject({ done: 5, parts: 6 });
    expect(existsSync(at('none'))).toBe(false);
  });

  it('waits for room on a full disk, and says so where there is none', async () => {
    let full = 2;
    const plain = store();
    const crowded: Store = {
      putFile: async (path) => {
        if (full-- > 0) throw await plain.take(overflowing()).catch((error: Error) => error);
        return plain.putFile(path);
      },
      putBytes: (bytes) => plain.putBytes(bytes),
      path: (hash) => plain.path(hash),
      close: () => plain.close(),
    };
    await machine('crowded', { store: crowded });
    const { status } = await run(...sendArgs('crowded'));
    expect(status).toBe(0);
    expect(bytesOf('crowded')).toEqual(bytesOf('alone'));
    await expect(plain.take(overflowing())).rejects.toThrow('the disk is full. Make room');
    expect(readdirSync(at('store/coming'))).toEqual([]);
  });
  /** A file that the disk has no room for. */
  const overflowing = (): Readable =>
    Readable.from(
      (function* () {
        yield Buffer.alloc(1000);
        throw Object.assign(new Error('no space left'), { code: 'ENOSPC' });
      })(),
    );

  it('serves two senders at once', async () => {
    await machine('one');
    await machine('two');
    const senders = ['left', 'right'].map((out) => started(...sendArgs(out)));
    expect(await Promise.all(senders.map(ended))).toEqual([0, 0]);
    expect(bytesOf('left')).toEqual(bytesOf('alone'));
    expect(bytesOf('right')).toEqual(bytesOf('alone'));
    expect(new Set((await (await farm()).jobs()).map(({ id }) => id)).size).toBeGreaterThanOrEqual(2);
  });

  it('refuses machines and jobs of another build', async () => {
    const look = await farm();
    await look.found('0'.repeat(64));
    for (const args of [['work', '--redis', REDIS, '--store', at('store')], sendArgs('other')]) {
      const { status, stderr } = await run(...args);
      expect(status).toBe(2);
      expect(stderr).toContain('Install the same on both');
    }
    await look.found(build);
    await machine('one');
    const manifest = await store().putBytes(Buffer.from('{}'));
    const id = await look.send({
      ...{ title: 'old', manifest, build: '1'.repeat(64) },
      ...{ frames: 4, fps: 30, part: 4, by: 'elsewhere' },
    });
    await until(async () => (await look.state(id)).failed.length === 1);
    expect((await look.state(id)).failed[0]!.why).toContain('the job was sent by 11111111');
  });

  it('lives through spoiled messages', async () => {
    const look = await farm();
    await machine('one');
    const spoiled: unknown[] = [
      null,
      'text',
      { job: '../../x' },
      { from: -1 },
      { job: 'a'.repeat(12), from: 5, to: 1 },
    ];
    for (const data of spoiled) await look.queue.add('spoiled', data, { attempts: 3 });
    await until(async () => (await look.queue.getFailedCount()) === spoiled.length);
    // None of them was tried again.
    expect((await look.queue.getFailed()).every(({ attemptsMade }) => attemptsMade === 1)).toBe(true);
    await look.redis.set('hazy-lens:job:spoiledjob1', '{"id":');
    await look.redis.zadd('hazy-lens:jobs', Date.now(), 'spoiledjob1');
    await expect(look.state('spoiledjob1')).rejects.toThrow('can’t be read');
    await look.redis.set('hazy-lens:machine:x', '{}');
    await expect(look.machines()).rejects.toThrow('isn’t what it should be');
    await look.redis.del('hazy-lens:machine:x', 'hazy-lens:job:spoiledjob1');
    const { status } = await run(...sendArgs('after'));
    expect(status).toBe(0);
    expect(bytesOf('after')).toEqual(bytesOf('alone'));
    for (const recipe of [
      'no JSON',
      JSON.stringify({ recipe: '{}', companions: [{ name: '../x', hash: build }] }),
    ]) {
      const hash = await store().putBytes(Buffer.from(recipe));
      await expect(readManifest(store(), hash)).rejects.toThrow('The job’s list of files');
    }
  });

  it('cancels a job, of which nothing goes on', async () => {
    const look = await farm();
    const sender = started(...sendArgs('cancelled'));
    await until(async () => (await look.queue.getWaitingCount()) === 6);
    const [job] = await look.jobs();
    expect((await run('cancel', job!.id, '--redis', REDIS)).status).toBe(0);
    expect(await ended(sender)).toBe(2);
    expect(sender.said()).toContain('was cancelled');
    expect(await look.queue.getWaitingCount()).toBe(0);
    const { stdout } = await run('list', '--redis', REDIS);
    expect(stdout).toContain(`"job":"${job!.id}"`);
    expect(stdout).toContain('"state":"cancelled"');
    const none = await run('cancel', 'abcdefabcdef', '--redis', REDIS);
    expect(none.status).toBe(2);
    expect(none.stderr).toContain('no job of this ID');
  });

  describe('over HTTP', () => {
    let server: Server;
    const KEY = 'a lamp at the fair';
    const address = (): string => `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
    const serve = async (key: string | null): Promise<void> => {
      server = createServer(createFarmServer({ farm: await farm(), store: store(), build, key }));
      server.listen(0, '127.0.0.1');
      await once(server, 'listening');
    };
    const ask = (path: string, init: RequestInit = {}, key: string | null = KEY): Promise<Response> =>
      fetch(new URL(path, address()), {
        ...init,
        headers: { ...(key ? { authorization: `Bearer ${key}` } : {}), ...(init.headers ?? {}) },
      });
    afterEach(() => {
      server.closeAllConnections();
      server.close();
    });

    it('renders a clip with its sound for who sees nothing but the address', async () => {
      await serve(KEY);
      const clip = at('walk.mp4');
      const sound = ['-f', 'lavfi', '-i', 'sine', '-c:a', 'aac', '-shortest'];
      const scene = ['-f', 'lavfi', '-i', `testsrc2=s=96x64:r=12:d=2`];
      expect(spawnSync('ffmpeg', ['-v', 'error', '-y', ...scene, ...sound, clip]).status).toBe(0);
      await machine('far', { store: new HttpStore(address(), KEY) });
      const remote = new HttpStore(address(), KEY);
      const recipe = JSON.stringify({ format: 'hazy-lens-recipe', version: 1, blur: { radius: 0.02 } });
      const manifest = await remote.putBytes(
        Buffer.from(
          JSON.stringify({
            ...{ recipe, companions: [], fps: null, metadata: 'none' },
            input: { clip: { name: 'walk.mp4', hash: await remote.putFile(clip) } },
            output: { clip: '.mp4' },
          }),
        ),
      );
      const order = { title: 'walk.mp4', manifest, part: 10 };
      const json = { 'content-type': 'application/json' };
      const sent = await ask('api/jobs', { method: 'POST', headers: json, body: JSON.stringify(order) });
      expect(sent.status).toBe(201);
      const { id } = (await sent.json()) as { id: string };
      await until(async () => {
        const state = (await (await ask(`api/jobs/${id}`)).json()) as {
          done: number;
          parts: number;
          failed: [];
        };
        expect(state.failed).toEqual([]);
        return state.done === state.parts;
      });
      const result = await ask(`api/jobs/${id}/result`);
      expect(result.headers.get('content-disposition')).toContain('walk.mp4');
      writeFileSync(at('result.mp4'), Buffer.from(await result.arrayBuffer()));
      const show = ['-v', 'error', '-show_streams', '-of', 'json', at('result.mp4')];
      const { streams } = JSON.parse(spawnSync('ffprobe', show).stdout.toString()) as { streams: object[] };
      expect(streams).toMatchObject([
        { codec_name: 'h264', nb_frames: '24', width: 96 },
        { codec_name: 'aac' },
      ]);
      const state = (await (await ask('api/state')).json()) as { jobs: { id: string; small: string }[] };
      const small = state.jobs.find((one) => one.id === id)!.small;
      const picture = Buffer.from(await (await ask(`store/${small}?as=jpeg`)).arrayBuffer());
      expect((await sharp(picture).metadata()).width).toBe(240);
      await remote.close();
    });

    it('gives pictures as a zip', async () => {
      await machine('one');
      expect((await run(...sendArgs('zipped'))).status).toBe(0);
      await serve(null);
      const [job] = await (await farm()).jobs();
      const zip = unzipSync(
        new Uint8Array(await (await ask(`api/jobs/${job!.id}/result`, {}, null)).arrayBuffer()),
      );
      const hashes = Object.fromEntries(
        Object.entries(zip).map(([name, bytes]) => [name, createHash('sha256').update(bytes).digest('hex')]),
      );
      expect(hashes).toEqual(bytesOf('alone'));
    });

    it('asks for its key, and says so', async () => {
      await serve(KEY);
      for (const key of [null, 'another lamp'])
        for (const path of ['', 'api/state', `store/${build}`, 'board'])
          expect((await ask(path, {}, key)).status, path).toBe(401);
      for (const key of [null, 'wrong']) {
        const remote = new HttpStore(address(), key);
        await expect(remote.path(build)).rejects.toThrow('Set HAZY_LENS_FARM_KEY');
        await remote.close();
      }
      const basic = `Basic ${Buffer.from(`anyone:${KEY}`).toString('base64')}`;
      expect((await ask('', { headers: { authorization: basic } }, null)).status).toBe(200);
      const open = await run('serve', '--store', at('open'), '--host', '0.0.0.0', '--port', '4796');
      expect(open.status).toBe(2);
      expect(open.stderr).toContain('Set HAZY_LENS_FARM_KEY');
    });

    it('lets nothing out of the store, and no other site in', async () => {
      await serve(null);
      writeFileSync(at('secret.txt'), 'secret');
      for (const path of ['store/..%2f..%2fsecret.txt', `store/${'g'.repeat(64)}`, 'store/abc'])
        expect((await ask(path, {}, null)).status, path).toBe(400);
      expect((await ask(`store/${'a'.repeat(64)}`, {}, null)).status).toBe(400);
      const wrong = await ask(`store/${'b'.repeat(64)}`, { method: 'PUT', body: 'something' }, null);
      expect(wrong.status).toBe(400);
      expect(await wrong.text()).toContain('damaged on its way');
      expect(await store().has('b'.repeat(64))).toBe(false);
      const site = { 'sec-fetch-site': 'cross-site' };
      expect((await ask('store', { method: 'POST', body: 'x', headers: site }, null)).status).toBe(403);
      const json = { 'content-type': 'application/json' };
      const order = await ask('api/jobs', { method: 'POST', headers: json, body: '{"title":5}' }, null);
      expect(order.status).toBe(400);
      expect((await ask('api/jobs/nothing', {}, null)).status).toBe(400);
      expect((await ask('nowhere', {}, null)).status).toBe(404);
    });

    it('shows its pages', async () => {
      await serve(null);
      for (const path of ['', 'farm.css', 'farm.js', 'board'])
        expect((await ask(path, {}, null)).status).toBe(200);
    });
  });

  it('keeps what jobs name, and sweeps what none does', async () => {
    await machine('one');
    expect((await run(...sendArgs('kept'))).status).toBe(0);
    const kept = store();
    const stray = await kept.putBytes(Buffer.from('nobody names this'));
    const fresh = await kept.putBytes(Buffer.from('nobody names this yet'));
    const old = new Date(Date.now() - 48 * 3600 * 1000);
    for (const path of readdirSync(at('store/files'), { recursive: true }))
      if (statSync(at(`store/files/${String(path)}`)).isFile())
        utimesSync(at(`store/files/${String(path)}`), old, old);
    const now = new Date();
    utimesSync(await kept.path(fresh), now, now);
    const look = await farm();
    expect(await sweep(look, kept)).toBeGreaterThanOrEqual(1);
    expect(await kept.has(stray)).toBe(false);
    expect(await kept.has(fresh)).toBe(true);
    const [job] = await look.jobs();
    for (const result of (await look.results(job!.id)).values())
      for (const { hash } of result.files) expect(await kept.has(hash)).toBe(true);
    const manifest = await readManifest(kept, job!.manifest);
    for (const { hash } of (manifest.input as { pictures: { hash: string }[] }).pictures)
      expect(await kept.has(hash)).toBe(true);
  });

  it('has a queue that asks for the key, too', async () => {
    const locked = await startRedis(at('locked'), PORT + 1, '127.0.0.1', 'a lamp at the "fair"');
    try {
      const url = `redis://127.0.0.1:${PORT + 1}`;
      for (const key of [null, 'another lamp'])
        await expect(connect(url, key)).rejects.toThrow('Set HAZY_LENS_FARM_KEY');
      const known = await connect(url, 'a lamp at the "fair"');
      expect(await known.ping()).toBe('PONG');
      known.disconnect();
      await expect(startRedis(at('again'), PORT + 1, '127.0.0.1', null)).rejects.toThrow(
        `Port ${PORT + 1} is taken`,
      );
    } finally {
      await locked.stop();
    }
  });

  it('finds what was damaged on the disk', async () => {
    const kept = store();
    const hash = await kept.putBytes(Buffer.from('whole'));
    writeFileSync(await kept.path(hash), 'spoilt');
    await expect(new FolderStore(at('store')).path(hash)).rejects.toThrow('is damaged');
    await expect(kept.path(hash)).rejects.toThrow('has no file');
  });

  it('leaves no Redis behind where its port is taken', async () => {
    const taken = createServer();
    await new Promise<void>((resolve) => taken.listen(PORT + 2, '127.0.0.1', resolve));
    const served = await run('serve', '--store', at('taken'), '--port', `${PORT + 2}`);
    taken.close();
    expect(served.status).toBe(2);
    expect(served.stderr).toContain(`Port ${PORT + 2} is unavailable`);
    // The port behind it is free again.
    const redis = await startRedis(at('again'), PORT + 3, '127.0.0.1', null);
    await redis.stop();
  });

  it('says where no farm is, and what is missing', async () => {
    const none = await run('list', '--redis', 'redis://127.0.0.1:1');
    expect(none.status).toBe(2);
    expect(none.stderr).toContain('Redis doesn’t answer');
    expect((await run('work', '--redis', REDIS)).stderr).toContain('--store is missing');
    expect((await run('work', '--redis', 'nowhere', '--store', at('store'))).stderr).toContain(
      'must be like',
    );
    expect((await run('send', '--part', '0')).stderr).toContain('is missing');
    expect((await run(...sendArgs('x'), '--fps', '500')).stderr).toContain(
      '--fps: must be a number from 1 to 240',
    );
    expect((await run('dance')).stderr).toContain('usage: farm serve');
    expect(QUEUE).toMatch(/^[\w-]+$/);
  });
});
