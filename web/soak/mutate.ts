/** Random numbers that are the same every time (T. Ettinger's mulberry32). */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const HUGE = [0, 1, 0x7f, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0xffffffff];

/** A file spoilt in one of the ways in which files are: bytes flipped, cut, repeated, another's put in, numbers made huge. */
export function mutated(file: Uint8Array, others: readonly Uint8Array[], random: () => number): Uint8Array {
  // A Buffer's own slice would be the same memory.
  const copy = Uint8Array.from(file);
  const place = (length = copy.length): number => Math.floor(random() * length);
  // Half of the time it is the header that suffers.
  const early = (): number => place(random() < 0.5 ? Math.min(copy.length, 200) : copy.length);
  switch (place(6)) {
    case 0:
      for (let i = 1 + place(12); i > 0; i--) copy[early()] = place(256);
      return copy;
    case 1:
      return copy.subarray(0, place());
    case 2: {
      const [from, to] = [place(), place()].sort((a, b) => a - b) as [number, number];
      return Uint8Array.from([...copy.subarray(0, from), ...copy.subarray(to)]);
    }
    case 3: {
      const other = others[place(others.length)]!;
      const from = place();
      return Uint8Array.from([...copy.subarray(0, from), ...other.subarray(place(other.length))]);
    }
    case 4: {
      const view = new DataView(copy.buffer);
      for (let i = 1 + place(4); i > 0; i--) {
        const at = early();
        const value = HUGE[place(HUGE.length)]!;
        if (at + 4 <= copy.length) view.setUint32(at, value, random() < 0.5);
      }
      return copy;
    }
    default: {
      const from = place();
      const piece = copy.subarray(from, from + 1 + place(64));
      return Uint8Array.from([...copy.subarray(0, from), ...piece, ...piece, ...copy.subarray(from)]);
    }
  }
}
