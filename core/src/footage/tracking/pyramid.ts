/** A grey picture of floats, row by row. */
export interface Grey {
  width: number;
  height: number;
  data: Float32Array;
}

/** Halvings of a grey picture: the picture itself first. */
export type Pyramid = readonly Grey[];

export function greyOf(luma: Uint8Array, width: number, height: number): Grey {
  const data = new Float32Array(width * height);
  data.set(luma.subarray(0, data.length));
  return { width, height, data };
}

/** Half the size, each sample the mean of four; an odd last row or column is left out. */
export function halved({ width, height, data }: Grey): Grey {
  const half = { width: Math.max(1, width >> 1), height: Math.max(1, height >> 1) };
  const out = new Float32Array(half.width * half.height);
  const [dx, dy] = [width > 1 ? 1 : 0, height > 1 ? width : 0];
  for (let y = 0, o = 0; y < half.height; y++)
    for (let x = 0, i = 2 * y * width; x < half.width; x++, i += 2, o++)
      out[o] = 0.25 * (data[i]! + data[i + dx]! + data[i + dy]! + data[i + dx + dy]!);
  return { ...half, data: out };
}

/** The picture and so many halvings, fewer where it gets too small. */
export function pyramidOf(grey: Grey, levels: number): Pyramid {
  const list = [grey];
  while (list.length < levels && Math.min(list.at(-1)!.width, list.at(-1)!.height) >= 64)
    list.push(halved(list.at(-1)!));
  return list;
}
