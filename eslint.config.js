import js from '@eslint/js';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import { defineConfig } from 'eslint/config';
import globals from 'globals';
import tseslint from 'typescript-eslint';

export default defineConfig(
  { ignores: ['**/dist/**', 'packages/cli/{page,program,starter}/**', 'coverage/**', '.tsout/**', '**/*.d.json.ts'] },
  {
    files: ['**/*.{ts,tsx}'],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { project: './tsconfig.check.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      // `const { signal, ...others } = options` leaves one out.
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
      // `1 + undefined` in a message is a bug; a number in a message is not.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      // A new member of a union is met by every switch over it, also by those with a default.
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: false }],
    },
  },
  {
    files: ['apps/workbench/src/**/*.tsx', 'apps/workbench/src/**/*.ts'],
    extends: [reactHooks.configs.flat.recommended, jsxA11y.flatConfigs.recommended],
    rules: {
      // Roles that take the keyboard and the pointer themselves.
      'jsx-a11y/no-noninteractive-tabindex': ['error', { tags: [], roles: ['application', 'separator'] }],
      'jsx-a11y/no-interactive-element-to-noninteractive-role': ['error', { canvas: ['application'] }],
      // Of components: a dialog puts the focus into its field.
      'jsx-a11y/no-autofocus': ['error', { ignoreNonDOM: true }],
      'jsx-a11y/label-has-associated-control': ['error', { controlComponents: ['NumberField'] }],
    },
  },
  {
    files: ['**/*.{js,mjs,cjs}'],
    extends: [js.configs.recommended],
    languageOptions: { globals: globals.node },
  },
);
