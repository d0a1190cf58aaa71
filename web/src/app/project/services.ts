import type { Provider } from '@angular/core';
import { StageRenderLoop } from '../engine/engine';
import { Autosave } from './autosave';
import { ProjectAssets } from './companions';
import { Elements } from './elements';
import { ExportInputs } from './export-input';
import { Following } from './following';
import { Footage } from './footage';
import { KeptFiles } from './kept-files';
import { Keyframes } from './keys';
import { LateKeeping } from './late-keeping';
import { LookShelf } from './look-shelf';
import { MatteCutter } from './matte-cutter';
import { MendPreview } from './mending';
import { OpenProject } from './open-project';
import { OtherTabs } from './other-tabs';
import { OwnDepth } from './own-depth';
import { Playhead } from './playhead';
import { ProjectNotices } from './project-notices';
import { RecipeImport } from './recipe-import';
import { RecipeShelf } from './recipe-shelf';
import { SuitReading } from './suit-reading';
import { Thumbnails } from './thumbnails';
import { Trim } from './trim';

/** What a project has of its own, whatever it is shown in. */
export const PROJECT_ROOM: readonly Provider[] = [
  StageRenderLoop,
  Autosave,
  ProjectAssets,
  Elements,
  ExportInputs,
  Following,
  Footage,
  KeptFiles,
  Keyframes,
  LateKeeping,
  LookShelf,
  MatteCutter,
  MendPreview,
  OpenProject,
  OtherTabs,
  OwnDepth,
  Playhead,
  ProjectNotices,
  RecipeImport,
  RecipeShelf,
  SuitReading,
  Thumbnails,
  Trim,
];
