/** A scene for a sensor: linear light of its red, green and blue, 1 is white. */
export type SceneLight = (x: number, y: number) => readonly [number, number, number];

export interface RawWish {
  width: number;
  height: number;
  /** The primaries that the sensor has, scaled. */
  primaries?: keyof typeof FROM_XYZ;
  light: SceneLight;
  /** What the sensor makes of white: how much of each colour. */
  neutral?: readonly [number, number, number];
  /** Deviation of the noise in the dark, and photons at white; null for a sensor without noise. */
  noise?: { dark: number; photons: number } | null;
  /** As in TIFF: 1 is upright, 6 is turned clockwise by 90° to be upright. */
  orientation?: 1 | 3 | 6 | 8;
  /** A JPEG that the camera made of it. */
  preview?: { width: number; height: number; bytes: Uint8Array };
}

const [WHITE, BLACK] = [4095, 256];
/** XYZ under D65 to linear sRGB (IEC 61966-2-1) and Display P3 (SMPTE EG 432-1 under D65). */
const FROM_XYZ = {
  srgb: [
    [3.2404542, -1.5371385, -0.4985314],
    [-0.969266, 1.8760108, 0.041556],
    [0.0556434, -0.2040259, 1.0572252],
  ],
  'display-p3': [
    [2.4934969, -0.9313836, -0.4027108],
    [-0.829489, 1.7626641, 0.0236247],
    [0.0358458, -0.0761724, 0.9568845],
  ],
} as const;
/** Which colour each place of a two by two block of the sensor sees: RGGB. */
const PATTERN = [0, 1, 1, 2] as const;

const [BYTE, ASCII, SHORT, LONG, RATIONAL, SIGNED_RATIONAL] = [1, 2, 3, 4, 5, 10];
const SIZES: Record<number, number> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 10: 8 };
type Field = [tag: number, type: number, values: number[]];

/** Normal deviates, the same for the same seed (Box and Muller over a linear congruential generator). */
function deviates(): () => number {
  let state = 12345;
  const next = (): number => ((state = (Math.imul(state, 1664525) + 1013904223) >>> 0) + 0.5) / 2 ** 32;
  return () => Math.sqrt(-2 * Math.log(next())) * Math.cos(2 * Math.PI * next());
}

/** A DNG (1.4) of 12 bits, as a camera with a filter of RGGB takes a scene. */
export function rawFile(wish: RawWish): Uint8Array<ArrayBuffer> {
  const { width, height, light, neutral = [0.5, 1, 0.6], noise = null, orientation = 1, preview } = wish;
  const deviate = deviates();
  const samples = new Uint16Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const c = PATTERN[(y & 1) * 2 + (x & 1)]!;
      const seen = Math.max(0, light(x, y)[c]!) * neutral[c]!;
      const grain = noise ? deviate() * Math.hypot(noise.dark, Math.sqrt(seen / noise.photons)) : 0;
      samples[y * width + x] = Math.round(
        BLACK + (WHITE - BLACK) * Math.min(1, Math.max(-BLACK / WHITE, seen + grain)),
      );
    }
  const ascii = (text: string): number[] => [...Buffer.from(`${text}\0`, 'latin1')];
  const ratio = (value: number): number[] => [Math.round(value * 1e6), 1e6];
  const fields: Field[] = [
    [254, LONG, [0]],
    [256, LONG, [width]],
    [257, LONG, [height]],
    [258, SHORT, [16]],
    [259, SHORT, [1]],
    [262, SHORT, [32803]],
    [271, ASCII, ascii('Orrin')],
    [272, ASCII, ascii('Bank One')],
    [273, LONG, [0]],
    [274, SHORT, [orientation]],
    [277, SHORT, [1]],
    [278, LONG, [height]],
    [279, LONG, [2 * samples.length]],
    [284, SHORT, [1]],
    [33421, SHORT, [2, 2]],
    [33422, BYTE, [...PATTERN]],
    [50706, BYTE, [1, 4, 0, 0]],
    [50707, BYTE, [1, 1, 0, 0]],
    [50708, ASCII, ascii('Orrin Bank One')],
    [50714, SHORT, [BLACK]],
    [50717, LONG, [WHITE]],
    [
      50721,
      SIGNED_RATIONAL,
      FROM_XYZ[wish.primaries ?? 'srgb'].flatMap((row, c) =>
        row.flatMap((value) => ratio(value * neutral[c]!)),
      ),
    ],
    [50728, RATIONAL, neutral.flatMap(ratio)],
    [50778, SHORT, [21]],
  ];
  const head = Buffer.alloc(8);
  head.write('II');
  head.writeUInt16LE(42, 2);
  head.writeUInt32LE(8, 4);
  const directory = Buffer.alloc(2 + 12 * fields.length + 4);
  directory.writeUInt16LE(fields.length, 0);
  const extra: Buffer[] = [];
  let at = 8 + directory.length;
  let pixelsAt = 0;
  for (const [i, [tag, type, values]] of fields.entries()) {
    const size = SIZES[type]!;
    const numbers = size === 8 ? 4 : size;
    const bytes = Buffer.alloc(values.length * numbers);
    for (const [k, value] of values.entries()) {
      if (numbers === 1) bytes[k] = value;
      else if (numbers === 2) bytes.writeUInt16LE(value, 2 * k);
      else bytes.writeInt32LE(value, 4 * k);
    }
    const entry = 2 + 12 * i;
    directory.writeUInt16LE(tag, entry);
    directory.writeUInt16LE(type, entry + 2);
    directory.writeUInt32LE(bytes.length / size, entry + 4);
    if (tag === 273) pixelsAt = entry + 8;
    else if (bytes.length <= 4) bytes.copy(directory, entry + 8);
    else {
      directory.writeUInt32LE(at, entry + 8);
      extra.push(bytes, Buffer.alloc(bytes.length & 1));
      at += bytes.length + (bytes.length & 1);
    }
  }
  directory.writeUInt32LE(at, pixelsAt);
  const body = [head, directory, ...extra, Buffer.from(samples.buffer)];
  if (!preview) return Uint8Array.from(Buffer.concat(body));
  at += 2 * samples.length;
  directory.writeUInt32LE(at, directory.length - 4);
  return Uint8Array.from(Buffer.concat([...body, previewDirectory(preview, at)]));
}

/** A directory for a small picture, and its bytes. @param at where it lies in the file. */
function previewDirectory({ width, height, bytes }: NonNullable<RawWish['preview']>, at: number): Buffer {
  const fields = [
    [254, LONG, 1],
    [256, LONG, width],
    [257, LONG, height],
    [258, SHORT, 8],
    [259, SHORT, 7],
    [262, SHORT, 6],
    [273, LONG, at + 2 + 12 * 9 + 4],
    [277, SHORT, 3],
    [279, LONG, bytes.length],
  ] as const;
  const directory = Buffer.alloc(2 + 12 * fields.length + 4);
  directory.writeUInt16LE(fields.length, 0);
  for (const [i, [tag, type, value]] of fields.entries()) {
    const entry = 2 + 12 * i;
    directory.writeUInt16LE(tag, entry);
    directory.writeUInt16LE(type, entry + 2);
    directory.writeUInt32LE(1, entry + 4);
    if (type === SHORT) directory.writeUInt16LE(value, entry + 8);
    else directory.writeUInt32LE(value, entry + 8);
  }
  return Buffer.concat([directory, bytes]);
}
