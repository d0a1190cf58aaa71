/*
 * Colour profiles that files carry (ICC.1:2022), their primaries under daylight, adapted to D50 by Bradford's matrix: Display
 * P3 (SMPTE EG 432-1) with the transfer of sRGB, and linear light of sRGB.
 */

const NOTICE = 'No copyright, use freely';
export type Columns = Readonly<Record<'rXYZ' | 'gXYZ' | 'bXYZ', readonly number[]>>;

/** X, Y and Z of red, green and blue, adapted. */
export const P3_COLUMNS: Columns = {
  rXYZ: [0.51512146, 0.24119568, -0.00105286],
  gXYZ: [0.29197693, 0.69224548, 0.04188538],
  bXYZ: [0.15710449, 0.0665741, 0.78407288],
};
export const SRGB_COLUMNS: Columns = {
  rXYZ: [0.43606567, 0.2224884, 0.01391602],
  gXYZ: [0.38514709, 0.71687317, 0.09707642],
  bXYZ: [0.14306641, 0.06060791, 0.71409607],
};
const D50 = [0.9642, 1, 0.8249] as const;
const ADAPTATION = [
  1.04788208, 0.0229187, -0.05021667, 0.02958679, 0.99047852, -0.01707458, -0.00923157, 0.01507568,
  0.75167847,
] as const;
/** ((x + 0.055) / 1.055)^2.4 above 0.04045, else x / 12.92: gamma, a, b, c and d of a curve of kind 3. */
const TRANSFER = [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045] as const;
/** Bytes before a profile’s table of tags. */
export const PROFILE_HEADER = 128;

const ascii = (text: string): number[] => Array.from(text, (one) => one.charCodeAt(0));
const uint32 = (value: number): number[] => [24, 16, 8, 0].map((bits) => (value >>> bits) & 255);
const fixed = (value: number): number[] => uint32(Math.round(value * 65536));

const text = (words: string): number[] => [
  ...ascii('mluc'),
  ...uint32(0),
  ...uint32(1),
  ...uint32(12),
  ...ascii('enUS'),
  ...uint32(2 * words.length),
  ...uint32(28),
  ...ascii(words).flatMap((code) => [0, code]),
];
const numbers = (kind: string, values: readonly number[]): number[] => [
  ...ascii(kind),
  ...uint32(0),
  ...values.flatMap(fixed),
];

/** The bytes of a profile of Display P3. */
export const displayP3Profile = (): Uint8Array<ArrayBuffer> =>
  profileOf('Display P3', P3_COLUMNS, [0, 3], TRANSFER);

/** The bytes of a profile of linear light of the sRGB primaries. */
export const linearSrgbProfile = (): Uint8Array<ArrayBuffer> =>
  profileOf('sRGB linear', SRGB_COLUMNS, [0, 0], [1]);

/** @param kind of the curve, in two bytes, and its numbers (10.18, `parametricCurveType`). */
function profileOf(
  name: string,
  columns: Columns,
  kind: readonly [number, number],
  numbersOfCurve: readonly number[],
): Uint8Array<ArrayBuffer> {
  const curve = [...ascii('para'), ...uint32(0), ...kind, 0, 0, ...numbersOfCurve.flatMap(fixed)];
  const parts: [string[], number[]][] = [
    [['desc'], text(name)],
    [['cprt'], text(NOTICE)],
    [['wtpt'], numbers('XYZ ', D50)],
    [['chad'], numbers('sf32', ADAPTATION)],
    ...Object.entries(columns).map(([tag, xyz]): [string[], number[]] => [[tag], numbers('XYZ ', xyz)]),
    [['rTRC', 'gTRC', 'bTRC'], curve],
  ];
  const tags = parts.flatMap(([names]) => names).length;
  const table: number[] = uint32(tags);
  const data: number[] = [];
  for (const [names, bytes] of parts) {
    const at = PROFILE_HEADER + 4 + 12 * tags + data.length;
    for (const name of names) table.push(...ascii(name), ...uint32(at), ...uint32(bytes.length));
    data.push(...bytes, ...Array<number>((4 - (bytes.length % 4)) % 4).fill(0));
  }
  const size = PROFILE_HEADER + table.length + data.length;
  const header = [
    ...uint32(size),
    ...uint32(0),
    ...uint32(0x04300000),
    ...ascii('mntrRGB XYZ '),
    // A day that never changes: the same bytes each time.
    ...[2026, 1, 1, 0, 0, 0].flatMap((part) => [part >> 8, part & 255]),
    ...ascii('acsp'),
    ...Array<number>(28).fill(0),
    ...D50.flatMap(fixed),
  ];
  return Uint8Array.from([
    ...header,
    ...Array<number>(PROFILE_HEADER - header.length).fill(0),
    ...table,
    ...data,
  ]);
}
