import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
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
