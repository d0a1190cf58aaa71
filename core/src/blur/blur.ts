import type { Region, Size } from '../geometry/size';
import type { PixelReader, PlaneLayout } from '../pixels/format';
import type { Recipe } from '../recipe/schema';
import type { CropTransform } from '../tidy/crop-transform';
import type { Arena, Heap, Rows, Run, KernelContext } from '../memory';

/** Where a lens looked straight ahead on what is rendered: as fractions of it, and half the picture's diagonal in its own. */
export interface OpticalAxis {
  middle: readonly [number, number];
  reach: number;
}

/** The blur part of a recipe; the axis where it is not that of an uncropped picture. */
export type BlurLook = Recipe['blur'] & { axis?: OpticalAxis };

/** What is known of a render before its pixels are: enough to lay out memory. */
export interface BlurSetup {
  region: Region;
  /** The strongest blur that will be asked for, as the blur's own `strength` counts. */
  maxStrength: number;
  workers: number;
  /** Rows of the largest strip. */
  stripRows: number;
  /** It is shown for a moment while a hand moves: quick matters more than exact. */
  isDraft: boolean;
  /** Memory is short: what only makes it quicker has no room. */
  isTight: boolean;
  /** Only what is near is blurred, of a picture whose haze is marked; for kinds that spread it, see `Blur.spreads`. */
  isNear: boolean;
  /** Pixels of the longest run. */
  runPixels: number;
  /** Planes of light: three, or four with the coverage, for kinds that take it. */
  colours: 3 | 4;
  /** The haze of every pixel of the region. */
  haze: Rows;
}

/** The source as a blur reads it. */
export interface Source {
  /** The same for the same pixels. */
  key: string;
  pixels: PixelReader;
  tables: number;
  planes: readonly PlaneLayout[];
}

/**
 * A kind of blur. `P` is its plan: where its data lies, as plain data, made once and sent to every worker. To add a kind,
 * write one of these with its kernel and its reference, and add it to the list in `blur/index.ts`.
 */
export interface Blur<P> {
  /** How strong a look's blur is on a picture, in the kind's own unit; 0 changes nothing. */
  strength(look: BlurLook, picture: Size): number;
  /** Pixels that light travels at most: what a part of a picture needs around it. */
  reach(look: BlurLook, picture: Size): number;
  /** Averaging footprint at haze 1, in pixels: a disc (`area` 2) of a radius, or a streak (1) of twice as much. */
  averagingFootprint(look: BlurLook, picture: Size): { area: 1 | 2; radius: number };
  /** The same for looks that, at the same strength, give the same. */
  key(look: BlurLook): string;
  /** The part of the key that the passes depend on. */
  passKey(look: BlurLook): string;
  /** Its passes read the haze: then the haze of a pixel also shows in the pixels around it. */
  readsHaze(look: BlurLook, keeps: boolean): boolean;
  /** It blurs a fourth plane, the coverage, along with the light; else that is blurred like light, by itself. */
  readonly takesCover: boolean;
  /**
   * What is near spreads as far as each pixel's own haze says, also over what is less near: the light comes as sums, with what
   * they weigh in a fourth plane. Other kinds blur it with its coverage like a picture of its own.
   */
  readonly spreads: boolean;
  /** Preferred strip height, in rows, for a whole picture. */
  readonly stripRows: number;
  /** The kind's own settings as they read on a crop of the picture. */
  onCrop(look: BlurLook, crop: CropTransform): Partial<BlurLook>;
  /** The radius is a share of the way to a centre, not a length. */
  readonly radiusIsShare?: true;
  plan(frame: BlurSetup, arena: Arena): P;
  /** Writes what all workers read; called once. */
  fillTables(plan: P, heap: Heap): void;
  /** What must be made of a source before strips are rendered: the number of rows of each pass, in order. */
  passes(plan: P): readonly number[];
  /** One worker's share. */
  worker(use: KernelContext, plan: P, frame: BlurSetup, worker: number): BlurWorker;
}

/** What is wanted of a blur. */
export interface BlurRequest {
  look: BlurLook;
  /** As the kind counts it on the picture in hand. */
  strength: number;
  /** Something is kept clear that must not spread into the haze around it, see `protectsAreas`. */
  keeps: boolean;
}

export interface BlurWorker {
  /** Makes rows from..to of a pass; the pass before is complete. */
  pass(i: number, wish: BlurRequest, source: Source, from: number, to: number): void;
  /**
   * Rows from..to of the region are to be filled next. What was made for the same rows is still good where the key is
   * the same: it says which source it is, and what else the passes rest on.
   */
  begin(wish: BlurRequest, source: Source, key: string, from: number, to: number): void;
  /** Fills a run with blurred light; `haze` is the address of its haze, one float a pixel. */
  fill(run: Run, haze: number): void;
}
