import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

const features = ['assign', 'bench', 'music', 'mymusic', 'people', 'signin', 'splitter', 'stand', 'today', 'wall']

export default tseslint.config(
  { ignores: ['src/api/gen/**', 'dist/**'] },
  ...tseslint.configs.strictTypeChecked,
  { languageOptions: { parserOptions: { projectService: true } } },
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks },
    rules: {
      ...reactHooks.configs.recommended.rules,
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
    },
  },
  // A feature uses shared and api, never another feature.
  ...features.map((name) => ({
    files: [`src/features/${name}/**/*.{ts,tsx}`],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: features.filter((other) => other !== name).map((other) => `**/features/${other}/**`) },
      ],
    },
  })),
)
