import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import type { LookChoice } from '../model/looks';

/** In the order of the work. */
const STEP_NAMES = ['source', 'tidy', 'focus', 'blur', 'colour', 'finish', 'pace', 'output'] as const;
export type StepName = (typeof STEP_NAMES)[number];
export type Comparison = 'before' | 'after' | 'wipe';

interface ViewState {
  step: StepName;
  comparison: Comparison;
  /** Where the wipe divides the picture, as a fraction of the stage's width. */
  wipeAt: number;
  hazeMap: boolean;
  exaggerated: boolean;
  handlesHidden: boolean;
  /** Route, rail and panel are put away. */
  pictureAlone: boolean;
  /** True while a hand that drags moves the picture itself. */
  panning: boolean;
  /** True while a slider outside the stage moves: handles fade. */
  sliding: boolean;
  /** True while a number of clipped lights moves: the stage shows which they are. */
  lightsMoving: boolean;
  /** While held: the stage marks what has a channel at black or at white. */
  clipped: boolean;
  /** A look that is tried on the stage, and not chosen yet; `choice` is null for none at all. */
  tried: { choice: LookChoice | null } | null;
  /** Direction of the ray along which the profile of a round band is drawn, in degrees of the screen. */
  rayAngle: number;
}

const AT_FIRST: ViewState = {
  step: 'focus',
  comparison: 'after',
  wipeAt: 0.5,
  hazeMap: false,
  exaggerated: false,
  handlesHidden: false,
  pictureAlone: false,
  panning: false,
  sliding: false,
  lightsMoving: false,
  clipped: false,
  tried: null,
  rayAngle: 90,
};

/** How the person looks at the work just now: nothing of this is saved with the project. */
export const ViewStore = signalStore(
  { providedIn: 'root' },
  withState(AT_FIRST),
  withMethods((store) => ({
    set: (change: Partial<ViewState>): void => patchState(store, change),
    /** Goes on in the route, or back. @param hasPace the step that is for footage alone is among them. */
    goBy(steps: number, hasPace: boolean): void {
      const names = STEP_NAMES.filter((name) => name !== 'pace' || hasPace);
      const at = names.indexOf(store.step()) + steps;
      patchState(store, { step: names[Math.min(names.length - 1, Math.max(0, at))]! });
    },
  })),
);
export type ViewStore = InstanceType<typeof ViewStore>;

/** What of it is on or off. */
export type ViewSwitch = 'hazeMap' | 'exaggerated' | 'handlesHidden' | 'clipped';
