/*
 * Colours as a table in the open .cube format (Adobe, "Cube LUT Specification", version 1.0): for each step of red, green and
 * blue of the coded picture the coded colour that comes of it, red going fastest.
 */

/** Steps of each channel that a table is written with: what lies between them is read in a straight line. */
export const CUBE_SIZE = 33;

/** A picture that holds every colour of a table's grid once, in the table's order: 16-bit RGB, `size`² wide and `size` high. */
export function cubeGrid(size: number): {
  width: number;
  height: number;
  samples: Uint16Array<SharedArrayBuffer>;
} {
  const samples = new Uint16Array(new SharedArrayBuffer(size ** 3 * 6));
  const level = (i: number): number => Math.round((i * 65535) / (size - 1));
  for (let i = 0; i < size ** 3; i++)
    samples.set(
      [level(i % size), level(Math.floor(i / size) % size), level(Math.floor(i / size ** 2))],
      i * 3,
    );
  return { width: size ** 2, height: size, samples };
}

/** The text of a .cube file. @param samples what became of `cubeGrid`, in its order. @param title what it is called. */
export function cubeText(title: string, size: number, samples: ArrayLike<number>): string {
  const lines = [
    `TITLE "${title.replace(/["\r\n]/g, ' ')}"`,
    `LUT_3D_SIZE ${size}`,
    'DOMAIN_MIN 0.0 0.0 0.0',
    'DOMAIN_MAX 1.0 1.0 1.0',
  ];
  for (let i = 0; i < size ** 3; i++)
    lines.push([0, 1, 2].map((c) => (samples[i * 3 + c]! / 65535).toFixed(6)).join(' '));
  return `${lines.join('\n')}\n`;
}
