import js from '@eslint/js';
import globals from 'globals';

// What the scripts of the pages must not do: names that nobody declares, variables that nobody uses, and the rest of ESLint's own list.
export default [
  js.configs.recommended,
  {
    files: ['src/DuneCrate.Web/Stations/**/*.js'],
    languageOptions: { ecmaVersion: 2024, sourceType: 'module', globals: { ...globals.browser, htmx: 'readonly' } },
    linterOptions: { reportUnusedDisableDirectives: 'error' },
    rules: { eqeqeq: 'error', 'no-var': 'error', 'prefer-const': 'error', 'no-implicit-globals': 'error' },
  },
];
