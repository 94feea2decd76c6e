import { createNodeResolver, importX } from 'eslint-plugin-import-x';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Folders (and files beside them) from the lowest up: each may import from those before it, never from those after. */
const CORE = [
  ...['errors.ts', 'contentKey.ts', 'seededRandom.ts', 'lastUsed.ts'],
  ...['picture', 'fourier', 'psf', 'methods', 'spectrum', 'noise', 'solve', 'kernels.ts', 'shake', 'clean'],
  ...['mask', 'align', 'recover', 'read', 'audit', 'practice', 'prescription', 'stages', 'acts', 'index.ts'],
];
const PAGE = ['words.ts', 'input', 'api', 'stores', 'surfaces', 'parts'];
/** The steps of the page know nothing of each other; the workspace holds them together. */
const STEPS = ['shoots', 'measure', 'noise', 'mask', 'trials', 'handOver', 'renders'];
const SERVER = [
  ...[
    'startError.ts',
    'httpError.ts',
    'validateRequests.ts',
    'guard.ts',
    'folderLock.ts',
    'dataFolder.ts',
    'events',
    'crew',
    'db',
  ],
  ...[
    'services.ts',
    'originals',
    'readings',
    'renders',
    'openServices.ts',
    'demoShoot.ts',
    'routes',
    'app.ts',
    'main.ts',
  ],
];

const oneWay = (root, layers) =>
  layers.slice(0, -1).map((layer, i) => ({
    target: `./${root}/${layer}`,
    from: layers.slice(i + 1).map((higher) => `./${root}/${higher}`),
    message: `${layer} stands below it: imports run one way.`,
  }));
const apart = (root, folders) =>
  folders.map((folder) => ({
    target: `./${root}/${folder}`,
    from: folders.filter((other) => other !== folder).map((other) => `./${root}/${other}`),
    message: 'What several steps use belongs into parts.',
  }));

export default tseslint.config(
  {
    ignores: [
      'bench/.pictures/**',
      '**/dist/',
      '**/.types/',
      'data/',
      'kernels/assembly/',
      'demo/',
      '.scratch/',
      'test-results/',
      'playwright-report/',
    ],
  },
  ...tseslint.configs.recommended,
  ...tseslint.configs.recommendedTypeCheckedOnly.map((config) => ({ ...config, files: ['*/src/**/*.{ts,tsx}'] })),
  {
    files: ['*/src/**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    // Interfaces name what they offer as methods; nothing of ours but classes uses `this`.
    rules: { '@typescript-eslint/unbound-method': 'off' },
  },
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      eqeqeq: 'error',
    },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['*/src/**/*.{ts,tsx}'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver-next': [createNodeResolver({ extensions: ['.ts', '.tsx', '.js'] })],
      'import-x/extensions': ['.ts', '.tsx'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
    },
    rules: {
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
      'import-x/no-restricted-paths': [
        'error',
        {
          zones: [
            ...oneWay('core/src', CORE),
            ...oneWay('web/src', [...PAGE, 'workspace', 'router.tsx']),
            ...oneWay('web/src', [...PAGE, ...STEPS]).filter(({ target }) =>
              PAGE.some((part) => target.endsWith(part)),
            ),
            ...apart('web/src', STEPS),
            ...oneWay('server/src', SERVER),
          ],
        },
      ],
    },
  },
  {
    // Imports run one way: core knows nobody, the page knows only the server's types.
    files: ['core/src/**/*.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['@vitrocept/*', 'node:*'] }] },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            { group: ['@vitrocept/server'], allowTypeImports: true },
            { group: ['@vitrocept/files', '@vitrocept/cli', 'node:*'] },
          ],
        },
      ],
    },
  },
);
