import type { Metadata, MetadataChoice } from '@hazy-lens/core';
import { type ExportOptions, type ExportProgress, type ExportSource, type Exporter } from '../engine/export';
import type { FileJobSpec } from './job-queue';
import type { Held } from './held';
import { timeLeft } from './time-left';

/** How a picture is wanted. */
export type ExportWish = Omit<ExportOptions, 'notes'> & {
  fileName: string;
  extension: string;
  label: string;
  metadata: MetadataChoice;
};

/** All that a picture is made of: it is taken when the file is ordered, and nothing changes it after that. */
export interface ExportInput extends ExportSource {
  /** What the source's file says of itself. */
  metadata: Metadata;
}

const STAGES: Record<ExportProgress['stage'], string> = {
  reading: 'Reading',
  rendering: 'Rendering',
  writing: 'Writing the file',
};

/** An order for one picture. */
export function pictureOrder(exporter: Exporter, wish: ExportWish, input: Held<ExportInput>): FileJobSpec {
  return {
    fileName: wish.fileName,
    extension: wish.extension,
    label: `${wish.label} picture`,
    canPause: false,
    async make(report, { signal }) {
      report({ says: 'Preparing' });
      const { metadata, ...source } = await input.ready;
      signal.throwIfAborted();
      let stage: ExportProgress['stage'] | null = null;
      let started = 0;
      return exporter.export(
        source,
        { ...wish, notes: { of: metadata, choice: wish.metadata } },
        (now) => {
          if (now.stage !== stage) [stage, started] = [now.stage, performance.now()];
          const left = timeLeft(now.done, performance.now() - started);
          report({ says: STAGES[now.stage], progress: now.done, remaining: left });
        },
        signal,
      );
    },
    ended: async () => input.letGo(),
  };
}
