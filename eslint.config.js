import tseslint from 'typescript-eslint';
import { importX } from 'eslint-plugin-import-x';
import hooks from 'eslint-plugin-react-hooks';
import byTheDoor from './scripts/lint/by-the-door.js';
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

const NOT_PRODUCT = ['**/*.test.ts', '**/*.test.tsx', '**/testing/**', '**/testing.ts', '**/testing.tsx'];
/** Areas of a floor in their order: each knows those before it only, and those by what they have for others. */
const areas = (room, ground, order) => ({
  files: [`${room}/**/*.{ts,tsx}`],
  ignores: NOT_PRODUCT,
  plugins: { walls: { rules: { 'by-the-door': byTheDoor } } },
  rules: { 'walls/by-the-door': ['error', { floor: room, ground, areas: order }] },
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
    files: ['**/*.{ts,tsx,mjs,js}'],
    ignores: ['**/*.test.ts', '**/*.test.tsx'],
    // longer than two pages, a function is several
    rules: { 'max-lines-per-function': ['error', 120] },
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
    ignores: NOT_PRODUCT,
    plugins: { own: { rules: { 'sql-by-parameter': sqlByParameter } } },
    rules: { 'own/sql-by-parameter': 'error' },
  },
  areas(
    'src/server',
    ['db', 'files', 'desk', 'http'],
    [
      'handed-in',
      'address-book',
      'engine',
      'setup',
      'codes',
      'outcomes',
      'people',
      'broadcasts',
      'templates',
      'replies',
      'accounts',
      'calendar',
      'links',
      'practice',
      'today',
    ],
  ),
  areas(
    'src/web',
    ['theme', 'api', 'pieces'],
    ['setup', 'frame', 'outcomes', 'people', 'broadcasts', 'codes', 'templates', 'replies', 'phones', 'today'],
  ),
  {
    // areas refuse (core/api/refusal); only the HTTP floor speaks HTTP
    files: ['src/server/**/*.ts'],
    ignores: ['src/server/http/**', ...NOT_PRODUCT],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: 'ImportDeclaration[source.value=/http\\u002fproblem$/]',
          message: 'An area says why in a Refusal; its status is decided in src/server/http/problem.',
        },
      ],
    },
  },
  // what measures and what makes pictures knows nothing of the tests; all three use the harness
  floor(['bench/**', 'scripts/**', 'harness/**'], ['e2e']),
  floor(['src/core/**'], ['server', 'web', 'smpp', 'carrier', 'demo'], ['**/*.test.ts']),
  floor(['src/smpp/**'], ['server', 'web', 'core', 'carrier', 'demo'], ['**/*.test.ts']),
  floor(['src/carrier/**'], ['server', 'web', 'demo'], ['**/*.test.ts']),
  floor(['src/server/**'], ['web', 'carrier', 'demo'], ['**/*.test.ts', '**/testing/**']),
  floor(['src/web/**'], ['server', 'smpp', 'carrier', 'demo'], ['**/*.test.ts', '**/*.test.tsx']),
);
