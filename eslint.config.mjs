import js from '@eslint/js';
import angular from 'angular-eslint';
import boundaries from 'eslint-plugin-boundaries';
import tseslint from 'typescript-eslint';

/** Globals of a page, of Node or of a worker that the computation must not know. */
const OUTSIDE_THE_CORE = [
  'window',
  'document',
  'navigator',
  'localStorage',
  'fetch',
  'self',
  'process',
  'Buffer',
  'postMessage',
  'OffscreenCanvas',
];

/** The rooms of the computation, from the ground up: each may import itself and those before it, types too. */
const CORE_ROOMS = [
  'kernels',
  'memory',
  'geometry',
  'recipe',
  'pixels',
  'focus',
  'matte',
  'tidy',
  'blur',
  'colour',
  'finish',
  'layers',
  'render',
  'footage',
  'suit',
  'media',
];

/** The rooms of the interface: each may import itself and those before it. A step knows no other step. */
const ROOMS = [
  'words',
  'model',
  'storage',
  'engine',
  'jobs',
  'project',
  'workspace',
  'ui',
  'stage',
  'profile',
  'reel',
  'shelf',
  'batch',
  'steps',
  'shell',
];
const above = (room) =>
  ROOMS.slice(0, ROOMS.indexOf(room)).filter((one) => one !== 'steps' || room === 'shell');

export default tseslint.config(
  { ignores: ['**/dist/', '**/node_modules/', '.cache/', 'core/kernels/'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.mjs'],
    rules: {
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'no-warning-comments': ['error', { terms: ['todo', 'fixme', 'xxx', 'hack'] }],
    },
  },
  // What promises and kinds must not do unheard needs types.
  ...[
    { files: ['web/src/**/*.ts'], project: ['web/tsconfig.json', 'web/tsconfig.worker.json'] },
    { files: ['server/**/*.ts', 'core/{src,test,reference}/**/*.ts'], project: 'server/tsconfig.json' },
  ].map(({ files, project }) => ({
    files,
    languageOptions: { parserOptions: { project, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
    },
  })),
  {
    files: ['**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        Buffer: 'readonly',
        performance: 'readonly',
        setTimeout: 'readonly',
        window: 'readonly',
        document: 'readonly',
        requestAnimationFrame: 'readonly',
        addEventListener: 'readonly',
        setInterval: 'readonly',
        PerformanceObserver: 'readonly',
        MutationObserver: 'readonly',
        MessageChannel: 'readonly',
        WebAssembly: 'readonly',
      },
    },
  },
  // The walls: the core imports nothing but Zod; web and server see the core's public face only, and not each other.
  {
    files: ['core/src/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ regex: '^(?!zod$)[^.]', message: 'The core imports nothing but Zod.' }] },
      ],
      'no-restricted-globals': ['error', ...OUTSIDE_THE_CORE],
    },
  },
  {
    files: ['web/**/*.ts', 'server/**/*.ts', 'core/**/*.ts', 'e2e/**/*.ts'],
    plugins: { boundaries },
    settings: {
      'import/resolver': { node: { extensions: ['.ts'] } },
      'boundaries/elements': [
        // What the application reads is held against what the command line reads.
        { type: 'web-test', pattern: 'web/test', mode: 'folder' },
        { type: 'soak', pattern: 'web/soak', mode: 'folder' },
        { type: 'bench', pattern: 'server/bench', mode: 'folder' },
        { type: 'server-test', pattern: 'server/test', mode: 'folder' },
        ...ROOMS.map((room) =>
          room === 'steps'
            ? { type: room, pattern: 'web/src/app/steps/*', mode: 'folder', capture: ['step'] }
            : { type: room, pattern: `web/src/app/${room}`, mode: 'folder' },
        ),
        ...CORE_ROOMS.map((room) => ({
          type: `core-${room}`,
          pattern: `core/src/${room}`,
          mode: 'folder',
        })),
        ...['core', 'web', 'server', 'demo', 'e2e'].map((name) => ({
          type: name,
          pattern: name,
          mode: 'folder',
        })),
      ],
    },
    rules: {
      'boundaries/element-types': [
        'error',
        {
          default: 'disallow',
          rules: [
            ...['core', 'web', 'server', 'demo', 'e2e'].map((name) => ({ from: name, allow: [name] })),
            ...ROOMS.map((room) => ({
              from: room,
              allow: [...above(room), room === 'steps' ? ['steps', { step: '${from.step}' }] : room],
            })),
            ...CORE_ROOMS.map((room, i) => ({
              from: `core-${room}`,
              allow: CORE_ROOMS.slice(0, i + 1).map((one) => `core-${one}`),
            })),
            // Its public face, its tests and its references.
            { from: 'core', allow: CORE_ROOMS.map((room) => `core-${room}`) },
            { from: 'web', allow: ROOMS },
            { from: 'soak', allow: ['soak', ...ROOMS] },
            // What is measured is held against the same references as in tests.
            {
              from: 'bench',
              allow: ['bench', 'core', 'server', ...CORE_ROOMS.map((room) => `core-${room}`)],
            },
            // It starts the built application on a server of its own as soaks do, and makes files as the core's tests do.
            { from: 'e2e', allow: ['soak', 'core'] },
            { from: 'server-test', allow: ['server-test', 'server', 'core'] },
            { from: 'web-test', allow: ['web-test', 'web', 'server', 'core', ...ROOMS] },
          ],
        },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: 'ImportDeclaration[source.value=/^@hazy-lens\\u002Fcore\\u002F/]',
          message: "Import from '@hazy-lens/core', its one public face.",
        },
      ],
    },
  },
  {
    files: ['core/reference/**/*.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['**/src/**'],
              allowTypeImports: true,
              message:
                'A reference computes by itself: it takes no more than types from what it is held against.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['web/test/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { name: 'fake-indexeddb/auto', message: 'Tests of the database are isolated: put this one there.' },
      ],
    },
  },
  {
    files: ['web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'hl', style: 'kebab-case' }],
      '@angular-eslint/directive-selector': [
        'error',
        { type: 'attribute', prefix: 'hl', style: 'camelCase' },
      ],
    },
  },
  {
    files: ['web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
  },
  { files: ['e2e/**/*.ts'], rules: { 'no-empty-pattern': 'off' } },
);
