import { defineConfig } from 'eslint/config';
import tseslint from 'typescript-eslint';

export default defineConfig(
  { ignores: ['**/dist/**', 'packages/cli/page/**', 'coverage/**', '.tsout/**', '**/*.d.json.ts'] },
  {
    files: ['**/*.{ts,tsx}'],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      // `const { signal, ...others } = options` leaves one out.
      '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true }],
      // `1 + undefined` in a message is a bug; a number in a message is not.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
    },
  },
  {
    files: ['**/*.{test,bench}.ts', 'packages/*/test/**/*.ts', '{apps,examples}/*/test/**/*.ts', '*.config.ts'],
    languageOptions: { parserOptions: { projectService: false, project: './tsconfig.test.json' } },
  },
);
