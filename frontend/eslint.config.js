import js from '@eslint/js'
import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

const RANKS = ['lib', 'theme', 'api', 'ui', 'actions', 'bolts', 'garage', 'app']
const above = {
  lib: ['theme', 'api', 'ui', 'actions', 'bolts', 'garage', 'app'],
  theme: ['api', 'ui', 'actions', 'bolts', 'garage', 'app'],
  api: ['ui', 'actions', 'bolts', 'garage', 'app'],
  ui: ['actions', 'bolts', 'garage', 'app'],
  actions: ['ui', 'bolts', 'garage', 'app'],
  bolts: ['garage', 'app'],
  garage: ['bolts', 'app'],
}

export default tseslint.config(
  { ignores: ['src/api/schema.d.ts'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    plugins: { 'react-hooks': hooks },
    rules: {
      ...hooks.configs.recommended.rules,
      '@typescript-eslint/no-explicit-any': 'error',
      'no-console': 'error',
      'max-lines': ['error', 600],
    },
  },
  ...RANKS.filter((r) => above[r]).map((r) => ({
    files: [`src/${r}/**/*.{ts,tsx}`],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: above[r].map((a) => ({ group: [`**/${a}/*`, `**/${a}`], message: `${r} may not import ${a}` })) },
      ],
    },
  })),
)
