import { type ExportSettings, type Metadata, cropOf } from '@hazy-lens/core';
import type { ExportProgress, ExportSource, Exporter } from '../engine/export';
import { stillFormatNamed } from '../model/export-text';
import { exportOptions } from './export-options';
import type { FileJobSpec } from './job-queue';
import type { Held } from './held';
import { timeLeft } from './time-left';
import { queueWords } from '../words/queue';

/** How a picture is wanted. */
export interface ExportWish {
  settings: ExportSettings;
  /** With its ending. */
  fileName: string;
}

/** All that a picture is made of: it is taken when the file is ordered, and nothing changes it after that. */
export interface ExportInput extends ExportSource {
  /** What the source's file says of itself. */
  metadata: Metadata;
}

const STAGES: Record<ExportProgress['stage'], string> = {
  reading: queueWords.reading,
  rendering: queueWords.rendering,
  writing: queueWords.savingTheFile,
};

/** An order for one picture. */
export function pictureOrder(
  exporter: Exporter,
  { settings, fileName }: ExportWish,
  input: Held<ExportInput>,
): FileJobSpec {
  const { label, extension } = stillFormatNamed(settings.kind);
  return {
    fileName,
    extension,
    label: queueWords.picture(label),
    canPause: false,
    async make(report, { signal }) {
      report({ says: queueWords.preparing });
      const { metadata, ...source } = await input.ready;
      signal.throwIfAborted();
      let stage: ExportProgress['stage'] | null = null;
      let started = 0;
      return exporter.export(
        source,
        exportOptions(settings, cropOf(source.recipe, source.picture), metadata),
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
