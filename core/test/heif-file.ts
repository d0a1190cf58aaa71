import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A picture of a HEIF file: a coded frame, and the box that its decoder needs. */
export interface CodedStill {
  width: number;
  height: number;
  hvcC: Uint8Array;
  frame: Uint8Array;
}

const ascii = (text: string): Uint8Array => Buffer.from(text, 'latin1');
const u16 = (...values: number[]): Uint8Array =>
  Uint8Array.from(values.flatMap((value) => [value >> 8, value & 255]));
const u32 = (...values: number[]): Uint8Array =>
  u16(...values.flatMap((value) => [value >>> 16, value & 0xffff]));
const box = (type: string, ...parts: Uint8Array[]): Uint8Array => {
  const body = Buffer.concat(parts);
  return Buffer.concat([u32(body.length + 8), ascii(type), body]);
};
const full = (type: string, ...parts: Uint8Array[]): Uint8Array => box(type, u32(0), ...parts);

/**
 * A HEIF file of a picture with another one that is auxiliary to it (ISO/IEC 23008-12): items 1 and 2.
 * @param kind of the auxiliary picture. @param messages about it, behind their length.
 */
export function heifWith(
  picture: CodedStill,
  auxiliary: CodedStill,
  kind: string,
  messages: Uint8Array = Uint8Array.of(),
): Uint8Array {
  const both = [picture, auxiliary];
  const extents = (start: number): Uint8Array[] => {
    let at = start;
    return both.map(({ frame }, i) => {
      const entry = Buffer.concat([u16(i + 1, 0, 1), u32(at, frame.length)]);
      at += frame.length;
      return entry;
    });
  };
  const meta = (start: number): Uint8Array =>
    full(
      'meta',
      full('hdlr', u32(0), ascii('pict'), u32(0, 0, 0), ascii('\0')),
      full('pitm', u16(1)),
      full('iloc', u16(0x4400, 2), ...extents(start)),
      full(
        'iinf',
        u16(2),
        ...[1, 2].map((id) => box('infe', u32(0x2000000 + (id - 1)), u16(id, 0), ascii('hvc1\0'))),
      ),
      full('iref', box('auxl', u16(2, 1, 1))),
      box(
        'iprp',
        box(
          'ipco',
          ...both.flatMap(({ width, height, hvcC }) => [full('ispe', u32(width, height)), box('hvcC', hvcC)]),
          full('auxC', ascii(`${kind}\0`), messages),
        ),
        full('ipma', u32(2), u16(1), Uint8Array.of(2, 1, 0x82), u16(2), Uint8Array.of(3, 3, 0x84, 0x85)),
      ),
    );
  const head = box('ftyp', ascii('heic'), u32(0), ascii('mif1heic'));
  const start = head.length + meta(0).length + 8;
  return Buffer.concat([head, meta(start), box('mdat', ...both.map(({ frame }) => frame))]);
}

/** A message that says what a depth picture's values mean (H.265, F.14.2.7), as an auxiliary property has it. */
export function depthMessage(kind: number, near: number, far: number): Uint8Array {
  const bits: number[] = [];
  const put = (value: number, count: number): void => {
    for (let i = count - 1; i >= 0; i--) bits.push(Math.floor(value / 2 ** i) % 2);
  };
  const float = (value: number): void => {
    const exponent = Math.floor(Math.log2(value));
    put(0, 1);
    put(exponent + 31, 7);
    put(23, 5);
    put(Math.round((value / 2 ** exponent - 1) * 2 ** 24), 24);
  };
  put(0b1100, 4);
  const zeros = Math.floor(Math.log2(kind + 1));
  put(kind + 1, 2 * zeros + 1);
  float(near);
  float(far);
  while (bits.length % 8) bits.push(0);
  const payload = Uint8Array.from({ length: bits.length / 8 }, (_, i) =>
    Number.parseInt(bits.slice(8 * i, 8 * i + 8).join(''), 2),
  );
  const unit = Buffer.concat([Uint8Array.of(39 << 1, 1, 177, payload.length), payload]);
  return Buffer.concat([u32(unit.length + 4, unit.length), unit]);
}

/** A grey picture as a coded frame of a HEIF file, by ffmpeg: its MP4 has the box and the frame of one picture. */
export function greyStill(samples: Uint8Array, width: number, height: number): CodedStill {
  const folder = mkdtempSync(join(tmpdir(), 'hazy-lens-'));
  const path = join(folder, 'still.mp4');
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${width}x${height}`, '-i', '-'];
  const coded = ['-frames:v', '1', '-c:v', 'libx265', '-crf', '8', '-x265-params', 'log-level=none', path];
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', ...raw, ...coded], { input: samples });
  if (status !== 0) throw new Error(String(stderr));
  const file = readFileSync(path);
  rmSync(folder, { recursive: true });
  const box = (type: string): Uint8Array => {
    const at = file.indexOf(type);
    return file.subarray(at + 4, at - 4 + file.readUInt32BE(at - 4));
  };
  return { width, height, hvcC: box('hvcC'), frame: box('mdat') };
}
