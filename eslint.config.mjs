import js from '@eslint/js';
import tseslint from 'typescript-eslint';

/** Arrows point one way: a package may import only what is listed here. */
const LAYERS = {
  'packages/core': [],
  'packages/wire': [],
  'packages/protocol': ['@umbek/core'],
  'packages/look': ['@umbek/core'],
  'packages/demo': ['@umbek/core'],
  'packages/host': ['@umbek/core'],
  'packages/standins': ['@umbek/core', '@umbek/demo', '@umbek/wire', '@umbek/host'],
  'apps/server': ['@umbek/core', '@umbek/look', '@umbek/protocol', '@umbek/demo', '@umbek/wire', '@umbek/host'],
  'apps/desk': ['@umbek/core', '@umbek/look', '@umbek/protocol'],
};
/** Places of the page: none knows another one, and what they share knows none of them. */
const PLACES = ['desk', 'bench', 'rig', 'log'];
const SHARED = ['csv', 'caps', 'common', 'live', 'picture', 'show', 'steps', 'theme'];
const ALL = [
  '@umbek/core',
  '@umbek/look',
  '@umbek/protocol',
  '@umbek/demo',
  '@umbek/wire',
  '@umbek/host',
  '@umbek/standins',
  '@umbek/server',
  '@umbek/desk',
];

export default tseslint.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '**/.expo/**', '**/*.d.ts', '.umbek/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // Words that meant five things: what is told, to whom, which one, taken or put where, must be said.
      'id-denylist': ['error', 'told', 'one', 'put'],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    files: ['scripts/**/*.mjs', 'examples/**/*.mjs', 'bench/**/*.mjs', 'simulate/**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        Buffer: 'readonly',
        console: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        URL: 'readonly',
        fetch: 'readonly',
      },
    },
  },
  {
    files: ['scripts/*.cjs'],
    languageOptions: {
      sourceType: 'commonjs',
      globals: { require: 'readonly', module: 'readonly', __filename: 'readonly' },
    },
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
  ...Object.entries(LAYERS).map(([folder, allowed]) => ({
    files: [`${folder}/**/*.{ts,tsx}`],
    // Tests and what only they use may know the demo show.
    ignores: ['**/*.test.{ts,tsx}', '**/testShow.ts', '**/testEngine.ts', '**/testRules.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: ALL.filter((name) => !allowed.includes(name) && name !== `@umbek/${folder.split('/')[1]}`).map(
            (name) => ({ group: [name, `${name}/*`], message: `${folder} must not know ${name}.` }),
          ),
        },
      ],
    },
  })),
  ...[...PLACES, ...SHARED].map((folder) => ({
    files: [`apps/desk/src/${folder}/**/*.{ts,tsx}`],
    ignores: ['**/*.test.{ts,tsx}'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            ...PLACES.filter((place) => place !== folder).map((place) => ({
              regex: `^(\\.\\./)+${place}/`,
              message: `${folder} must not know ${place}: what both need stands in ${SHARED.join(', ')}.`,
            })),
            ...ALL.filter((name) => !LAYERS['apps/desk'].includes(name)).map((name) => ({
              group: [name, `${name}/*`],
              message: `apps/desk must not know ${name}.`,
            })),
          ],
        },
      ],
    },
  })),
  {
    files: ['packages/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['setTimeout', 'setInterval', 'setImmediate', 'performance', 'fetch', 'process'].map((name) => ({
          name,
          message: 'The core takes time and I/O from outside.',
        })),
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'The core leaves nothing to chance.' },
      ],
      'no-restricted-syntax': [
        'error',
        { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Ask the clock.' },
        { selector: "MemberExpression[object.name='Date'][property.name='now']", message: 'Ask the clock.' },
        { selector: 'AwaitExpression', message: 'The core is synchronous.' },
        { selector: "NewExpression[callee.name='Promise']", message: 'The core is synchronous.' },
      ],
    },
  },
  {
    // What the bundler and its compiler are set up by is read as CommonJS.
    files: ['apps/desk/{metro,babel}.config.js'],
    languageOptions: {
      sourceType: 'commonjs',
      globals: { require: 'readonly', module: 'writable', __dirname: 'readonly' },
    },
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
);
