import { defineConfig, globalIgnores } from 'eslint/config';
import tseslint from 'typescript-eslint';
import nextVitals from 'eslint-config-next/core-web-vitals';

export default defineConfig([
  globalIgnores([
    '.next/**',
    'node_modules/**',
    'next-env.d.ts',
    'public/**',
    'test-results/**',
    'playwright-report/**',
  ]),
  ...nextVitals,
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-console': 'error',
      // Prettier breaks code; this one holds comments and texts to the same width.
      'max-len': ['error', { code: 120, ignoreRegExpLiterals: true }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'navigator',
        'performance',
        'setTimeout',
        'fetch',
        'process',
        'self',
        'crypto',
      ],
      'no-restricted-imports': [
        'error',
        { patterns: ['react*', 'next*', 'antd*', 'dexie*', 'zustand*', 'recharts*', 'node:*', '@/*'] },
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Draw from a seeded generator.' },
      ],
    },
  },
  {
    // What is shown goes through one door, which has words for what is no number.
    files: ['src/features/**', 'src/ui/**'],
    ignores: ['**/*.test.*', 'src/ui/chart/tenth.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: ":not(CallExpression[callee.name='Number']) > CallExpression[callee.property.name='toFixed']",
          message: 'Show figures by formatFixed, formatSigned or formatQuantity; coordinates by tenth.',
        },
      ],
    },
  },
  {
    // Drawings of circuits are tables, and may be as long as their circuit.
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['**/*.test.*', 'src/core/topology/**', 'src/core/testing/**'],
    rules: { 'max-lines-per-function': ['error', { max: 75 }] },
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  { files: ['scripts/**', 'cli/**', 'bench/**'], rules: { 'no-console': 'off' } },
]);
