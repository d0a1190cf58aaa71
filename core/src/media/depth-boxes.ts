import { ascii, viewOf } from './bytes';
import type { DepthInside } from './depth-inside';

/*
 * Depth pictures in HEIF files. Sources: ISO/IEC 23008-12 (HEIF), 14496-12 (boxes), ITU-T H.265 annex F (the kinds of
 * auxiliary pictures, and the message that says what their values mean).
 */

/** What the kinds of depth pictures are called. */
const DEPTH_KINDS = [
  'urn:mpeg:hevc:2015:auxid:2',
  'urn:mpeg:avc:2015:auxid:2',
  'urn:mpeg:mpegB:cicp:systems:auxiliary:depth',
];

/** The depth picture that a HEIF file has beside its first one; null where there is none, or the file is cut short. */
export function depthInBoxes(file: Uint8Array): DepthInside | null {
  try {
    return found(file);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

function found(file: Uint8Array): DepthInside | null {
  const meta = boxesOf(file).get('meta')?.[0];
  if (!meta) return null;
  const parts = boxesOf(meta.subarray(4));
  const [primary, references, properties] = ['pitm', 'iref', 'iprp'].map((type) => parts.get(type)?.[0]);
  if (!primary || !references || !properties) return null;
  const first = new Fields(primary).fullBox((version, fields) => fields.uint(version ? 4 : 2));
  const within = boxesOf(properties);
  const container = within.get('ipco')?.[0];
  if (!container) return null;
  const list = [...eachBox(container)];
  for (const item of auxiliariesOf(references, first))
    for (const index of propertiesOf(within.get('ipma') ?? [], item)) {
      const property = list[index - 1];
      if (property?.type !== 'auxC') continue;
      const end = property.body.indexOf(0, 4);
      const kind = ascii(property.body, 4, end - 4);
      if (DEPTH_KINDS.includes(kind))
        return { picture: { item }, ...meaningOf(property.body.subarray(end + 1)) };
    }
  return null;
}

interface Box {
  type: string;
  body: Uint8Array;
}

function* eachBox(bytes: Uint8Array): Generator<Box> {
  for (let at = 0; at + 8 <= bytes.length;) {
    const fields = new Fields(bytes.subarray(at));
    const short = fields.uint(4);
    const type = ascii(bytes, at + 4, 4);
    fields.skip(4);
    const size = short === 1 ? fields.uint(4) * 2 ** 32 + fields.uint(4) : short || bytes.length - at;
    const head = short === 1 ? 16 : 8;
    if (size < head) return;
    yield { type, body: bytes.subarray(at + head, at + size) };
    at += size;
  }
}

function boxesOf(bytes: Uint8Array): Map<string, Uint8Array[]> {
  const boxes = new Map<string, Uint8Array[]>();
  for (const { type, body } of eachBox(bytes)) boxes.set(type, [...(boxes.get(type) ?? []), body]);
  return boxes;
}

/** Numbers of the pictures that are auxiliary to another one. */
function auxiliariesOf(references: Uint8Array, of: number): number[] {
  return new Fields(references).fullBox((version) => {
    const bytes = version ? 4 : 2;
    const items: number[] = [];
    for (const { type, body } of eachBox(references.subarray(4))) {
      const fields = new Fields(body);
      const from = fields.uint(bytes);
      const to = Array.from({ length: fields.uint(2) }, () => fields.uint(bytes));
      if (type === 'auxl' && to.includes(of)) items.push(from);
    }
    return items;
  });
}

/** Numbers, from 1, of an item's properties in the file's list. */
function propertiesOf(tables: Uint8Array[], item: number): number[] {
  return tables.flatMap((table) =>
    new Fields(table).fullBox((version, fields, flags) => {
      const own: number[] = [];
      for (let left = fields.uint(4); left > 0; left--) {
        const id = fields.uint(version ? 4 : 2);
        // The highest bit says that a reader has to know the property.
        const indices = Array.from({ length: fields.uint(1) }, () =>
          flags & 1 ? fields.uint(2) & 0x7fff : fields.uint(1) & 0x7f,
        );
        if (id === item) own.push(...indices);
      }
      return own;
    }),
  );
}

/** Bytes read one after another. @throws RangeError behind their end. */
class Fields {
  private at = 0;
  private readonly view: DataView;

  constructor(bytes: Uint8Array) {
    this.view = viewOf(bytes);
  }

  uint(bytes: 1 | 2 | 4): number {
    const at = this.at;
    this.at += bytes;
    if (bytes === 1) return this.view.getUint8(at);
    return bytes === 2 ? this.view.getUint16(at) : this.view.getUint32(at);
  }

  skip(bytes: number): void {
    this.at += bytes;
  }

  /** What is in a box with a version and flags. */
  fullBox<T>(read: (version: number, fields: Fields, flags: number) => T): T {
    const head = this.uint(4);
    return read(head >>> 24, this, head & 0xffffff);
  }
}

const PREFIX_SEI = 39;
const SUFFIX_SEI = 40;
const DEPTH_REPRESENTATION = 177;

/**
 * What a depth picture's values mean (H.265, F.14.2.7 and F.14.3.7): without a message, and in all kinds but that of even
 * distances, the nearer the brighter.
 * @param messages behind their length, each behind its own.
 */
function meaningOf(messages: Uint8Array): Pick<DepthInside, 'coding' | 'range'> {
  const asDisparity = { coding: 'disparity', range: null } as const;
  if (messages.length < 12) return asDisparity;
  const nal = messages[8]! >> 1;
  const isMessage = nal === PREFIX_SEI || nal === SUFFIX_SEI;
  if (!isMessage || messages[10] !== DEPTH_REPRESENTATION) return asDisparity;
  const bits = new Bits(messages.subarray(12));
  const [hasNear, hasFar, hasLeast, hasMost] = [bits.take(1), bits.take(1), bits.take(1), bits.take(1)];
  const kind = bits.exponentialGolomb();
  if (hasLeast || hasMost) bits.exponentialGolomb();
  const near = hasNear ? bits.float() : 0;
  const far = hasFar ? bits.float() : 0;
  if (kind !== 2) return asDisparity;
  return { coding: 'range-linear', range: near > 0 && far > near ? { near, far } : null };
}

/** Bits read one after another, the highest of a byte first. @throws RangeError behind their end. */
class Bits {
  private at = 0;

  constructor(private readonly bytes: Uint8Array) {}

  take(count: number): number {
    let value = 0;
    for (; count > 0; count--, this.at++) {
      const byte = this.bytes[this.at >> 3];
      if (byte === undefined) throw new RangeError('A message is cut short.');
      value = value * 2 + ((byte >> (7 - (this.at & 7))) & 1);
    }
    return value;
  }

  /** ue(v), H.265 9.2. */
  exponentialGolomb(): number {
    let zeros = 0;
    while (this.take(1) === 0) zeros++;
    return 2 ** zeros - 1 + this.take(zeros);
  }

  /** depth_rep_info_element, H.265 F.14.2.7. */
  float(): number {
    const [sign, exponent, length] = [this.take(1), this.take(7), this.take(5) + 1];
    const part = this.take(length) / 2 ** length;
    const size = exponent > 0 ? 2 ** (exponent - 31) * (1 + part) : 2 ** -30 * part;
    return sign ? -size : size;
  }
}
