import { Dialog } from '@angular/cdk/dialog';
import type { Provider } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { PROJECT_ROOM } from '../project/session/services';
import { Lanes } from '../reel/lanes';
import { ReelView } from '../reel/reel-view';
import { FieldView } from '../stage/field-view';
import { MendBrush } from '../stage/mend-brush';
import { ModelScale } from '../stage/model-scale';
import { HuePicker } from '../stage/hue-picker';
import { StageRenderer } from '../stage/stage-renderer';
import { StageTools } from '../stage/stage-tools';
import { RasterImport } from '../steps/focus/raster-import';
import { Exporting } from '../steps/output/exporting';
import { OutputSettings } from '../steps/output/output-settings';
import { WORKSPACE_ROOM } from '../workspace/services';

/** Everything that belongs to one project and goes with it, see `ProjectScope`; its dialogs too. */
export const ALL_PROJECT_SERVICES: readonly Provider[] = [
  ...PROJECT_ROOM,
  ...WORKSPACE_ROOM,
  Lanes,
  ReelView,
  FieldView,
  MendBrush,
  ModelScale,
  HuePicker,
  StageRenderer,
  StageTools,
  RasterImport,
  Exporting,
  OutputSettings,
  Dialog,
  MatDialog,
];
