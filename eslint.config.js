import js from '@eslint/js'
import tseslint from 'typescript-eslint'
import hooks from 'eslint-plugin-react-hooks'
import globals from 'globals'

/** The workspaces each one may import; imports run one way: web → contract → core; server → contract, core, gate; standin, gate → core. */
const mayImport = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract', 'gate'],
  standin: ['core'],
  gate: ['core'],
  web: ['contract'],
  e2e: [],
  bench: ['core', 'server', 'standin', 'gate'],
}

const oneWay = Object.entries(mayImport).map(([workspace, allowed]) => ({
  files: [`${workspace}/**/*.{ts,tsx}`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            regex: `^@unvelt/(?!(${allowed.join('|') || '-'})($|/))`,
            message: `${workspace} may import ${allowed.join(', ') || 'no other workspace'} only.`,
          },
          {
            regex: `^(\\.\\./)+(${Object.keys(mayImport).join('|')})/src`,
            message: 'Reach another workspace by its package name.',
          },
        ],
      },
    ],
  },
}))

/**
 * Folders of the server, from the ground up: each imports what stands before it, or beside it, and nothing above. The shapes of
 * tables (`*.model.ts`) may be named by all, since every table points to others.
 */
const TIERS = [
  ['types', 'config', 'log', 'admission', 'problem', 'openapi', 'events', 'ready', 'queue', 'reach', 'parse'],
  ['database', 'instance', 'metrics', 'health'],
  ['site-http', 'made-copy'],
  ['browser', 'font'],
  ['site', 'page', 'lens', 'pattern', 'use', 'idle', 'verdict', 'step', 'from-outside', 'trace', 'toll', 'reading'],
  ['sweep', 'kept', 'on-demand', 'proof'],
  ['rule'],
  ['outside', 'add-on', 'page-sheet'],
  [
    'ledger',
    'standing',
    'stale',
    'film',
    'verify',
    'consent',
    'nowhere',
    'promise',
    'share',
    'page-view',
    'har',
    'inventory',
    'action',
    'without',
    'server-reading',
    'step-trial',
    'step-idea',
    'preview',
    'follow',
  ],
  ['worker', 'connector-check'],
]
/** Small files that say what a thing is, and do nothing. */
const NAMED_BY_ALL = String.raw`(\.model|/lens-settings|/failure|/sweep-events)\.js$`

const inTiers = TIERS.flatMap((tier, height) => {
  const above = TIERS.slice(height + 1).flat()
  if (above.length === 0) return []
  return [
    {
      files: tier.map((folder) => `server/src/${folder}/**/*.ts`),
      rules: {
        'no-restricted-imports': [
          'error',
          {
            patterns: [
              {
                regex: `^(?!.*${NAMED_BY_ALL})(\\.\\./)+(${above.join('|')})/`,
                message: `${tier.join(', ')} may not import what stands above them (eslint.config.js, TIERS).`,
              },
              {
                regex: '^@unvelt/(?!(core|contract|gate)($|/))',
                message: 'server may import core, contract, gate only.',
              },
            ],
          },
        ],
      },
    },
  ]
})

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', 'standin/files/**', '**/test-results/**', 'e2e/generated/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    languageOptions: { globals: globals.node },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-console': 'off',
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'fetch', 'process', 'setTimeout', 'setInterval', 'performance'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Pass a seeded generator in.' },
        { object: 'Date', property: 'now', message: 'Pass the time in.' },
      ],
    },
  },
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: hooks.configs.recommended.rules },
  { files: ['web/**', 'e2e/**', 'standin/**'], languageOptions: { globals: { ...globals.browser, ...globals.node } } },
  ...oneWay,
  ...inTiers,
  // The server is tested against the real stand-in, and the report of readings against core's own generators.
  { files: ['server/test/**'], rules: { 'no-restricted-imports': 'off' } },
)
