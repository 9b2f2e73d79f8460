import { builtinModules } from 'node:module';
import next from '@next/eslint-plugin-next';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const nodeModules = builtinModules.flatMap((name) => [name, `node:${name}`]);

export default tseslint.config(
  {
    ignores: [
      'node_modules/',
      '.next*/',
      'dist*/',
      '.local/',
      'next-env.d.ts',
      'src/kernels/assembly/',
      'test-results/',
      'drizzle/',
    ],
  },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: 'error',
    },
  },
  {
    files: ['src/ui/**/*.tsx', 'src/app/**/*.tsx', 'src/ui/**/*.ts'],
    plugins: { 'react-hooks': hooks, '@next/next': next },
    rules: { ...hooks.configs['recommended-latest'].rules, ...next.configs.recommended.rules },
    settings: { next: { rootDir: '.' } },
  },
  {
    // The core runs in browsers, in threads and in tests alike: nothing of a host may reach it.
    files: ['src/core/**/*.ts', 'src/protocol/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: nodeModules,
          patterns: ['react', 'react-dom', 'next', 'next/*', 'sharp', 'pg', 'drizzle-orm'],
        },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'fetch',
        'process',
        'Buffer',
        'setTimeout',
        'setInterval',
        'performance',
        'console',
        'navigator',
        'Date',
      ],
      'no-restricted-properties': ['error', { object: 'Math', property: 'random', message: 'Use a seed.' }],
      'no-restricted-syntax': [
        'error',
        { selector: 'ImportExpression', message: 'The core is synchronous.' },
      ],
    },
  },
);
