import { ESLint } from 'eslint';

/** Each wall that docs/house.md and docs/areas name, broken on purpose in a file that is there: what it is, the file, its words, and what must be said of them. */
const BROKEN = [
  ['core knows no server', 'src/core/clock.ts', `import '../server/db/db';`, /may not import from server/],
  ['core knows no web', 'src/core/clock.ts', `import '../web/main';`, /may not import from web/],
  ['the SMPP codec knows nothing of ours', 'src/smpp/pdu.ts', `import '../core/clock';`, /may not import from core/],
  ['the carrier knows no server', 'src/carrier/main.ts', `import '../server/db/db';`, /may not import from server/],
  ['the server knows no demo', 'src/server/main.ts', `import '../demo/seed';`, /may not import from demo/],
  ['the web knows no server', 'src/web/main.tsx', `import '../server/db/db';`, /may not import from server/],
  ['what measures knows no tests', 'bench/main.ts', `import '../e2e/look.test';`, /may not import from e2e/],
  ['an area stands below', 'src/server/codes/code-store.ts', `import '../people/for-others';`, /stands above it/],
  ['an area has one door', 'src/server/people/bulk.ts', `import '../engine/money';`, /used by its `for-others` only/],
  ['also on the web', 'src/web/people/People.tsx', `import '../setup/parts';`, /used by its `for-others` only/],
  ['an area has a place', 'src/server/people/bulk.ts', `import '../elsewhere/it';`, /has no place in the order/],
  ['areas speak no HTTP', 'src/server/people/bulk.ts', `import '../http/problem';`, /says why in a Refusal/],
  [
    'values reach SQL by parameter',
    'src/server/people/bulk.ts',
    'declare const name: string;\nexport const asked = `SELECT id FROM person WHERE family_name = ${name}`;',
    /by parameter/,
  ],
  ['no statement reads the clock', 'src/server/people/bulk.ts', 'export const asked = `SELECT now() AS at`;', /reads the clock/],
  ['looks beside the theme', 'src/web/people/People.tsx', `export const It = () => <Box sx={{ p: 1 }} />;`, /Looks are props/],
  ['a class name', 'src/web/people/People.tsx', `export const It = () => <p className="big" />;`, /Looks are props/],
  ['a style', 'src/web/people/People.tsx', `export const It = () => <p style={{ color: 'red' }} />;`, /computed geometry/],
  ['a bare control', 'src/web/people/People.tsx', `export const It = () => <button />;`, /bare controls/],
  ['a color', 'src/web/people/People.tsx', `export const it = '#ff0000';`, /Colors are tokens/],
  ['an address', 'src/web/people/People.tsx', `export const it = '/api/people';`, /stand in the contract/],
  ['asking by hand', 'src/web/people/People.tsx', `export const it = () => fetch('x');`, /asked through src\/web\/api/],
  ['any', 'src/core/clock.ts', `export const it = (a: any) => a as string;`, /any/],
  ['a function of three pages', 'src/core/clock.ts', `export function it(): void {${'\n'.repeat(121)}}`, /too many lines/],
  ['a promise left alone', 'src/core/clock.ts', `Promise.resolve();`, /Promises must be awaited/],
];

/**
 * Holds every wall against an import, a line or a word that breaks it.
 * @returns {Promise<string[]>} those of which nothing was said
 */
export async function openWalls() {
  const lint = new ESLint({
    // circles are looked for over the whole tree, by the lint itself
    overrideConfig: { rules: { 'import-x/no-cycle': 'off' } },
  });
  const open = [];
  for (const [what, file, code, said] of BROKEN) {
    const [{ messages }] = await lint.lintText(code, { filePath: file });
    if (!messages.some(({ message }) => said.test(message))) open.push(`${what} (${file}): nothing says ${said}`);
  }
  return open;
}
