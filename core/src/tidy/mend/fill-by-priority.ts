import { HALF, type MaskedImage, type Patches } from './patch-match';

/**
 * A first thought of what is in a hole: from its edge inwards, where most is known and lines run into it first, the patch
 * most like what is known around a place is copied there (A. Criminisi, P. Pérez, K. Toyama, "Region filling and object
 * removal by exemplar-based image inpainting", IEEE TIP 2004). @param picture its hole is filled in place.
 */
export function fillByPriority(picture: MaskedImage, patches: Patches): void {
  const { width, height, colours, hole } = picture;
  const open = Uint8Array.from(hole);
  const sure = Float32Array.from(hole, (is) => 1 - is);
  const inPatch = (p: number, visit: (at: number, dx: number, dy: number) => void): void => {
    const [px, py] = [p % width, Math.floor(p / width)];
    for (let y = Math.max(0, py - HALF); y <= Math.min(height - 1, py + HALF); y++)
      for (let x = Math.max(0, px - HALF); x <= Math.min(width - 1, px + HALF); x++)
        visit(y * width + x, x - px, y - py);
  };
  const light = (at: number): number => colours[at * 3]! + colours[at * 3 + 1]! + colours[at * 3 + 2]!;
  /** How much is known around a place on the edge, and how strongly a line runs into the hole there. */
  const priority = (p: number): number => {
    let known = 0;
    let line = 0;
    inPatch(p, (at) => (known += sure[at]!));
    const x = p % width;
    const [nx, ny] = [
      (open[Math.min(p + 1, open.length - 1)] ?? 0) - (open[Math.max(0, p - 1)] ?? 0),
      (open[p + width] ?? 0) - (open[p - width] ?? 0),
    ];
    inPatch(p, (at, dx, dy) => {
      // A gradient is only known where both its ends are.
      if (dx >= HALF || dy >= HALF || x + dx + 1 >= width || at + width >= open.length) return;
      if (open[at] || open[at + 1] || open[at + width]) return;
      const [gx, gy] = [light(at + 1) - light(at), light(at + width) - light(at)];
      line = Math.max(line, Math.abs(nx * gy - ny * gx));
    });
    return (known / (2 * HALF + 1) ** 2) * (0.02 + line);
  };
  const isEdge = (p: number): boolean => {
    if (open[p] === 0) return false;
    const x = p % width;
    return (
      (x > 0 && open[p - 1] === 0) ||
      (x < width - 1 && open[p + 1] === 0) ||
      (p >= width && open[p - width] === 0) ||
      (p + width < open.length && open[p + width] === 0)
    );
  };
  for (;;) {
    let [next, most] = [-1, -1];
    for (let p = 0; p < open.length; p++) {
      if (!isEdge(p)) continue;
      const value = priority(p);
      if (value > most) [next, most] = [p, value];
    }
    if (next < 0) return;
    patches.show(Float32Array.from(open, (is) => 1 - is));
    const from = patches.best(next);
    if (from < 0) return;
    let mean = 0;
    let count = 0;
    inPatch(next, (at) => {
      mean += sure[at]!;
      count++;
    });
    inPatch(next, (at, dx, dy) => {
      if (open[at] === 0) return;
      const source = from + dy * width + dx;
      for (let c = 0; c < 3; c++) colours[at * 3 + c] = colours[source * 3 + c]!;
      sure[at] = mean / count;
      open[at] = 0;
    });
  }
}
