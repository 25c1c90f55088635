import js from '@eslint/js'
import a11y from 'eslint-plugin-jsx-a11y'
import hooks from 'eslint-plugin-react-hooks'
import { defineConfig, globalIgnores } from 'eslint/config'
import ts from 'typescript-eslint'

export default defineConfig(
  globalIgnores(['dist', 'target', 'src/generated']),
  js.configs.recommended,
  ts.configs.recommended,
  hooks.configs.flat['recommended-latest'],
  a11y.flatConfigs.strict,
  { files: ['*.mjs', '*.ts', '*.js'], languageOptions: { globals: { process: 'readonly', URL: 'readonly' } } },
  {
    rules: {
      // The first field of a dialog has the focus: that is what the pattern for dialogs asks for.
      'jsx-a11y/no-autofocus': ['error', { ignoreNonDOM: true }],
      // Speaks of the React compiler, which is not used here.
      'react-hooks/incompatible-library': 'off',
    },
  },
  { linterOptions: { reportUnusedDisableDirectives: 'error' } },
)
