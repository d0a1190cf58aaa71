import type { Metadata } from './containers';

/** A depth picture inside of another one's file. */
export interface DepthInside {
  /** The file of the grey picture (a JPEG or PNG), or its number among the pictures of a HEIF file. */
  picture: { file: Uint8Array } | { item: number };
  /** Nearest and farthest distance in the units of the file; null where it does not say. */
  range: { near: number; far: number } | null;
  /**
   * What its values 0..1 mean: they grow with the distance z, evenly in 1 / z (`range-inverse`) or in z (`range-linear`), or
   * with what is near, evenly in 1 / z (`disparity`).
   */
  coding: 'range-inverse' | 'range-linear' | 'disparity';
}

interface Item {
  length: number;
  uri: string;
  semantic: string;
}

/**
 * The depth map that a JPEG carries by the open Dynamic Depth format (1.0): its XMP lists the files that follow the picture
 * in its container, and says of a depth map how far its values reach. Null where there is none, or what is said is not so.
 * @param xmp of the file, see `readMetadata`.
 */
export function depthInside(file: Uint8Array, { xmp }: Pick<Metadata, 'xmp'>): DepthInside | null {
  if (!xmp || !/Container:Directory/.test(xmp)) return null;
  const items = itemsOf(xmp);
  const about = attributesOf(xmp, 'DepthMap');
  const wanted = about.get('DepthURI') ?? null;
  const index = items.findIndex(
    ({ uri, semantic }) => (wanted !== null && uri === wanted) || semantic.toLowerCase() === 'depth',
  );
  // The first is the picture itself.
  if (index < 1) return null;
  const after = items.slice(index).reduce((sum, { length }) => sum + length, 0);
  const start = file.length - after;
  const { length } = items[index]!;
  if (!(length > 0) || start <= 0) return null;
  const own = file.subarray(start, start + length);
  if (!isPicture(own)) return null;
  const [near, far] = [Number(about.get('Near')), Number(about.get('Far'))];
  return {
    picture: { file: own },
    range: near > 0 && far > near ? { near, far } : null,
    coding: about.get('Format') === 'RangeLinear' ? 'range-linear' : 'range-inverse',
  };
}

/** The files of a container, in order: what their attributes or elements say, whichever is used. */
function itemsOf(xmp: string): Item[] {
  const list = /<Container:Directory>([\s\S]*?)<\/Container:Directory>/.exec(xmp)?.[1] ?? '';
  return list
    .split(/<rdf:li\b/)
    .slice(1)
    .map((text) => {
      const about = attributesOf(text, 'Item');
      return {
        length: Number(about.get('Length') ?? 0) + Number(about.get('Padding') ?? 0),
        uri: about.get('DataURI') ?? '',
        semantic: about.get('Semantic') ?? about.get('ItemSemantic') ?? '',
      };
    });
}

/** What a piece of XMP says under a prefix, as attributes or as elements. */
function attributesOf(text: string, prefix: string): Map<string, string> {
  const found = new Map<string, string>();
  const parts = new RegExp(`${prefix}:(\\w+)(?:\\s*=\\s*(?:"([^"]*)"|'([^']*)')|>([^<]*)<)`, 'g');
  for (const [, name, double, single, inner] of text.matchAll(parts))
    if (!found.has(name!)) found.set(name!, (double ?? single ?? inner ?? '').trim());
  return found;
}

function isPicture(bytes: Uint8Array): boolean {
  const isJpeg = bytes[0] === 0xff && bytes[1] === 0xd8;
  return isJpeg || (bytes[0] === 0x89 && bytes[1] === 0x50 && bytes[2] === 0x4e && bytes[3] === 0x47);
}

/**
 * Values of a depth picture as a depth map has them: the nearer the brighter, even in 1 / z, as a lens's discs are.
 * @param samples 0..65535; changed in place.
 */
export function nearerBrighter(
  samples: Uint16Array,
  { range, coding }: Pick<DepthInside, 'range' | 'coding'>,
): void {
  if (coding === 'disparity') return;
  const table = new Uint16Array(65536);
  for (let v = 0; v < 65536; v++) {
    const t = v / 65535;
    // Of distances n..f: n / z, which is 1 at the nearest; drawn out so that the farthest is 0.
    const least = range ? range.near / range.far : 0;
    const over =
      coding === 'range-inverse' || !range
        ? 1 - t
        : (range.near / (range.near + t * (range.far - range.near)) - least) / (1 - least);
    table[v] = Math.round(65535 * over);
  }
  for (let i = 0; i < samples.length; i++) samples[i] = table[samples[i]!]!;
}
