import js from '@eslint/js'
import tseslint from 'typescript-eslint'
import hooks from 'eslint-plugin-react-hooks'
import globals from 'globals'

/** The workspaces each one may import; imports run one way: web → contract → core; server → contract, core; standin → core. */
const mayImport = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  standin: ['core'],
  web: ['contract'],
  e2e: [],
  bench: ['core', 'server', 'standin'],
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
  // The server is tested against the real stand-in, and the report of readings against core's own generators.
  { files: ['server/test/**'], rules: { 'no-restricted-imports': 'off' } },
)
