import jsdoc from 'eslint-plugin-jsdoc';
import tseslint from 'typescript-eslint';

// Rules that need types are in .oxlintrc.json, for a linter that has them in a fifth of the time.
export default tseslint.config(
  { ignores: ['dist', 'data', 'node_modules', 'kernel', 'test-results', 'playwright-report'] },
  ...tseslint.configs.recommended,
  {
    rules: {
      eqeqeq: 'error',
      'no-console': 'error',
      'prefer-const': 'error',
      // `import { type A }` alone still loads the module when it runs.
      '@typescript-eslint/no-import-type-side-effects': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    },
  },
  {
    // Whatever other files can use says what it is.
    files: ['src/**/*.{ts,tsx}', 'demo/**/*.ts', 'bench/**/*.ts', 'scripts/**/*.ts', 'tests/support/**/*.{ts,tsx}'],
    ignores: ['**/*.test.{ts,tsx}', '**/*.d.ts'],
    plugins: { jsdoc },
    rules: {
      'jsdoc/require-jsdoc': [
        'error',
        {
          publicOnly: { esm: true, cjs: false, window: false },
          enableFixer: false,
          require: { FunctionDeclaration: true, ClassDeclaration: true, MethodDefinition: false },
          contexts: ['TSInterfaceDeclaration', 'TSTypeAliasDeclaration', 'ExportNamedDeclaration > VariableDeclaration'],
        },
      ],
    },
  },
  {
    // What is particular to a kind of shot is in its own folder, behind ShotKind.
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['src/core/shots/**', 'src/web/features/shots/{still,turntable,sunStudy,walkthrough,sectionReveal}/**', 'src/**/*.test.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: 'BinaryExpression[operator=/^[!=]==$/] > Literal[value=/^(still|turntable|sunStudy|walkthrough|sectionReveal)$/]',
          message: 'Ask the kind of the shot (core/shots/kind.ts) instead of comparing its name.',
        },
      ],
    },
  },
);
