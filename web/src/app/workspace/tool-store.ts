import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';

/** How the brush is set; a stroke keeps what it was drawn with. Lengths are fractions of the diagonal. */
export interface BrushSettings {
  mode: 'clear' | 'haze' | 'erase';
  radius: number;
  softness: number;
  strength: number;
  pressure: 'none' | 'size' | 'strength';
}

/** How one scribbles for a matte. */
export interface ScribbleSettings {
  inside: boolean;
  radius: number;
}

/** What a scale is reckoned with: metres, millimetres, and an f-number. */
export interface ScaleSettings {
  distance: number;
  focal: number;
  fNumber: number;
}

interface ToolState {
  brush: BrushSettings;
  scribble: ScribbleSettings;
  /** Both sides of a planar band move together. */
  linkSides: boolean;
  /** All eight falloffs of an iris move together. */
  linkFalloffs: boolean;
  /** What the scale gauge assumes: metres to what is in focus, and the lens that looks at the model. */
  scale: ScaleSettings;
}

const AT_FIRST: ToolState = {
  brush: { mode: 'clear', radius: 0.03, softness: 0.6, strength: 1, pressure: 'none' },
  scribble: { inside: true, radius: 0.004 },
  linkSides: false,
  linkFalloffs: true,
  scale: { distance: 60, focal: 50, fNumber: 4 },
};

/** How the tools work from now on: nothing of this is saved with the project. */
export const ToolStore = signalStore(
  { providedIn: 'root' },
  withState(AT_FIRST),
  withMethods((store) => ({
    link: (change: Partial<Pick<ToolState, 'linkSides' | 'linkFalloffs'>>): void => patchState(store, change),
    setBrush: (change: Partial<BrushSettings>): void =>
      patchState(store, ({ brush }) => ({ brush: { ...brush, ...change } })),
    setScribble: (change: Partial<ScribbleSettings>): void =>
      patchState(store, ({ scribble }) => ({ scribble: { ...scribble, ...change } })),
    setScale: (change: Partial<ScaleSettings>): void =>
      patchState(store, ({ scale }) => ({ scale: { ...scale, ...change } })),
  })),
  withMethods((store) => ({
    /** Makes the tool under the hand larger or smaller. */
    resize(tool: 'brush' | 'scribble', by: number): void {
      const radius = Math.min(1, Math.max(0.0005, store[tool].radius() * by));
      if (tool === 'brush') store.setBrush({ radius });
      else store.setScribble({ radius });
    },
  })),
);
export type ToolStore = InstanceType<typeof ToolStore>;
