import type { Provider } from '@angular/core';
import { ClipSound } from './clip-sound';
import { CropTool } from './crop-tool';
import { SelectionStore } from './selection-store';
import { Keymap } from './keymap';
import { MendTool } from './mend-tool';
import { Player } from './player';
import { QuietArea } from './quiet-area';
import { Viewport } from './viewport';
import { Transport } from './transport';
import { SplitComparison } from './split-comparison';
import { WhitePicker } from './white-picker';
import { VariantView } from './variant-view';

/** How one looks at a project, and works on it, for as long as it is open. */
export const WORKSPACE_ROOM: readonly Provider[] = [
  ClipSound,
  CropTool,
  SelectionStore,
  Keymap,
  MendTool,
  Player,
  QuietArea,
  Viewport,
  Transport,
  SplitComparison,
  VariantView,
  WhitePicker,
];
