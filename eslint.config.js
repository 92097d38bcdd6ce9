import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const banned = (name, message) => ({ name, message });

export default tseslint.config(
  { ignores: ['dist', 'node_modules', 'coverage'] },
  {
    files: ['**/*.js', '**/*.mjs', '**/*.cjs'],
    extends: [js.configs.recommended],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        module: 'writable',
        setTimeout: 'readonly',
        fetch: 'readonly',
      },
    },
  },
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/require-await': 'off',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    files: ['src/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      '@typescript-eslint/unbound-method': 'off',
    },
  },
  // expect.stringMatching and its like are typed any on purpose.
  {
    files: ['**/*.test.ts', '**/*.test.tsx', 'tests/**/*.ts'],
    rules: { '@typescript-eslint/no-unsafe-assignment': 'off' },
  },
  {
    // The core computes: no clock, no chance of its own, no page, no process.
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['window', 'document', 'process', 'fetch', 'localStorage', 'setTimeout', 'setInterval', 'performance'].map(
          (n) => banned(n, 'The core is pure.'),
        ),
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Time is passed in.' },
        { object: 'Math', property: 'random', message: 'A random source is passed in.' },
      ],
    },
  },
  {
    // What is longer or has more ways through it is in pieces.
    files: ['src/**/*.{ts,tsx}', 'bench/**/*.ts'],
    rules: { complexity: ['error', 15], 'max-lines-per-function': ['error', { max: 80 }] },
  },
  { files: ['src/**/*.tsx'], rules: { 'max-lines-per-function': ['error', { max: 150 }] } },
  // One solver is one piece: its steps share a dozen quantities (Newton's method over all equilibria at once).
  { files: ['src/core/solution/speciate.ts'], rules: { complexity: 'off', 'max-lines-per-function': 'off' } },
  { files: ['**/*.test.ts', '**/*.test.tsx'], rules: { complexity: 'off', 'max-lines-per-function': 'off' } },
);
