import { spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  type ClipSettings,
  type ExportPreset,
  SharedRenderer,
  exportPresetSchema,
  isYuv,
  parseRecipe,
  presetsText,
  resolveRecipe,
  wholeView,
} from '@hazy-lens/core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ClipFrames } from '../src/footage/clip-frames';
import { FootageRenderer } from '../src/footage/footage-renderer';
import { OpenFootage, renderClipInParts } from '../src/footage/job';
import { AS_SOURCE } from '../src/render/picture';
import { type WorkerThreads, startThreads } from '../src/render/threads';

const built = new URL('../dist/', import.meta.url);
const program = fileURLToPath(new URL('render.mjs', built));
const SIZE = { width: 96, height: 54 };
const FRAMES = 40;
const BAND = { bands: [{ id: 'a', kind: 'planar', near: { falloff: 0.3 }, far: { falloff: 0.3 } }] };
const LOOK = { focus: BAND, blur: { radius: 0.03 }, colour: { saturation: 0.4 } };

describe('clips by command line', () => {
  let folder: string;
  let threads: WorkerThreads;
  const at = (name: string): string => join(folder, name);

  const ffmpeg = (...args: string[]): Buffer => {
    const { status, stdout, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args], {
      maxBuffer: 1e9,
    });
    expect(stderr.toString()).toBe('');
    expect(status).toBe(0);
    return stdout;
  };
  const probe = (name: string): { streams: Record<string, string | number>[] } => {
    const { stdout } = spawnSync('ffprobe', ['-v', 'error', '-show_streams', '-of', 'json', at(name)]);
    return JSON.parse(stdout.toString()) as { streams: Record<string, string | number>[] };
  };
  const render = (recipe: object, input: string, out: string, more: string[] = [], env = process.env) => {
    writeFileSync(at('r.json'), JSON.stringify({ format: 'hazy-lens-recipe', version: 1, ...recipe }));
    const args = ['--recipe', at('r.json'), '--in', at(input), '--out', at(out), '--workers', '2', ...more];
    return spawnSync(process.execPath, [program, ...args], { encoding: 'utf8', env });
  };
  /** Planes of all frames as one ffmpeg run gives them. */
  const planes = (name: string): Buffer[] => {
    const all = ffmpeg('-i', at(name), '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-');
    const bytes = (SIZE.width * SIZE.height * 3) / 2;
    return Array.from({ length: all.length / bytes }, (_, i) => all.subarray(i * bytes, (i + 1) * bytes));
  };
  /** How long the sound of a clip is, in seconds, and how often a second it goes through zero upwards. */
  const toneOf = (name: string): { length: number; rises: number } => {
    const bytes = ffmpeg('-i', at(name), '-map', '0:a', '-f', 'f32le', '-ac', '1', '-ar', '48000', '-');
    const samples = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2);
    const length = samples.length / 48_000;
    const rises = samples.filter((value, i) => i > 0 && samples[i - 1]! < 0 && value >= 0).length;
    return { length, rises: rises / length };
  };
  const SCENE = `testsrc2=s=${SIZE.width}x${SIZE.height}:r=20`;

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'hazy-lens-'));
    threads = await startThreads(2, built);
    const sound = ['-f', 'lavfi', '-i', 'sine=frequency=440', '-shortest', '-t', `${FRAMES / 20}`];
    // Few key frames, and frames that are kept in another order than they are shown in.
    const video = ['-c:v', 'libx264', '-g', '15', '-bf', '3', '-pix_fmt', 'yuv420p'];
    ffmpeg('-f', 'lavfi', '-i', SCENE, ...sound, ...video, '-c:a', 'aac', at('walk.mp4'));
  });
  afterAll(async () => {
    await threads.close();
    rmSync(folder, { recursive: true });
  });

  it('reads each frame as one run through the clip does, in any order', async () => {
    const expected = planes('walk.mp4');
    expect(expected.length).toBe(FRAMES);
    const frames = await ClipFrames.open(at('walk.mp4'));
    expect(frames.times.starts.length).toBe(FRAMES);
    const forward = Array.from({ length: FRAMES }, (_, i) => i);
    const orders = [forward, forward.toReversed(), [31, 7, 8, 39, 0, 30, 29, 12], [17, 17, 16, 18]];
    for (const order of orders)
      for (const i of order) expect((await frames.at(i)).data.equals(expected[i]!), `frame ${i}`).toBe(true);
    await frames.close();
  });

  it('renders the planes that a renderer makes of the same planes, part by part', async () => {
    const recipe = parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...LOOK });
    const clip = await ClipFrames.open(at('walk.mp4'));
    const open = await FootageRenderer.open(clip, recipe, at('r.json'), threads, {
      format: clip.format,
      size: { by: 'full' },
      isEven: true,
    });
    const { format } = open;
    expect(format).toEqual({ matrix: 'bt601', range: 'limited' });
    const source = planes('walk.mp4');
    const look = resolveRecipe(recipe, SIZE);
    const renderer = new SharedRenderer(threads);
    await renderer.open(wholeView(SIZE, look, { input: format, output: format }));
    const made: Buffer[] = [];
    for (const [i, frame] of source.entries()) {
      renderer.input(0).set(frame);
      made.push(
        Buffer.from(await renderer.render({ slot: 0, source: `${i}`, look, content: 'picture', frame: i })),
      );
    }
    await renderer.close();
    for (const [from, to] of [
      [24, 39],
      [0, 23],
    ] as const)
      for await (const { index, data } of open.frames(from, to))
        expect(Buffer.compare(data, made[index]!), `frame ${index}`).toBe(0);
    await open.close();
  });

  it('keeps size, rate, colour marks and sound', () => {
    expect(render(LOOK, 'walk.mp4', 'soft.mp4').status).toBe(0);
    const [video, audio] = probe('soft.mp4').streams;
    expect(video).toMatchObject({
      codec_name: 'h264',
      ...SIZE,
      nb_frames: `${FRAMES}`,
      r_frame_rate: '20/1',
      color_space: 'smpte170m',
      color_range: 'tv',
    });
    expect(audio).toMatchObject({ codec_name: 'aac' });
    const soundOf = (name: string): Buffer =>
      ffmpeg('-i', at(name), '-map', '0:a', '-c', 'copy', '-f', 'adts', '-');
    expect(soundOf('soft.mp4').equals(soundOf('walk.mp4'))).toBe(true);
    // What is finished leaves nothing beside it.
    expect(readdirSync(folder).filter((name) => name.includes('part'))).toEqual([]);
  });

  it('drops the sound where the clip is faster, and cuts it where the clip is trimmed', () => {
    expect(render({ ...LOOK, pace: { speed: 2 } }, 'walk.mp4', 'fast.mp4').status).toBe(0);
    expect(probe('fast.mp4').streams.length).toBe(1);
    expect(probe('fast.mp4').streams[0]!['nb_frames']).toBe(`${FRAMES / 2}`);
    expect(render({ ...LOOK, pace: { trim: [0.5, 1.5] } }, 'walk.mp4', 'cut.mp4').status).toBe(0);
    const [video, audio] = probe('cut.mp4').streams;
    expect(video!['nb_frames']).toBe('20');
    expect(Number(audio!['duration'])).toBeCloseTo(1, 1);
  });

  it.each([2, 0.4, 5])('stretches the sound to %d times its speed where that is wanted', (speed) => {
    expect(render({ ...LOOK, pace: { speed, stretchAudio: true } }, 'walk.mp4', 'stretched.mp4').status).toBe(
      0,
    );
    const { length, rises } = toneOf('stretched.mp4');
    expect(length).toBeCloseTo(FRAMES / 20 / speed, 1);
    expect(Math.abs(rises / toneOf('walk.mp4').rises - 1)).toBeLessThan(0.1);
  });

  it('crops it, to a size that encoders take', () => {
    const cropped = {
      tidy: { crop: { centre: [0.4, 0.5], size: [0.53, 0.53] } },
    };
    expect(render(cropped, 'walk.mp4', 'crop.mp4', ['--frames', '4-4'])).toMatchObject({ status: 0 });
    expect(probe('crop.mp4').streams[0]).toMatchObject({ width: 50, height: 28 });
    // The same cut by ffmpeg.
    const grey = (name: string, ...filters: string[]): Buffer =>
      ffmpeg(
        '-i',
        at(name),
        '-frames:v',
        '1',
        '-vf',
        [...filters, 'format=gray'].join(),
        '-f',
        'rawvideo',
        '-',
      );
    const ours = grey('crop.mp4');
    const theirs = grey('walk.mp4', 'select=eq(n\\,4)', 'crop=51:29:13:13:exact=1', 'scale=50:28');
    const off = ours.reduce((sum, value, i) => sum + Math.abs(value - theirs[i]!), 0) / ours.length;
    expect(off).toBeLessThan(6);
    expect(render(cropped, 'walk.mp4', 'crop.gif', ['--frames', '4-4'])).toMatchObject({ status: 0 });
    expect(probe('crop.gif').streams[0]).toMatchObject({ width: 51, height: 29 });
  });

  it.each(['mov', 'mkv', 'webm', 'gif'])('writes a .%s', (ending) => {
    expect(render(LOOK, 'walk.mp4', `soft.${ending}`, ['--frames', '3-12']).status).toBe(0);
    const raw = ffmpeg('-i', at(`soft.${ending}`), '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-');
    expect(raw.length).toBe(10 * SIZE.width * SIZE.height * 3);
  });

  describe('with presets', () => {
    const preset = (name: string, clip: Partial<ClipSettings> | null, more: object = {}): ExportPreset =>
      exportPresetSchema.parse({ kind: 'jpeg', name, clip, ...more });
    const made = (presets: readonly ExportPreset[], out: string, ...more: string[]) => {
      writeFileSync(at('presets.json'), presetsText(presets));
      return render(LOOK, 'walk.mp4', out, ['--presets', at('presets.json'), ...more]);
    };

    it('is written once with each that is for footage, in its kind, size and quality', () => {
      const small = { size: { by: 'long-edge', px: 63 } };
      const result = made(
        [
          preset('Full', { kind: 'mp4', quality: 90 }),
          preset('Small', { kind: 'mp4', quality: 40 }, { ...small, pattern: '{name} {recipe}' }),
          preset('Rated', { kind: 'webm', holds: 'bitrate', rate: 0.2 }),
          preset('Deep', { kind: 'webm-10' }),
          preset('New', { kind: 'mp4-av1' }),
          preset('Loop', { kind: 'webp' }, small),
          preset('Stills', { kind: 'jpeg' }, small),
          preset('Pictures', null),
        ],
        'many',
        '--frames',
        '3-8',
      );
      expect(result).toMatchObject({ status: 0 });
      const lines = result.stdout
        .trim()
        .split('\n')
        .map((line) => JSON.parse(line) as { name?: string })
        .filter(({ name }) => name);
      expect(lines.map(({ name }) => name)).toEqual([
        'Full/walk edit.mp4',
        'Small/walk r.mp4',
        'Rated/walk edit.webm',
        'Deep/walk edit.webm',
        'New/walk edit.mp4',
        'Loop/walk edit.webp',
        'Stills/walk edit',
      ]);
      const video = (name: string) => probe(`many/${name}`).streams[0]!;
      expect(video('Full/walk edit.mp4')).toMatchObject({ codec_name: 'h264', width: 96, height: 54 });
      expect(video('Small/walk r.mp4')).toMatchObject({ codec_name: 'h264', width: 62, height: 34 });
      expect(video('Rated/walk edit.webm')).toMatchObject({ codec_name: 'vp9', pix_fmt: 'yuv420p' });
      expect(video('Deep/walk edit.webm')).toMatchObject({ codec_name: 'vp9', pix_fmt: 'yuv420p10le' });
      expect(video('New/walk edit.mp4')).toMatchObject({ codec_name: 'av1' });
      expect(readdirSync(at('many/Stills/walk edit')).length).toBe(6);
      expect(readFileSync(at('many/Loop/walk edit.webp')).includes('ANIM')).toBe(true);
      // What is written smaller is what the whole is, made smaller.
      const grey = (name: string): Buffer =>
        ffmpeg('-i', at(`many/${name}`), '-frames:v', '1', '-vf', 'scale=62:34:flags=area,format=gray', '-f', 'rawvideo', '-'); // prettier-ignore
      const [whole, part] = [grey('Full/walk edit.mp4'), grey('Small/walk r.mp4')];
      const off = whole.reduce((sum, value, i) => sum + Math.abs(value - part[i]!), 0) / whole.length;
      expect(off).toBeLessThan(10);
    });

    it('takes the sound along, and says where none is for footage', () => {
      expect(made([preset('Full', { kind: 'mp4' })], 'one').status).toBe(0);
      expect(probe('one/walk edit.mp4').streams.length).toBe(2);
      expect(made([preset('Pictures', null)], 'none').stderr).toContain('none of them is for footage');
      expect(made([preset('Full', {})], 'one.mp4').stderr).toContain('--out must be a folder');
    });
  });

  it('goes from pictures to a clip, and from a clip to pictures', async () => {
    mkdirSync(at('frames'), { recursive: true });
    expect(render({}, 'walk.mp4', 'frames').status).toBe(0);
    const names = readdirSync(at('frames'));
    expect(names.length).toBe(FRAMES);
    expect(render(LOOK, 'frames', 'again.mp4', ['--fps', '25']).status).toBe(0);
    expect(probe('again.mp4').streams[0]).toMatchObject({ r_frame_rate: '25/1', color_space: 'bt709' });
    // Nothing was done to them: they have the light of the clip's frames.
    const ours = await sharp(at('frames/frame-00009.png')).raw().toBuffer();
    const luma = planes('walk.mp4')[9]!;
    let off = 0;
    for (let i = 0; i < SIZE.width * SIZE.height; i++) {
      const [r, g, b] = [ours[3 * i]!, ours[3 * i + 1]!, ours[3 * i + 2]!];
      off += Math.abs(((0.299 * r + 0.587 * g + 0.114 * b) * 219) / 255 + 16 - luma[i]!);
    }
    expect(off / (SIZE.width * SIZE.height)).toBeLessThan(2);
  });

  it('turns a clip upright that was taken upright, and keeps its whole range', async () => {
    const turn = ['-metadata:s:v:0', 'rotate=90'];
    ffmpeg('-i', at('walk.mp4'), '-c', 'copy', '-an', ...turn, at('upright.mp4'));
    const turned = await ClipFrames.open(at('upright.mp4'));
    expect([turned.width, turned.height]).toEqual([SIZE.height, SIZE.width]);
    expect((await turned.at(0)).data.length).toBe((SIZE.width * SIZE.height * 3) / 2);
    await turned.close();
    ffmpeg(
      ...[
        '-f',
        'lavfi',
        '-i',
        'color=white:s=96x54',
        '-frames:v',
        '3',
        '-vf',
        'scale=out_range=full,format=yuvj420p',
      ],
      ...['-c:v', 'libx264', '-color_range', 'pc', at('full.mp4')],
    );
    const full = await ClipFrames.open(at('full.mp4'));
    expect(isYuv(full.format) && full.format.range).toBe('full');
    const luma = (await full.at(1)).data.subarray(0, SIZE.width * SIZE.height);
    expect(Math.max(...luma)).toBeGreaterThan(240);
    await full.close();
  });

  it('goes on from parts that are finished, and only with the same recipe', async () => {
    ffmpeg('-f', 'lavfi', '-i', SCENE, '-frames:v', '260', '-c:v', 'libx264', at('long.mp4'));
    expect(render(LOOK, 'long.mp4', 'whole.mp4').status).toBe(0);
    const recipe = parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...LOOK });
    const out = at('stopped.mp4');
    const parts = `${out}.parts`;
    const rendered: number[] = [];
    const run = async (until: number): Promise<void> => {
      const open = await OpenFootage.open(
        {
          recipe,
          recipePath: at('r.json'),
          input: at('long.mp4'),
          fps: null,
          output: { clip: out },
          metadata: 'none',
          encoding: AS_SOURCE,
        },
        threads,
      );
      const renderPart = open.renderPart.bind(open);
      open.renderPart = (folder, from, to, onFrame) => {
        if (from >= until) return Promise.reject(new Error('power cut'));
        rendered.push(from);
        return renderPart(folder, from, to, onFrame);
      };
      await renderClipInParts(open, { clip: out }, [0, 259], 'key', null, () => undefined).finally(() =>
        open.close(),
      );
    };
    await expect(run(240)).rejects.toThrow('power cut');
    expect(existsSync(out)).toBe(false);
    await run(Infinity);
    expect(rendered).toEqual([0, 120, 240]);
    expect(readFileSync(out).equals(readFileSync(at('whole.mp4')))).toBe(true);
    expect(existsSync(parts)).toBe(false);
    // Parts of another recipe are made anew.
    mkdirSync(parts);
    writeFileSync(join(parts, 'made-of.txt'), 'something else');
    writeFileSync(join(parts, 'part-0000000.mp4'), 'no clip');
    expect(render(LOOK, 'long.mp4', 'stopped.mp4').status).toBe(0);
    expect(readFileSync(at('stopped.mp4')).equals(readFileSync(at('whole.mp4')))).toBe(true);
  });

  it('says what is wrong with a clip, and leaves nothing behind', () => {
    writeFileSync(at('empty.mp4'), '');
    writeFileSync(at('text.mp4'), 'This is no clip.');
    writeFileSync(at('half.mp4'), readFileSync(at('walk.mp4')).subarray(0, 9000));
    for (const name of ['empty.mp4', 'text.mp4', 'half.mp4']) {
      const { status, stderr } = render(LOOK, name, 'none.mp4');
      expect(status).toBe(2);
      expect(stderr).toContain(`${name}: can’t be read as a clip`);
      expect(stderr.trim().split('\n').length).toBe(1);
    }
    // A list of other files is no clip, whatever it is called: nothing of this machine is read through it.
    ffmpeg('-i', at('walk.mp4'), '-c', 'copy', at('walk.ts'));
    const segment = `#EXTM3U\n#EXT-X-TARGETDURATION:2\n#EXTINF:2,\n${at('walk.ts')}\n#EXT-X-ENDLIST\n`;
    writeFileSync(at('list.mp4'), segment);
    writeFileSync(at('parts.mp4'), `ffconcat version 1.0\nfile '${at('walk.mp4')}'\n`);
    for (const name of ['list.mp4', 'parts.mp4']) {
      const { status, stderr } = render(LOOK, name, 'none.mp4');
      expect(status, name).toBe(2);
      expect(stderr).toContain(`${name}: can’t be read as a clip`);
    }
    ffmpeg('-i', at('walk.mp4'), '-vn', '-c', 'copy', at('sound.mp4'));
    expect(render(LOOK, 'sound.mp4', 'none.mp4').stderr).toContain('no video found');
    // Its index comes first, and says more than there is.
    ffmpeg('-i', at('walk.mp4'), '-c', 'copy', '-movflags', '+faststart', at('fast-start.mp4'));
    const whole = readFileSync(at('fast-start.mp4'));
    writeFileSync(at('broken.mp4'), whole.subarray(0, Math.floor(whole.length * 0.7)));
    const broken = render(LOOK, 'broken.mp4', 'none.mp4');
    expect(broken.status).toBe(2);
    expect(broken.stderr).toMatch(/broken\.mp4: ends after frame \d+ of 40/);
    expect(existsSync(at('none.mp4'))).toBe(false);
    const over = render(LOOK, 'walk.mp4', 'walk.mp4');
    expect(over.status).toBe(2);
    expect(over.stderr).toContain('would be overwritten');
    expect(render(LOOK, 'walk.mp4', 'one.png').stderr).toContain('to a clip, or to a folder');
    expect(render(LOOK, 'walk.mp4', 'late.mp4', ['--frames', '30-90']).stderr).toContain('the last is 39');
  });

  it('says how to get ffmpeg where there is none', () => {
    const { status, stderr } = render(LOOK, 'walk.mp4', 'none.mp4', [], { ...process.env, PATH: '/nowhere' });
    expect(status).toBe(2);
    expect(stderr).toContain('sudo apt-get install ffmpeg');
  });
});
