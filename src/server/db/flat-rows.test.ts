import fc from 'fast-check';
import { expect, test } from 'vitest';
import { flatOf, rowsOf } from './flat-rows';

test('rows come out as they went in (property)', () => {
  const row = fc.record({ id: fc.integer(), name: fc.option(fc.string()), doc: fc.jsonValue(), ids: fc.array(fc.nat()) });
  fc.assert(
    fc.property(fc.array(row), (rows) => {
      expect(rowsOf(structuredClone(flatOf(rows)))).toEqual(rows);
    }),
  );
});
