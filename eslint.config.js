import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['node_modules', 'dist', 'build', '.tmp', 'kernels', '**/*.gen.*', '.dependency-cruiser.cjs'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': ['error', { allow: ['warn', 'error', 'log'] }],
      'prefer-const': 'error',
      'no-eval': 'error',
    },
  },
  // A hook behind an early return breaks the screen only for whoever comes that way.
  {
    files: ['src/**/*.tsx', 'src/app/**/use*.ts'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error' },
  },
  { files: ['src/core/**/*.ts'], ignores: ['**/*.test.ts'], rules: { 'no-console': 'error' } },
);
