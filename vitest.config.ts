import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@hazy-lens/core': fileURLToPath(new URL('core/src/index.ts', import.meta.url)) } },
  // Angular's libraries come half compiled; this finishes them where no build does.
  test: {
    setupFiles: ['@angular/compiler', './core/test/seed.ts'],
    include: ['core/test/**/*.test.ts', 'server/test/**/*.test.ts', 'web/test/**/*.test.ts'],
    testTimeout: 300_000,
  },
});
