import tseslint from 'typescript-eslint';
import hooks from 'eslint-plugin-react-hooks';

/** Who may import whom; a crossing fails the build. See docs/house.md. */
const floor = (files, forbidden, ignores = []) => ({
  files,
  ignores,
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: forbidden.map((room) => ({ group: [`**/${room}/**`, `**/${room}`], message: `This floor may not import from ${room}.` })) },
    ],
  },
});

export default tseslint.config(
  { ignores: ['dist/**', 'data/**', '.cache/**', 'node_modules/**', 'docs/**'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/ban-ts-comment': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      'no-constant-condition': ['error', { checkLoops: false }],
      eqeqeq: 'error',
    },
  },
  { files: ['src/web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' } },
  floor(['src/core/**'], ['server', 'web', 'smpp', 'carrier', 'demo'], ['**/*.test.ts']),
  floor(['src/smpp/**'], ['server', 'web', 'core', 'carrier', 'demo'], ['**/*.test.ts']),
  floor(['src/carrier/**'], ['server', 'web', 'demo'], ['**/*.test.ts']),
  floor(['src/server/**'], ['web', 'carrier', 'demo'], ['**/*.test.ts', '**/testing/**']),
  floor(['src/web/**'], ['server', 'smpp', 'carrier', 'demo'], ['**/*.test.ts', '**/*.test.tsx']),
);
