import type { BlurSetup } from '../blur/blur';
import { type BlurKind, blurOf } from '../blur';
import { planSurroundings } from '../colour/clarity';
import { POINT_FLOATS } from '../colour/step';
import { planTable } from '../colour/lut';
import { type FieldPlan, planField } from '../focus/rows';
import { NOISE_TABLE } from '../finish/grain/noise-table';
import type { Region, Size } from '../geometry/size';
import { type PlacePlan, planPlace } from '../layers/placing';
import { type CoveredFormat, coveredSource, coveredTarget, isCovered } from '../pixels/covered';
import type { FrameFormat, PlaneLayout } from '../pixels/format';
import { codecFor } from '../pixels/codec';
import { BLOCK_BYTES } from '../kernels';
import { Arena, type Rows } from '../memory';
import { RAMP_BYTES } from './haze-map';
import { type SidesPlan, planSides } from './sides';

/** Pixels of a run: short, so that all that happens to each pixel happens in the first cache. */
export const RUN = 512;

/** A part of a picture that is rendered, and how. */
export interface View {
  region: Region;
  /** How the pixels come, and how they are wanted. */
  input: FrameFormat | CoveredFormat;
  /** Has a coverage where the input has one. */
  output: FrameFormat | CoveredFormat;
  blur: BlurKind;
  /** Pixels of it for one of the full-size picture. */
  scale: number;
  /** A depth map will be in force. */
  hasDepth: boolean;
  /** The strongest blur that will be asked for, as the kind of blur counts it. */
  most: number;
  /** Rows that a worker takes at a time, an even number; what it made for them is kept until it takes others. */
  stripRows: number;
  /** It is shown for a moment while a hand moves: quick matters more than exact. */
  isDraft: boolean;
  /** Size of an image that is to be laid into the source, where one is. */
  image?: Size;
  /** Pictures that can be in hand at once: one comes in while another is rendered. */
  slots: number;
}

/** A picture's way in and out. */
export interface SlotPlan {
  source: PlaneLayout[];
  output: PlaneLayout[];
}

/** Where everything lies in the memory that the workers share; plain data, sent to each worker once. */
export interface RenderPlan extends View {
  /** A word that counts the strips finished; whoever shares the memory may watch it. */
  finished: number;
  /** Room for how light the surroundings are, see `measureLocalLightness`. */
  surroundings: Rows;
  /** Haze of the whole region, which all workers fill; it stays while the field stays. */
  haze: Rows;
  /** Where a look's table of colours lies, see `fillLut`. */
  table: number;
  inTables: number;
  outTables: number;
  ramp: number;
  places: SlotPlan[];
  placing: PlacePlan | null;
  /** The two sides of a picture under a depth map. */
  sides: SidesPlan | null;
  /** As the kind of blur wants it; of the far side, where there are two. */
  blurPlan: unknown;
  /** Of the coverage, where the input has one and the kind of blur does not take it along. */
  coverPlan: unknown;
  frame: BlurSetup;
  workers: WorkerPlan[];
  bytes: number;
}

/** One worker's own part of the memory. */
export interface WorkerPlan {
  field: FieldPlan;
  /** The haze that the strip's output was made of. */
  shown: Rows;
  /** The run in hand, and the one below it; a coverage is the fourth plane. */
  run: Rows;
  /** The run's coverage as light of a grey, where it is blurred by itself; what is laid over the run; the haze after that. */
  cover: Rows;
  over: Rows;
  touched: Rows;
  /** A run without haze. */
  none: number;
  /** The source's noise, as strong as it is to be put back, and room for three rows of it. */
  noise: number;
  noiseRoom: number;
  /** What a colour step is told. */
  room: number;
  /** The parameters of the kernel that is called next. */
  parameters: number;
}

/** A memory of WebAssembly has at most so many bytes. */
export const MAX_BYTES = 2 ** 32;

/**
 * Lays out the memory for a view: where that is more than there can be, without what only makes it quicker. Pure
 * arithmetic; nothing is allocated. @param from address of the first free byte. @param most bytes that there can be.
 */
export function planRender(view: View, workers: number, from?: number, most = MAX_BYTES): RenderPlan {
  const roomy = layOut(view, workers, false, new Arena(from));
  return roomy.bytes <= most ? roomy : layOut(view, workers, true, new Arena(from));
}

function layOut(view: View, workers: number, isTight: boolean, arena: Arena): RenderPlan {
  const { region } = view;
  // Rows of 4:2:0 go in pairs.
  const stripRows = view.stripRows + (view.stripRows % 2);
  const input = isCovered(view.input) ? coveredSource(view.input) : codecFor(view.input);
  const output = isCovered(view.output) ? coveredTarget(view.output) : codecFor(view.output);
  const haze = arena.rows(region.width, region.height, 1);
  const blur = blurOf({ kind: view.blur });
  const hasCover = isCovered(view.input);
  // Where nothing is blurred, where memory is short, and beside transparent places, there is one side.
  const isTwoSided = view.hasDepth && view.most > 0 && !hasCover && !isTight;
  const frame: BlurSetup = {
    region,
    maxStrength: view.most,
    workers,
    stripRows,
    isDraft: view.isDraft,
    isTight,
    isNear: false,
    runPixels: RUN,
    colours: hasCover && blur.takesCover ? 4 : 3,
    haze,
  };
  const sides = isTwoSided ? planSides(blur, frame, arena) : null;
  const own = sides ? { ...frame, haze: sides.far } : frame;
  const rest = {
    finished: arena.take(4),
    surroundings: planSurroundings(arena),
    table: planTable(arena),
    inTables: input.tables(arena),
    outTables: 'tables' in output ? output.tables(arena) : 0,
    ramp: arena.take(RAMP_BYTES),
    placing: view.image ? planPlace(view.image, workers, arena) : null,
    places: Array.from({ length: view.slots }, () => ({
      source: input.layout(region, arena),
      output: output.layout(region, arena),
    })),
    sides,
    blurPlan: blur.plan(own, arena),
    coverPlan: hasCover && !blur.takesCover ? blur.plan(frame, arena) : null,
    workers: Array.from({ length: workers }, () => ({
      field: planField(region.width, stripRows, arena),
      shown: arena.rows(region.width, stripRows, 1),
      run: arena.rows(RUN, 2, hasCover ? 4 : 3),
      cover: arena.rows(RUN, 1, 3),
      over: arena.rows(RUN, 1, 4),
      touched: arena.rows(RUN, 2, 1),
      none: arena.floats(RUN),
      noise: arena.floats(NOISE_TABLE),
      noiseRoom: arena.floats(3 * (RUN + 8)),
      room: arena.floats(POINT_FLOATS),
      parameters: arena.take(BLOCK_BYTES),
    })),
  };
  return { ...view, stripRows, haze, ...rest, frame: own, bytes: arena.bytes };
}
