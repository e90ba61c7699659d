import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'
import featureWall from './eslint/featureWall.js'

export default tseslint.config(
  { ignores: ['src/api/gen/**', 'dist/**'] },
  ...tseslint.configs.strictTypeChecked,
  { languageOptions: { parserOptions: { projectService: true } } },
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks, crumb: { rules: { 'feature-wall': featureWall } } },
    rules: {
      ...reactHooks.configs.recommended.rules,
      'crumb/feature-wall': 'error',
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
    },
  },
)
