import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

export default ts.config(
  { ignores: ['node_modules', '.next', '.demo', '.work', '.reference', 'public/decoders', 'next-env.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
    },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'no-undef': 'off',
      'prefer-const': 'error',
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'Date', 'fetch', 'crypto'],
      'no-restricted-syntax': [
        'error',
        { selector: 'ExportDefaultDeclaration', message: 'No default exports in the core.' },
        {
          selector: "MemberExpression[object.name='Math'][property.name='random']",
          message: 'Randomness is an argument.',
        },
      ],
    },
  },
  {
    // the formatter gives each argument, property and element a line of its own where they do not fit on one
    files: ['src/**/*.ts', 'tools/**/*.ts'],
    ignores: ['**/*.test.ts', 'src/demo/**'],
    rules: { 'max-lines-per-function': ['error', { max: 80, skipBlankLines: true, skipComments: true }] },
  },
  {
    files: ['src/**/*.tsx'],
    rules: { 'max-lines-per-function': ['error', { max: 100, skipBlankLines: true, skipComments: true }] },
  },
  {
    files: ['src/**/*.{ts,tsx}', 'tools/**/*.ts', 'bench/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { complexity: ['error', 25] },
  },
  {
    ignores: ['src/core/fields/{registry,structures,code-lists}.ts', 'src/demo/archive/{attic,harbour,studio}.ts'],
    rules: {
      'max-len': [
        'error',
        { code: 140, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true, ignoreUrls: true },
      ],
    },
  },
);
