import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { '@hazy-lens/core': fileURLToPath(new URL('core/src/index.ts', import.meta.url)) };
const seed = './core/test/seed.ts';
const tests = (name: string, include: string[], setupFiles: string[], isolate: boolean) => ({
  resolve: { alias },
  test: { name, include, setupFiles, isolate, testTimeout: 300_000 },
});

export default defineConfig({
  test: {
    // Each of two cores has files to run.
    maxWorkers: 2,
    projects: [
      // Functions leave nothing behind: one world is enough for all files.
      tests('computation', ['core/test/**/*.test.ts', 'server/test/**/*.test.ts'], [seed], false),
      // Angular's libraries come half compiled; this finishes them where no build does.
      tests('application', ['web/test/**/*.test.ts'], ['@angular/compiler', seed], true),
    ],
  },
});
