import type { Provider } from '@angular/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { Autosave } from '../saving/autosave';
import { ProjectAssets } from './project-assets';
import { Elements } from '../subjects/elements';
import { ExportInputs } from './export-input';
import { Following } from '../subjects/following';
import { Footage } from '../footage/footage';
import { KeptFiles } from '../saving/kept-files';
import { Keyframes } from '../footage/keyframes';
import { LateKeeping } from '../saving/late-keeping';
import { LookShelf } from '../recipes/look-shelf';
import { MatteCutter } from '../subjects/matte-cutter';
import { MendPreview } from '../subjects/mend-preview';
import { OpenProject } from './open-project';
import { OtherTabs } from '../saving/other-tabs';
import { OwnDepth } from './own-depth';
import { Playhead } from '../footage/playhead';
import { ProjectNotices } from './project-notices';
import { RecipeImport } from '../recipes/recipe-import';
import { RecipeShelf } from '../recipes/recipe-shelf';
import { SuitReading } from '../subjects/suit-reading';
import { Thumbnails } from '../saving/thumbnails';
import { Trim } from '../footage/trim';

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
