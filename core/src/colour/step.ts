import type { Recipe } from '../recipe/schema';
import type { ColourLut } from './cube';
import type { LocalLightness } from './clarity';
import type { Rows, Run, KernelContext } from '../memory';
import type { Primaries } from './primaries';

/** What colour steps read of the settings of a render. */
export interface ColourSettings {
  colour: Recipe['colour'];
  /** What the colours' look names, where that is a table. */
  table: ColourLut | null;
  /** Times how much light all is, where brightness is evened out over footage; 1 changes nothing. */
  light: number;
  /** What the light of the source, and that of the result, is made of; colours change in the latter, and hold to its gamut. */
  primaries: { source: Primaries; output: Primaries };
}

/** A step that changes each pixel by itself. To add one, write one of these and add it to the list in `colour/index.ts`. */
export interface PointStep {
  /** Equal for settings that give the same result; '' where it changes nothing. */
  key(look: ColourSettings): string;
  /** Changes a run in place; called only where the key is not ''. */
  apply(use: KernelContext, look: ColourSettings, run: Run, room: PointRoom): void;
}

/** Floats that a step has room for. */
export const POINT_FLOATS = 64;

/** What a step may use. */
export interface PointRoom {
  /** Address of `POINT_FLOATS` floats. */
  floats: number;
  /** Where the look's table of colours lies, if it has one; see `fillLut`. */
  table: number;
  /** Where it is written how light the surroundings are, and how the picture lies on that; null where the look's colours have no clarity. */
  surroundings: { rows: Rows; on: LocalLightness } | null;
}
