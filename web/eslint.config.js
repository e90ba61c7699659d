import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'
import catalogueOnly from './eslint/catalogueOnly.js'
import featureWall from './eslint/featureWall.js'

/** The rules that cost most of the time, the React compiler's among them, wait for the full check. */
const isWhole = !['check', 'quick'].includes(process.env.CRUMB_TESTS ?? '')
const rulesOfHooks = { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' }

const costly = {
  '@typescript-eslint/no-deprecated': 'off',
  '@typescript-eslint/no-unsafe-assignment': 'off',
  '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
  '@typescript-eslint/no-unsafe-enum-assignment': 'off',
}

export default tseslint.config(
  { ignores: ['src/api/gen/**', 'dist/**'] },
  // Where fewer rules run, a directive for one of the others is not unused.
  { linterOptions: { reportUnusedDisableDirectives: isWhole ? 'warn' : 'off' } },
  ...tseslint.configs.strictTypeChecked,
  { languageOptions: { parserOptions: { projectService: true } } },
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: {
      'react-hooks': reactHooks,
      crumb: { rules: { 'feature-wall': featureWall, 'catalogue-only': catalogueOnly } },
    },
    rules: {
      ...(isWhole ? reactHooks.configs.recommended.rules : rulesOfHooks),
      ...(isWhole ? {} : costly),
      'crumb/feature-wall': 'error',
      'crumb/catalogue-only': 'error',
      // Query keys come from src/api/keys.ts: what one screen invalidates is what another one asked for.
      'no-restricted-syntax': [
        'error',
        {
          selector: "Property[key.name='queryKey'] > ArrayExpression",
          message: 'Take the key from src/api/keys.ts.',
        },
        {
          selector: 'CallExpression[callee.property.name=/^(get|set)Quer(y|ies)Data$/] > ArrayExpression:first-child',
          message: 'Take the key from src/api/keys.ts.',
        },
      ],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
    },
  },
  {
    files: ['src/shared/pure/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ regex: '^react|^@tanstack|hooks/|ui/|practice/', message: 'Pure: values in, values out.' }] },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'localStorage', 'sessionStorage', 'navigator'],
    },
  },
  { files: ['src/**/*.test.{ts,tsx}'], rules: { 'no-restricted-syntax': 'off', 'crumb/catalogue-only': 'off' } },
)
