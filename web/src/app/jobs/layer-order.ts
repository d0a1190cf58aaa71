import { type ExportSettings, cropOf, distinctNames, exportSize, safeName } from '@hazy-lens/core';
import type { Exporter } from '../engine/export';
import { zipOf } from '../engine/zip-of';
import type { FileJobSpec } from './job-queue';
import type { Held } from './held';
import type { ExportInput } from './picture-order';
import { timeLeft } from './time-left';
import { queueWords } from '../words/queue';

/** An order for what a picture is made of: its own and each layer over it, as TIFFs in a zip. @param names of layers, by their ids. */
export function layerOrder(
  exporter: Exporter,
  fileName: string,
  size: ExportSettings['size'],
  names: ReadonlyMap<string, string>,
  input: Held<ExportInput>,
): FileJobSpec {
  return {
    fileName,
    extension: '.zip',
    label: queueWords.layers,
    canPause: false,
    async make(report, { signal }) {
      report({ says: queueWords.preparing });
      const source = await input.ready;
      signal.throwIfAborted();
      const started = performance.now();
      const all = exportSize(cropOf(source.recipe, source.picture), size);
      const layers = await exporter.layers(source, all, signal, (done) =>
        report({
          says: queueWords.renderingLayers,
          progress: done,
          remaining: timeLeft(done, performance.now() - started),
        }),
      );
      const named = distinctNames(
        layers.map(({ id }, i) => {
          const name = id === null ? 'picture' : (names.get(id) ?? 'subject');
          return `${String(i + 1).padStart(2, '0')} ${safeName(name)}`;
        }),
      );
      return zipOf(layers.map(({ file }, i) => ({ name: `${named[i]!}.tif`, file })));
    },
    ended: async () => input.letGo(),
  };
}
