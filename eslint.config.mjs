import prettier from 'eslint-config-prettier'
import importX from 'eslint-plugin-import-x'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'
import { SERVER_LAYERS } from './scripts/server-layers.mjs'

/** The rooms and what each may import: arrows point one way, app → core ← server ← demo. */
const ROOMS = [
  {
    target: './core',
    from: ['./app', './server', './demo', './tests', './node_modules/vue', './node_modules/nuxt'],
  },
  { target: './app', from: ['./server', './demo', './tests'] },
  { target: './server', from: ['./app', './demo', './tests'] },
  { target: './demo', from: ['./app', './tests'] },
]
/** Within the server a part imports from the layers below its own only. */
const SERVER_ZONES = SERVER_LAYERS.flatMap((parts, level) =>
  parts.map(part => ({
    target: [`./server/${part}`, `./server/${part}.ts`],
    from: SERVER_LAYERS.slice(level)
      .flat()
      .filter(other => other !== part)
      .flatMap(other => [`./server/${other}`, `./server/${other}.ts`]),
    message: 'An import that goes up: see scripts/server-layers.mjs.',
  })),
)
const OUTSIDE_CORE = [
  'vue',
  'vue/*',
  'nuxt',
  'nuxt/*',
  'h3',
  'pinia',
  '#imports',
  '#app',
  '@electric-sql/*',
  'node:*',
  '~/*',
  '~~/*',
]
const CLOCK = [
  {
    selector: 'CallExpression[callee.object.name="Date"][callee.property.name="now"]',
    message: 'Ask server/clock.ts or useClock.ts what time it is.',
  },
  {
    selector: 'NewExpression[callee.name="Date"][arguments.length=0]',
    message: 'Ask server/clock.ts or useClock.ts what time it is.',
  },
]

export default ts.config(
  { ignores: ['.nuxt/**', '.output/**', '.data/**', 'node_modules/**'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    plugins: { 'import-x': importX },
    settings: {
      'import-x/ignore': ['node_modules'],
      'import-x/resolver': { node: { extensions: ['.ts', '.mjs', '.vue'] } },
    },
    rules: {
      'import-x/no-restricted-paths': ['error', { zones: [...ROOMS, ...SERVER_ZONES] }],
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
      'no-restricted-syntax': ['error', ...CLOCK],
      'no-empty': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
      'no-undef': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      'vue/attributes-order': 'off',
    },
  },
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    files: ['core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: OUTSIDE_CORE }] },
  },
  {
    files: ['app/**/*.{ts,vue}'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            { group: ['**/server/**', '**/demo/**'], message: 'The app meets the server only at the API.' },
          ],
        },
      ],
    },
  },
  // The tests of core try it on the demo's dataset.
  { files: ['**/*.test.ts', '**/*.fixture.ts'], rules: { 'import-x/no-restricted-paths': 'off' } },
  {
    files: ['server/clock.ts', 'app/common/useClock.ts', 'scripts/**', 'tests/**', '**/*.test.ts'],
    rules: { 'no-restricted-syntax': 'off' },
  },
  // Layout is Prettier's.
  prettier,
)
