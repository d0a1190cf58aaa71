import type { Type } from '@angular/core';
import type { Recipe } from '@hazy-lens/core';
import type { SourceInfo } from '../model/project';
import { BlurPanel } from '../steps/blur/blur-panel';
import { ColourPanel } from '../steps/colour/colour-panel';
import { FinishPanel } from '../steps/finish/finish-panel';
import { FocusPanel } from '../steps/focus/focus-panel';
import { OutputPanel } from '../steps/output/output-panel';
import { PacePanel } from '../steps/pace/pace-panel';
import { SourcePanel } from '../steps/source/source-panel';
import { TidyPanel } from '../steps/tidy/tidy-panel';
import type { StepName } from '../workspace/view-store';
import { colourSummary, finishSummary, focusSummary, paceSummary, tidySummary } from './step-summaries';
import { shellWords } from '../words/shell';

/** What of the open picture a summary speaks of. */
interface Context {
  source: SourceInfo | null;
  /** Of the picture, in pixels. */
  diagonal: number;
}

/** A step of the route: to add one, write its panel, its part of the recipe, and an entry here. */
export interface Step {
  id: StepName;
  label: string;
  /** The part of the recipe that its switch turns off; null where there is none. */
  part: 'tidy' | 'focus' | 'blur' | 'colour' | 'finish' | 'pace' | null;
  /** Its row says so in a few words. */
  summary(recipe: Recipe, context: Context): string;
  panel: Type<unknown>;
  /** It is there for footage only. */
  isForFootage?: true;
}

/** In the order of the work. */
export const STEPS: readonly Step[] = [
  {
    id: 'source',
    label: shellWords.source,
    part: null,
    summary: (_, { source }) => (source ? `${source.width} × ${source.height}` : shellWords.noPicture),
    panel: SourcePanel,
  },
  {
    id: 'tidy',
    label: shellWords.tidy,
    part: 'tidy',
    summary: ({ tidy }) => tidySummary(tidy),
    panel: TidyPanel,
  },
  {
    id: 'focus',
    label: shellWords.focus,
    part: 'focus',
    summary: ({ focus }) => focusSummary(focus),
    panel: FocusPanel,
  },
  {
    id: 'blur',
    label: shellWords.blur,
    part: 'blur',
    summary: ({ blur }, { diagonal }) => `${blur.kind} ${(blur.radius * diagonal).toFixed(0)} px`,
    panel: BlurPanel,
  },
  {
    id: 'colour',
    label: shellWords.colour,
    part: 'colour',
    summary: ({ colour }) => colourSummary(colour),
    panel: ColourPanel,
  },
  {
    id: 'finish',
    label: shellWords.finish,
    part: 'finish',
    summary: ({ finish }) => finishSummary(finish),
    panel: FinishPanel,
  },
  {
    id: 'pace',
    label: shellWords.pace,
    part: 'pace',
    summary: ({ pace }) => paceSummary(pace),
    panel: PacePanel,
    isForFootage: true,
  },
  { id: 'output', label: shellWords.output, part: null, summary: () => 'export', panel: OutputPanel },
];
