import { bytesOf, join, viewOf } from './bytes';

/*
 * Directories of TIFF 6.0, in which EXIF blocks and TIFF files keep what they say: read apart, and laid down anew with
 * nothing in between.
 */

/** One value of a directory, as its bytes. */
export interface Entry {
  tag: number;
  type: number;
  count: number;
  value: Uint8Array;
}

/** A directory and those that its entries point to, by the tag that does. */
export interface Directory {
  entries: readonly Entry[];
  inner: ReadonlyMap<number, Directory>;
}

/** Bytes of one value of each type. */
const SIZES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4];
const LONG = 4;
/** Far more than any directory has. */
const MAX_ENTRIES = 2000;

/** A block of directories in memory, in its byte order. */
export class Block {
  readonly little: boolean;
  private readonly view: DataView;

  constructor(private readonly bytes: Uint8Array) {
    this.view = viewOf(bytes);
    this.little = bytes[0] === 0x49;
  }

  /** Where its first directory lies. @throws RangeError where it is cut short. */
  get first(): number {
    return this.view.getUint32(4, this.little);
  }

  /** A directory; values that lie outside of the block are left out. @throws RangeError where it is cut short. */
  entriesAt(at: number): { entries: Entry[]; next: number } {
    const { view, little, bytes } = this;
    const count = view.getUint16(at, little);
    if (count > MAX_ENTRIES) throw new RangeError('A directory has too many entries.');
    const entries: Entry[] = [];
    for (let i = 0; i < count; i++) {
      const entry = at + 2 + i * 12;
      const [tag, type] = [view.getUint16(entry, little), view.getUint16(entry + 2, little)];
      const values = view.getUint32(entry + 4, little);
      const length = values * (SIZES[type] ?? 0);
      const from = length <= 4 ? entry + 8 : view.getUint32(entry + 8, little);
      if (length === 0 || from + length > bytes.length) continue;
      entries.push({ tag, type, count: values, value: bytes.slice(from, from + length) });
    }
    const end = at + 2 + count * 12;
    return { entries, next: end + 4 <= bytes.length ? view.getUint32(end, little) : 0 };
  }

  /** The first number of an entry. */
  number({ type, value }: Entry): number {
    const view = viewOf(value);
    return type === 3 ? view.getUint16(0, this.little) : view.getUint32(0, this.little);
  }
}

/** An entry of one number. */
export function numberEntry(tag: number, type: 3 | 4, number: number, little: boolean): Entry {
  const value = new Uint8Array(type === 3 ? 2 : 4);
  if (type === 3) viewOf(value).setUint16(0, number, little);
  else viewOf(value).setUint32(0, number, little);
  return { tag, type, count: 1, value };
}

/**
 * Directories laid down one behind the other.
 * @param at where the first comes to lie, an even place. @param next the second of the chain, as an image's small picture is.
 */
export function laidDown(first: Directory, next: Directory | null, at: number, little: boolean): Uint8Array {
  const parts: Uint8Array[] = [];
  let end = at;
  const put = (bytes: Uint8Array): number => {
    const from = end;
    parts.push(bytes, new Uint8Array(bytes.length & 1));
    end += bytes.length + (bytes.length & 1);
    return from;
  };
  const lay = ({ entries, inner }: Directory): { bytes: Uint8Array; from: number } => {
    const all = [
      ...entries.filter(({ tag }) => !inner.has(tag)),
      ...[...inner.keys()].map((tag) => numberEntry(tag, LONG, 0, little)),
    ].sort((a, b) => a.tag - b.tag);
    const bytes = new Uint8Array(2 + all.length * 12 + 4);
    const from = put(bytes);
    const view = viewOf(bytes);
    view.setUint16(0, all.length, little);
    for (const [i, { tag, type, count, value }] of all.entries()) {
      const entry = 2 + i * 12;
      view.setUint16(entry, tag, little);
      view.setUint16(entry + 2, type, little);
      view.setUint32(entry + 4, count, little);
      const within = inner.get(tag);
      if (within) view.setUint32(entry + 8, lay(within).from, little);
      else if (value.length <= 4) bytes.set(value, entry + 8);
      else view.setUint32(entry + 8, put(value), little);
    }
    return { bytes, from };
  };
  const { bytes } = lay(first);
  if (next) viewOf(bytes).setUint32(bytes.length - 4, lay(next).from, little);
  return join(...parts);
}

/** The head of a block: its byte order, and where its first directory lies. */
export function blockHead(first: number, little: boolean): Uint8Array {
  const head = join(bytesOf(little ? 'II' : 'MM'), new Uint8Array(6));
  viewOf(head).setUint16(2, 42, little);
  viewOf(head).setUint32(4, first, little);
  return head;
}
