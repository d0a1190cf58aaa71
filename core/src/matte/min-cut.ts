/*
 * The least cut of a grid of pixels, each joined to its eight neighbours, between a source and a sink: Boykov and
 * Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in vision", IEEE TPAMI
 * 26, 2004. Two trees grow from both ends; where they meet, flow is pushed, and what that cuts off is adopted anew.
 */

/** Directions to the neighbours; the opposite of k is 7 - k. */
export const NEIGHBOURS = [
  [-1, -1], [0, -1], [1, -1], [-1, 0], [1, 0], [-1, 1], [0, 1], [1, 1],
] as const; // prettier-ignore

const [FREE, SOURCE, SINK] = [0, 1, 2];
const [TERMINAL, ORPHAN, NONE] = [8, 9, 10];

export class GridCut {
  /** Width of the grid with a rim of one dead pixel, so that every pixel has eight neighbours in memory. */
  private readonly stride: number;
  private readonly offsets: Int32Array;
  private readonly capacity: Int32Array;
  /** What is left from the source (positive) or to the sink (negative). */
  private readonly terminal: Int32Array;
  private readonly tree: Uint8Array;
  private readonly parent: Uint8Array;
  private readonly distance: Int32Array;
  private readonly stamp: Int32Array;
  private readonly queue: Int32Array;
  private readonly queued: Uint8Array;
  private head = 0;
  private tail = 0;
  private time = 0;
  private orphans: number[] = [];

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.stride = width + 2;
    const count = this.stride * (height + 2);
    this.offsets = Int32Array.from(NEIGHBOURS, ([dx, dy]) => dy * this.stride + dx);
    this.capacity = new Int32Array(count * 8);
    this.terminal = new Int32Array(count);
    this.tree = new Uint8Array(count);
    this.parent = new Uint8Array(count).fill(NONE);
    this.distance = new Int32Array(count);
    this.stamp = new Int32Array(count);
    this.queue = new Int32Array(count + 1);
    this.queued = new Uint8Array(count);
  }

  /** Cost of a pixel for being outside (what ties it to the source) and inside (to the sink); whole numbers. */
  setTerminal(x: number, y: number, outside: number, inside: number): void {
    this.terminal[this.at(x, y)] = outside - inside;
  }

  /** Cost of parting a pixel from its neighbour in a direction, the same both ways; a whole number. */
  setNeighbour(x: number, y: number, direction: number, cost: number): void {
    const at = this.at(x, y);
    this.capacity[at * 8 + direction] = cost;
    this.capacity[(at + this.offsets[direction]!) * 8 + 7 - direction] = cost;
  }

  /** Finds the least cut; 1 for the pixels that stay with the source. */
  solve(): Uint8Array {
    const { tree, terminal } = this;
    for (let i = 0; i < terminal.length; i++) {
      if (terminal[i] === 0) continue;
      tree[i] = terminal[i]! > 0 ? SOURCE : SINK;
      this.parent[i] = TERMINAL;
      this.distance[i] = 1;
      this.activate(i);
    }
    for (let current = this.nextActive(); current >= 0;) {
      const direction = this.grow(current);
      this.time++;
      if (direction < 0) {
        current = this.nextActive();
        continue;
      }
      const other = current + this.offsets[direction]!;
      if (tree[current] === SOURCE) this.augment(current, direction, other);
      else this.augment(other, 7 - direction, current);
      while (this.orphans.length > 0) this.adopt(this.orphans.pop()!);
      if (tree[current] === FREE) current = this.nextActive();
    }
    const inside = new Uint8Array(this.width * this.height);
    for (let y = 0; y < this.height; y++)
      for (let x = 0; x < this.width; x++)
        inside[y * this.width + x] = tree[this.at(x, y)] === SOURCE ? 1 : 0;
    return inside;
  }

  private at(x: number, y: number): number {
    return (y + 1) * this.stride + x + 1;
  }

  private activate(i: number): void {
    if (this.queued[i]) return;
    this.queued[i] = 1;
    this.queue[this.tail] = i;
    this.tail = (this.tail + 1) % this.queue.length;
  }

  private nextActive(): number {
    while (this.head !== this.tail) {
      const i = this.queue[this.head]!;
      this.head = (this.head + 1) % this.queue.length;
      this.queued[i] = 0;
      if (this.tree[i] !== FREE) return i;
    }
    return -1;
  }

  /** Room left from a pixel of a tree to its neighbour, or back where the tree is the sink's. */
  private room(own: number, i: number, direction: number): number {
    return own === SOURCE
      ? this.capacity[i * 8 + direction]!
      : this.capacity[(i + this.offsets[direction]!) * 8 + 7 - direction]!;
  }

  /** Takes free neighbours into the pixel's tree; the direction in which it meets the other tree, or -1. */
  private grow(i: number): number {
    const { tree, parent, stamp, distance, offsets } = this;
    const own = tree[i]!;
    for (let k = 0; k < 8; k++) {
      if (this.room(own, i, k) === 0) continue;
      const j = i + offsets[k]!;
      if (tree[j] === FREE) {
        tree[j] = own;
        parent[j] = 7 - k;
        stamp[j] = stamp[i]!;
        distance[j] = distance[i]! + 1;
        this.activate(j);
      } else if (tree[j] !== own) return k;
      else if (stamp[j]! <= stamp[i]! && distance[j]! > distance[i]! && parent[j]! < TERMINAL) {
        parent[j] = 7 - k;
        stamp[j] = stamp[i]!;
        distance[j] = distance[i]! + 1;
      }
    }
    return -1;
  }

  /** Pushes as much as fits from the source through p, its neighbour q and on to the sink. */
  private augment(p: number, direction: number, q: number): void {
    const { capacity, terminal, parent, offsets } = this;
    let most = capacity[p * 8 + direction]!;
    let i = p;
    for (; parent[i] !== TERMINAL; i += offsets[parent[i]!]!)
      most = Math.min(most, capacity[(i + offsets[parent[i]!]!) * 8 + 7 - parent[i]!]!);
    most = Math.min(most, terminal[i]!);
    for (i = q; parent[i] !== TERMINAL; i += offsets[parent[i]!]!)
      most = Math.min(most, capacity[i * 8 + parent[i]!]!);
    most = Math.min(most, -terminal[i]!);

    capacity[p * 8 + direction]! -= most;
    capacity[q * 8 + 7 - direction]! += most;
    for (i = p; parent[i] !== TERMINAL;) {
      const up = parent[i]!;
      const j = i + offsets[up]!;
      capacity[i * 8 + up]! += most;
      if ((capacity[j * 8 + 7 - up]! -= most) === 0) this.orphan(i);
      i = j;
    }
    if ((terminal[i]! -= most) === 0) this.orphan(i);
    for (i = q; parent[i] !== TERMINAL;) {
      const up = parent[i]!;
      const j = i + offsets[up]!;
      capacity[j * 8 + 7 - up]! += most;
      if ((capacity[i * 8 + up]! -= most) === 0) this.orphan(i);
      i = j;
    }
    if ((terminal[i]! += most) === 0) this.orphan(i);
  }

  private orphan(i: number): void {
    this.parent[i] = ORPHAN;
    this.orphans.push(i);
  }

  /** Finds an orphan a new parent in its tree, nearest to the terminal; or sets it and its children free. */
  private adopt(i: number): void {
    const { tree, parent, stamp, distance, offsets } = this;
    const own = tree[i]!;
    let [best, least] = [-1, Infinity];
    for (let k = 0; k < 8; k++) {
      const j = i + offsets[k]!;
      // Room is wanted from the parent to the child in the source's tree, the other way in the sink's.
      if (tree[j] !== own || this.room(own, j, 7 - k) === 0) continue;
      const far = this.distanceToTerminal(j);
      if (far < least) [best, least] = [k, far];
    }
    if (best >= 0) {
      parent[i] = best;
      stamp[i] = this.time;
      distance[i] = least + 1;
      return;
    }
    for (let k = 0; k < 8; k++) {
      const j = i + offsets[k]!;
      if (tree[j] !== own) continue;
      if (this.room(own, j, 7 - k) > 0) this.activate(j);
      if (parent[j] === 7 - k) this.orphan(j);
    }
    tree[i] = FREE;
    parent[i] = NONE;
  }

  /** Steps from a pixel up to its terminal; Infinity where the way ends at an orphan. What is learnt is marked. */
  private distanceToTerminal(start: number): number {
    const { parent, stamp, distance, offsets, time } = this;
    let steps = 0;
    let i = start;
    for (;;) {
      if (stamp[i] === time && parent[i]! <= TERMINAL) {
        steps += distance[i]!;
        break;
      }
      const up = parent[i]!;
      steps++;
      if (up === TERMINAL) {
        stamp[i] = time;
        distance[i] = 1;
        break;
      }
      if (up >= ORPHAN) return Infinity;
      i += offsets[up]!;
    }
    for (let left = steps, j = start; stamp[j] !== time; left--) {
      stamp[j] = time;
      distance[j] = left;
      j += offsets[parent[j]!]!;
    }
    return steps;
  }
}
