import type {
  AlphaSplit,
  Metadata,
  MetadataChoice,
  PixelFormat,
  Primaries,
  RawPreview,
  Recipe,
  StillFormat,
} from '@hazy-lens/core';

/** The colours that a picture is decoded to: sRGB up to white; or Display P3 where it has more, and light beyond white. */
export type DecodedGamut = 'srgb' | 'own';

/** A picture as it came: upright, interleaved with an opaque fourth channel. */
export interface DecodedPicture {
  pixels: SharedArrayBuffer;
  format: PixelFormat;
  width: number;
  height: number;
  /** What its light is made of. */
  primaries: Primaries;
  /** Times how much light its samples are: that beyond white is kept so. */
  gain: number;
  /** The same with its transparent places, each part in `PART_FORMAT`; null where it has none. */
  parts: AlphaSplit<SharedArrayBuffer> | null;
  about: ImageInfo;
}

/** What a person may want to know of a file. */
export interface ImageInfo {
  /** Kind of file by its content: jpeg, png, webp, avif, heic, gif or tiff. */
  type: string;
  /** Bits a channel as the file has them. */
  bits: number;
  /** Name of the colour profile in the file, or null where it has none. */
  profile: string | null;
  /** Pages or frames in the file; the first is used. */
  pages: number;
}

/** A grey picture, 0..65535, and what had to be done for it. */
export interface DecodedGrey {
  samples: Uint16Array<SharedArrayBuffer>;
  width: number;
  height: number;
  /** Colours were taken as luminance. */
  fromColour: boolean;
}

export type PictureType = StillFormat['mime'];

export interface EncodeOptions {
  width: number;
  height: number;
  type: PictureType;
  /** 0..1, for the kinds that lose something. */
  quality: number;
  /** How finely a JPEG keeps colour beside brightness; halved both ways where nothing is said. */
  chroma?: '444' | '420';
  /** What the pixels’ light is made of, which the file says; `linear` is that of sRGB, premultiplied, as TIFF of 16 bits. */
  space: Primaries | 'linear';
  /** How the pixels lie; with 2 bytes a sample the file has 16 bits. */
  format: PixelFormat;
  /** The fourth channel says how much there is of each pixel; else all is opaque. */
  isTransparent: boolean;
  /** How much is sharpened, see `sharpenForOutput`, and the haze of each pixel; nothing is where it is missing. */
  sharpening?: { amount: number; haze: Uint16Array } | null;
  /** What the source says of itself, and what of that goes along. */
  notes: { of: Metadata; choice: MetadataChoice };
}

export type CodecTask =
  | {
      kind: 'picture';
      file: Blob;
      name: string;
      gamut: DecodedGamut;
      /** Memory that its pixels may lie in. */
      free: SharedArrayBuffer[];
    }
  | { kind: 'grey'; file: Blob; name: string; /** Its number in a HEIC file. */ item?: number }
  | { kind: 'unzip'; file: Blob; options: UnzipOptions }
  | { kind: 'recipe'; file: Blob }
  | { kind: 'encode'; pixels: Uint8Array; options: EncodeOptions };

/** What of a zip is wanted. */
export interface UnzipOptions {
  /** Bytes that all of it may unpack to. */
  mostBytes: number;
  /** The sentence where it is more. */
  tooMuch: string;
  /** Names of what is unpacked; all without it. */
  only?: RegExp;
}

/** What comes of each kind of task. */
export interface CodecResults {
  /** What is left of the memory comes back. */
  picture: { decoded: DecodedPicture; free: SharedArrayBuffer[] };
  grey: DecodedGrey;
  unzip: Map<string, Blob>;
  recipe: Recipe;
  encode: Blob;
}

/** What a codec's worker is told: what to do, and the compiled library where it asked for that. */
export type CodecRequest = { task: CodecTask } | { vips: WebAssembly.Module };

export type CodecMessage =
  /** The library is wanted. */
  | { kind: 'library' }
  | { kind: 'preview'; preview: RawPreview }
  | { kind: 'progress'; /** 0..1, or null where it is not known. */ done: number | null }
  | { kind: 'done'; value: CodecResults[keyof CodecResults] }
  | { kind: 'failed'; message: string };
