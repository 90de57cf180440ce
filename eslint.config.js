import tseslint from 'typescript-eslint';
import { importX } from 'eslint-plugin-import-x';
import hooks from 'eslint-plugin-react-hooks';
import sqlByParameter from './scripts/lint/sql-by-parameter.js';

/** Who may import whom; a crossing fails the build. See docs/house.md. */
const floor = (files, forbidden, ignores = []) => ({
  files,
  ignores,
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: forbidden.map((room) => ({
          group: [`**/${room}/**`, `**/${room}`],
          message: `This floor may not import from ${room}.`,
        })),
      },
    ],
  },
});

const BARE = 'A piece of src/web/pieces stands for this; bare controls are only there.';
const COLOR = 'Colors are tokens of the theme (src/web/theme/tokens.ts).';
/** Outside the pieces: no bare control, no color, no styles beyond computed geometry, no address and no answer of the server. */
const screens = [
  { selector: 'JSXOpeningElement[name.name=/^(button|input|select|textarea|table|progress)$/]', message: BARE },
  { selector: 'Literal[value=/^#[0-9a-fA-F]{3,8}$|^(rgb|hsl)a?\\(/]', message: COLOR },
  {
    selector: 'JSXAttribute[name.name="sx"]',
    message: 'Looks are props of the pieces, or styled beside the component through the theme.',
  },
  {
    selector:
      'JSXAttribute[name.name="style"] Property[key.name!=/^(width|height|left|right|top|bottom|minWidth|maxHeight|transform|transition)$/]',
    message: 'A style object holds computed geometry only.',
  },
  {
    selector: 'JSXAttribute[name.name="className"] > Literal',
    message: 'Looks are props of the pieces, or styled beside the component.',
  },
  { selector: 'Literal[value=/^.?api.(?!openapi)/]', message: 'Addresses stand in the contract (src/core/api).' },
  { selector: 'TemplateElement[value.raw=/^.api./]', message: 'Addresses stand in the contract (src/core/api).' },
  { selector: 'CallExpression[callee.name="fetch"]', message: 'The server is asked through src/web/api.' },
];

export default tseslint.config(
  { ignores: ['dist/**', 'data/**', '.cache/**', 'node_modules/**', 'docs/**'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    plugins: { 'import-x': importX },
    settings: {
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
      'import-x/resolver': { node: { extensions: ['.ts', '.tsx', '.mts'] } },
    },
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/ban-ts-comment': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      'no-constant-condition': ['error', { checkLoops: false }],
      eqeqeq: 'error',
    },
  },
  {
    files: ['src/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['src/web/**/*.{ts,tsx}'],
    ignores: ['src/web/pieces/**', 'src/web/theme/**', 'src/web/api/**', '**/*.test.*', 'src/web/testing.tsx'],
    rules: { 'no-restricted-syntax': ['error', ...screens] },
  },
  {
    files: ['src/server/**/*.ts', 'src/demo/**/*.ts'],
    ignores: ['**/*.test.ts', '**/testing/**', '**/testing.ts'],
    plugins: { own: { rules: { 'sql-by-parameter': sqlByParameter } } },
    rules: { 'own/sql-by-parameter': 'error' },
  },
  // what measures and what makes pictures knows nothing of the tests; all three use the harness
  floor(['bench/**', 'scripts/**', 'harness/**'], ['e2e']),
  floor(['src/core/**'], ['server', 'web', 'smpp', 'carrier', 'demo'], ['**/*.test.ts']),
  floor(['src/smpp/**'], ['server', 'web', 'core', 'carrier', 'demo'], ['**/*.test.ts']),
  floor(['src/carrier/**'], ['server', 'web', 'demo'], ['**/*.test.ts']),
  floor(['src/server/**'], ['web', 'carrier', 'demo'], ['**/*.test.ts', '**/testing/**']),
  floor(['src/web/**'], ['server', 'smpp', 'carrier', 'demo'], ['**/*.test.ts', '**/*.test.tsx']),
);
