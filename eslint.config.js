import boundaries from 'eslint-plugin-boundaries'
import svelte from 'eslint-plugin-svelte'
import globals from 'globals'
import ts from 'typescript-eslint'
import svelteConfig from './svelte.config.js'

/**
 * The rooms of the core, each with the rooms it may enter. `design`, `catalog`, `types`, `naming`, `sql` and `notice`
 * are open to all.
 */
const open = ['design', 'catalog', 'types', 'naming', 'sql', 'notice']
const rooms = {
  notice: [],
  types: ['notice'],
  naming: [],
  sql: [],
  design: ['types', 'notice', 'catalog', 'naming'],
  catalog: ['sql', 'notice'],
  dialects: open,
  derive: [...open, 'dialects'],
  compare: [...open, 'dialects'],
  plan: [...open, 'dialects', 'compare'],
  infer: [...open, 'dialects'],
  adopt: [...open, 'dialects', 'derive', 'compare'],
  session: [...open, 'dialects', 'derive', 'compare', 'plan', 'adopt', 'infer'],
  picture: [...open, 'derive'],
  cells: [...open, 'dialects', 'derive'],
  review: [...open, 'dialects', 'derive'],
  jot: [...open, 'dialects', 'derive'],
  starts: [...open, 'cells'],
  'json-schema': [...open, 'dialects', 'derive']
}
const room = (name) => ({ element: { type: 'core', captured: { room: name } } })
const place = (type) => ({ element: { type } })
/** A folder outside the core, and the folders whose doors are open to it. */
const door = (from, to) => ({ from: place(from), allow: { to: [from, ...to, 'core'].map(place) } })

export default ts.config(
  { ignores: ['build/', 'dist/', '.svelte-kit/', 'node_modules/', 'test-results/', 'src/lib/live/generated/'] },
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  {
    languageOptions: { globals: { ...globals.browser, ...globals.node } },
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { varsIgnorePattern: '^_', argsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' }
      ],
      '@typescript-eslint/consistent-type-assertions': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      'no-restricted-syntax': ['error', { selector: 'ExportDefaultDeclaration', message: 'Name what you export.' }]
    }
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
    // Links of an HTML list are resolved by the helper that makes them.
    rules: {
      'svelte/no-navigation-without-resolve': ['error', { ignoreLinks: true }],
      // Immutable values in `$state.raw`, replaced whole, are how state is kept here.
      'svelte/prefer-svelte-reactivity': 'off',
      'no-restricted-syntax': 'off'
    }
  },
  { files: ['*.config.*', 'scripts/**'], rules: { 'no-restricted-syntax': 'off' } },
  {
    files: ['src/**'],
    ignores: ['**/*.test.ts'],
    plugins: { boundaries },
    settings: {
      'import/resolver': { typescript: { project: './tsconfig.json' } },
      'boundaries/include': ['src/**/*'],
      'boundaries/elements': [
        { type: 'core', pattern: 'src/lib/core/*', capture: ['room'] },
        ...['live', 'server', 'storage', 'workers', 'ui'].map((type) => ({
          type,
          pattern: `src/lib/${type}/**`,
          partialMatch: false
        })),
        { type: 'routes', pattern: 'src/routes/**', partialMatch: false },
        { type: 'cli', pattern: 'src/cli/**', partialMatch: false }
      ]
    },
    rules: {
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            ...Object.entries(rooms).map(([from, to]) => ({
              from: room(from),
              allow: { to: [from, ...to].map(room) }
            })),
            door('live', []),
            door('server', ['live']),
            door('storage', []),
            door('workers', ['storage', 'live']),
            door('ui', ['storage', 'live', 'workers']),
            door('routes', ['ui', 'server']),
            door('cli', ['server', 'live'])
          ]
        }
      ]
    }
  }
)
