import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';
import {
  type ClipSettings,
  type ExportSettings,
  clipSettingsSchema,
  defaultExportSettings,
} from '@hazy-lens/core';

/** How the maps of a picture are written. */
export type MapFormat = 'png-8' | 'png-16' | 'tiff-16';

interface OutputState {
  still: ExportSettings;
  clip: ClipSettings;
  /** Frames that cannot be read are written as those before them. */
  repeatsUnread: boolean;
  mapFormat: MapFormat;
}

const AT_FIRST: OutputState = {
  still: defaultExportSettings(),
  clip: clipSettingsSchema.parse({}),
  repeatsUnread: false,
  mapFormat: 'png-16',
};

/** How files are wanted, whatever project they are of. */
export const OutputStore = signalStore(
  { providedIn: 'root' },
  withState(AT_FIRST),
  withMethods((store) => ({
    set: (change: Partial<OutputState>): void => patchState(store, change),
    setStill: (change: Partial<ExportSettings>): void =>
      patchState(store, ({ still }) => ({ still: { ...still, ...change } })),
    setClip: (change: Partial<ClipSettings>): void =>
      patchState(store, ({ clip }) => ({ clip: { ...clip, ...change } })),
  })),
);
export type OutputStore = InstanceType<typeof OutputStore>;
