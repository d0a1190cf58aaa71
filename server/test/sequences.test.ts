import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const program = fileURLToPath(new URL('../dist/render.mjs', import.meta.url));

describe('the command line over many pictures', () => {
  let folder: string;

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'hazy-lens-'));
    mkdirSync(join(folder, 'in'));
    const files: Record<string, Uint8Array> = {};
    for (let i = 1; i <= 12; i++) {
      const bytes = await sharp(frame(i), { raw: { width: 60, height: 40, channels: 3 } })
        .png()
        .toBuffer();
      writeFileSync(join(folder, 'in', `walk ${i}.png`), bytes);
      files[`frames/walk ${i}.png`] = bytes;
    }
    writeFileSync(join(folder, 'in.zip'), zipSync(files, { level: 0 }));
  });
  afterAll(() => rmSync(folder, { recursive: true }));

  /** Stripes that move on; frame i is 10 i brighter at its edge. */
  const frame = (i: number): Uint8Array =>
    Uint8Array.from({ length: 60 * 40 * 3 }, (_, k) => (k < 180 ? 10 * i : (k + 9 * i) % 90 < 45 ? 60 : 180));

  const render = (recipe: object, input: string, out: string, ...more: string[]) => {
    const path = join(folder, 'recipe.json');
    writeFileSync(path, JSON.stringify({ format: 'hazy-lens-recipe', version: 1, ...recipe }));
    const args = [
      program,
      '--recipe',
      path,
      '--in',
      join(folder, input),
      '--out',
      join(folder, out),
      ...more,
    ];
    const { status, stdout, stderr } = spawnSync(process.execPath, [...args, '--workers', '2'], {
      encoding: 'utf8',
    });
    return { status, stdout, stderr, lines: stdout.trim().split('\n') };
  };
  const bytesOf = (out: string): Record<string, string> =>
    Object.fromEntries(
      readdirSync(join(folder, out)).map((name) => [name, readFileSync(join(folder, out, name), 'base64')]),
    );
  const edge = async (out: string, i: number): Promise<number> => {
    const name = `frame-${String(i).padStart(5, '0')}.png`;
    return (
      await sharp(join(folder, out, name))
        .raw()
        .toBuffer()
    )[0]!;
  };

  const look = {
    focus: { bands: [{ id: 'b', kind: 'planar' }] },
    blur: { radius: 0.02 },
    keys: [{ of: 'blur/radius', at: 0, value: 0 }, { of: 'blur/radius', at: 0.4, value: 0.03 }], // prettier-ignore
    pace: { blend: 0.6, speed: 1.5, deflicker: { amount: 0.5 } },
  };

  it('renders a folder as footage: two halves equal the whole, byte for byte, and so does a zip', () => {
    const whole = render(look, 'in', 'whole');
    expect(whole).toMatchObject({ status: 0, stderr: '' });
    expect(JSON.parse(whole.stdout)).toMatchObject({ frames: 8, fps: 30, width: 60, height: 40 });
    expect(render(look, 'in', 'first', '--frames', '0-3').status).toBe(0);
    expect(render(look, 'in', 'second', '--frames', '4-7').status).toBe(0);
    expect(render(look, 'in.zip', 'zipped').status).toBe(0);
    expect({ ...bytesOf('first'), ...bytesOf('second') }).toEqual(bytesOf('whole'));
    expect(bytesOf('zipped')).toEqual(bytesOf('whole'));
  });

  it('gives one frame one look, at whatever speed, rate and way it is shown', () => {
    const centre = (at: number, y: number) => ({ of: 'focus/bands/b/centre', at, value: [0.5, y] });
    const how = {
      focus: look.focus,
      blur: { radius: 0.02 },
      finish: { grain: { amount: 0.2 } },
      keys: [centre(0, 0.1), centre(0.35, 0.9)],
    };
    const paced = (out: string, pace: object): string[] => {
      const { status, stderr } = render({ ...how, pace: { deflicker: { amount: 1 }, ...pace } }, 'in', out);
      expect([status, stderr]).toEqual([0, '']);
      return Object.values(bytesOf(out));
    };
    const plain = paced('plain', {});
    expect(new Set(plain).size).toBe(12);
    const shown = (pictures: string[]): number[] => pictures.map((bytes) => plain.indexOf(bytes));
    expect(shown(paced('half', { speed: 0.5 }))).toEqual(Array.from({ length: 24 }, (_, i) => i >> 1));
    expect(shown(paced('quick', { speed: 1.5 }))).toEqual([0, 1, 3, 4, 6, 7, 9, 10]);
    expect(shown(paced('film', { fps: 24 }))).toEqual([0, 1, 2, 3, 5, 6, 7, 8, 10]);
    expect(shown(paced('back', { direction: 'reverse' }))).toEqual(plain.map((_, i) => 11 - i));
  });

  it('mends every frame: on the one that it was painted on, and where it is carried to', () => {
    const mend = (id: string, kind: string, x: number, more: object) => ({ id, kind, points: [[x, 0.5]], radius: 0.06, ...more }); // prettier-ignore
    const mends = [mend('a', 'fill', 0.3, { at: 0.1 }), mend('b', 'copy', 0.35, { from: [0.3, 0.1] })];
    const shift = (at: number, value: [number, number]) => ({ of: 'tidy/mends/a/carry/shift', at, value });
    const how = { tidy: { mends }, keys: [shift(0, [0, 0]), shift(0.3, [0.3, 0.1])], pace: {} };
    expect(render(how, 'in', 'mended')).toMatchObject({ status: 0, stderr: '' });
    expect(render(how, 'in', 'mended-end', '--frames', '7-11').status).toBe(0);
    expect(render({ ...how, tidy: {}, keys: [] }, 'in', 'bare').status).toBe(0);
    const [made, bare] = [bytesOf('mended'), bytesOf('bare')];
    expect(made).toMatchObject(bytesOf('mended-end'));
    for (const [name, bytes] of Object.entries(bare)) expect(made[name]).not.toBe(bytes);
  });

  it('takes the frames in natural order, at the pace and rate that are asked for', async () => {
    const { status } = render({ pace: { direction: 'reverse', fps: 10 } }, 'in', 'reversed', '--fps', '10');
    expect(status).toBe(0);
    expect([await edge('reversed', 0), await edge('reversed', 11)]).toEqual([120, 10]);
  });

  it('renders each by itself where nothing is said of time; the good are written, the bad named', () => {
    mkdirSync(join(folder, 'mixed'));
    for (const n of [1, 2])
      writeFileSync(join(folder, 'mixed', `p${n}.png`), readFileSync(join(folder, 'in', `walk ${n}.png`)));
    writeFileSync(join(folder, 'mixed', 'broken.jpg'), 'no picture');
    const { status, stderr, lines } = render({ blur: { radius: 0.01 } }, 'mixed', 'each');
    expect(status).toBe(3);
    expect(stderr).toMatch(/^broken\.jpg: can’t be read as a picture/);
    expect(lines.map((line) => (JSON.parse(line) as { name: string }).name)).toEqual(['p1.png', 'p2.png']);
    expect(readdirSync(join(folder, 'each')).sort()).toEqual(['p1.png', 'p2.png']);
  });

  it('says plainly what it cannot do', () => {
    mkdirSync(join(folder, 'empty'));
    writeFileSync(join(folder, 'bad.zip'), 'PK no zip');
    for (const [result, text] of [
      [render(look, 'empty', 'o'), 'no pictures found'],
      [render(look, 'bad.zip', 'o'), 'can’t be read as a zip'],
      [render(look, 'in', 'o', '--frames', '5-2'), '--frames: must be like 0-99'],
      [render(look, 'in', 'o', '--frames', '0-99'), '--frames: the clip has 8 frames'],
      [render(look, 'in', 'o', '--fps', 'fast'), '--fps: must be a number'],
      [render(look, 'in', 'o', '--map', 'm.png'), '--map works with a single picture only'],
      [render({}, 'in', 'o', '--frames', '0-1'), '--frames: is for footage'],
      [render({ keys: [{ of: 'blur/width', at: 0, value: 1 }] }, 'in', 'o'), 'keys[0].of'],
    ] as const) {
      expect(result.status, text).toBe(2);
      expect(result.stderr).toContain(text);
      expect(result.stderr.trim().split('\n')).toHaveLength(1);
    }
  });

  it('names the frame that is not as the first', async () => {
    mkdirSync(join(folder, 'sizes'));
    for (const n of [1, 2, 3]) {
      const size = n === 2 ? { width: 61, height: 40 } : { width: 60, height: 40 };
      const picture = sharp({ create: { ...size, channels: 3, background: '#446688' } });
      writeFileSync(join(folder, 'sizes', `s${n}.png`), await picture.png().toBuffer());
    }
    const { status, stderr } = render({ pace: {} }, 'sizes', 'o');
    expect([status, stderr.trim()]).toEqual([2, 's2.png: 61 x 40, 8-bit, doesn’t match the first frame.']);
  });
});
