import angular from '@angular-eslint/eslint-plugin';
import template from '@angular-eslint/eslint-plugin-template';
import templateParser from '@angular-eslint/template-parser';
import js from '@eslint/js';
import tseslint from 'typescript-eslint';

/** Imports point inwards: core knows nobody, contract knows core, and the three hosts know these two. */
const only = (...allowed) => {
  const all = ['core', 'contract', 'server', 'web', 'stand-ins', 'demo', 'e2e', 'bench'];
  return {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: all
              .filter((name) => !allowed.includes(name))
              .flatMap((name) => [`@kettle/${name}`, `@kettle/${name}/*`]),
            message: 'Imports point inwards: this package may not know that one.',
          },
          {
            regex: '^(\\.\\./)+(core|contract|server|web|stand-ins|demo|e2e|bench)/(src|dist)/',
            message: 'Import another package by its name.',
          },
        ],
      },
    ],
  };
};
const noHost = {
  'no-restricted-globals': [
    'error',
    'window',
    'document',
    'process',
    'Buffer',
    'fetch',
    'localStorage',
    'navigator',
    'setTimeout',
    'setInterval',
  ],
};

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '**/.angular/**',
      'var/**',
      'demo/blanks/**',
      'core/src/kernels/**',
      '**/test-results/**',
    ],
  },
  js.configs.recommended,
  { files: ['server/pages/*.js'], languageOptions: { globals: { document: 'readonly' } } },
  {
    files: ['**/*.ts'],
    extends: [...tseslint.configs.recommended],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-undef': 'off',
      eqeqeq: 'error',
      'prefer-const': ['error', { destructuring: 'all' }],
    },
  },
  { files: ['core/src/**/*.ts'], rules: { ...only(), ...noHost } },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.spec.ts'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '^(?!\\.|(?:perfect-freehand|d3-contour|simplify-js|svgpath)$|@noble/hashes/)',
              message: 'Core stands on itself, on pure geometry and on hashes.',
            },
          ],
        },
      ],
    },
  },
  {
    // What could not be had is said and comes back: data/loaded.ts and data/missing.ts do both.
    files: ['web/src/app/**/*.ts'],
    ignores: ['**/*.spec.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.name='catchError'] > ArrowFunctionExpression[params.length=0]",
          message: 'An error is swallowed here. Use Loaded or Missing, or say why nobody needs to know.',
        },
        {
          selector: "Property[key.name='error'] > ArrowFunctionExpression[body.type='Identifier'][body.name='undefined']",
          message: 'An error is swallowed here. Use Loaded or Missing, or say why nobody needs to know.',
        },
      ],
    },
  },
  { files: ['contract/src/**/*.ts'], rules: only('core') },
  { files: ['server/src/**/*.ts'], rules: only('core', 'contract', 'demo') },
  {
    files: ['server/src/**/*.spec.ts', 'server/src/testing/**/*.ts'],
    rules: only('core', 'contract', 'demo', 'stand-ins'),
  },
  {
    files: ['web/src/**/*.ts'],
    plugins: { '@angular-eslint': angular },
    processor: template.processors['extract-inline-html'],
    rules: {
      ...angular.configs.recommended.rules,
      ...only('core', 'contract'),
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'ks', style: 'kebab-case' }],
    },
  },
  {
    files: ['web/src/**/*.html'],
    plugins: { '@angular-eslint/template': template },
    languageOptions: { parser: templateParser },
    rules: {
      ...template.configs.recommended.rules,
      ...template.configs.accessibility.rules,
      '@angular-eslint/template/click-events-have-key-events': 'off',
      '@angular-eslint/template/interactive-supports-focus': 'off',
    },
  },
  { files: ['web/src/core-in-browser.spec.ts'], rules: { 'no-restricted-imports': 'off' } },
  { files: ['stand-ins/src/**/*.ts'], rules: only() },
  { files: ['demo/src/**/*.ts'], rules: only('core', 'contract') },
  {
    files: ['scripts/**/*.mjs', 'web/*.mjs'],
    languageOptions: {
      globals: {
        URL: 'readonly',
        process: 'readonly',
        console: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        fetch: 'readonly',
        performance: 'readonly',
      },
    },
  },
  {
    files: ['**/*.cjs'],
    languageOptions: { globals: { require: 'readonly', module: 'writable', process: 'readonly', console: 'readonly' } },
  },
);
