import { type Recipe, normaliseRecipe, repairRecipe, neutralRecipe } from '@hazy-lens/core';
import { EMPTY_HISTORY, type History } from './history';
import { type Variants, parseVariants } from './variants';

/** What is known of the picture that a project stands on; its pixels live in the engine. */
export interface SourceInfo {
  id: string;
  fileName: string;
  type: string;
  bytes: number;
  width: number;
  height: number;
  /** Bits a channel of the file, its colour profile, and its pages or frames; not known of older projects. */
  bits?: number;
  profile?: string | null;
  pages?: number;
  /** When the picture was taken, as its EXIF says it; or when the file was last changed. */
  date: string | null;
  /** Only of footage. */
  footage?: FootageInfo;
}

/** What is known of footage without reading it. */
export interface FootageInfo {
  frames: number;
  seconds: number;
  /** Frames a second; of numbered pictures the rate that was chosen. */
  fps: number;
  /** As people call them; the sound's is null where there is none. */
  codec: string;
  sound: string | null;
}

/** All that steps back and forth cover: whatever else can be undone one day is a field here. */
export interface ProjectDocument {
  recipe: Recipe;
  /** Frames a second of numbered pictures, where another rate than the first was chosen. */
  rate?: number;
  /** Named versions, where there is more than one. */
  variants?: Variants;
}

/** The least and the most frames a second that numbered pictures can come at. */
export const RATES = { least: 0.1, most: 240 } as const;

/** What a person works on. */
export interface Project {
  /** Null where the browser could not keep it. */
  projectId: string | null;
  name: string;
  source: SourceInfo | null;
  work: ProjectDocument;
  history: History;
}

export const NO_PROJECT: Project = {
  projectId: null,
  name: '',
  source: null,
  work: { recipe: neutralRecipe() },
  history: EMPTY_HISTORY,
};

/** Work with every value brought within its range. @throws RecipeError where no recipe can be like that. */
export function clampDocument(work: ProjectDocument): ProjectDocument {
  const recipe = normaliseRecipe(work.recipe);
  return recipe === work.recipe ? work : { ...work, recipe };
}

/** Work read from anything that was stored. @throws RecipeError where there is no recipe in it. */
export function parseDocument(value: unknown): ProjectDocument {
  const { recipe, rate, variants: stored } = (value ?? {}) as Partial<ProjectDocument>;
  const variants = parseVariants(stored);
  const isRate = typeof rate === 'number' && rate >= RATES.least && rate <= RATES.most;
  return { recipe: repairRecipe(recipe), ...(isRate && { rate }), ...(variants && { variants }) };
}
