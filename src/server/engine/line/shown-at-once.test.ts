import { readFileSync } from 'node:fs';
import smpp from 'smpp';
import { describe, expect, test } from 'vitest';
import { ENGINES } from '../../db/testing/engines';
import { queueText } from '../queue-text';
import { closeAfterEach, sendingWorld, until } from '../testing/sending';
import { makeRun } from '../testing/world';

closeAfterEach();

describe.each(ENGINES)('texts that phones show at once, on %s', (kind) => {
  /** data_coding of what was handed over, as another library reads it (smpp of the registry). */
  const codings = (journal: string) =>
    readFileSync(journal, 'utf8')
      .split('\n')
      .filter((line) => line.includes('"what":"submit"'))
      .map((line) => {
        const { pdu } = JSON.parse(line) as { pdu: string };
        return Number(new smpp.PDU(Buffer.from(pdu, 'hex')).data_coding);
      });

  test('a run goes as class 0, as the carrier takes it, and what follows for opting out is for keeping', async () => {
    const world = await sendingWorld(kind);
    await world.db.query(`UPDATE workspace SET carrier_at_once = 'plain_group'`);
    await makeRun(world.db, 3, { body: 'Ice on the quay', after: 'STOP to opt out', showAtOnce: true });
    world.bus.work();
    await until(async () => (await world.db.query(`SELECT 1 FROM outbound WHERE state = 'delivered'`)).rowCount === 6);
    expect(codings(world.journal).sort((a, b) => a - b)).toEqual([0, 0, 0, 0xf0, 0xf0, 0xf0]);
    const shown = [...world.center.phones.list('', 50).phones].flatMap(({ texts }) =>
      texts.map(({ text, at_once }) => [text, at_once ?? false]),
    );
    expect(shown.filter(([, at_once]) => at_once).map(([text]) => text)).toEqual(Array(3).fill('Ice on the quay'));
  });

  test('a test to oneself is shown as the broadcast would be; any other text is not', async () => {
    const world = await sendingWorld(kind);
    const text = {
      kind: 'test',
      personId: null,
      number: '+12075550142',
      senderId: 1,
      usefulFor: 3_600_000,
      asked: true,
    } as const;
    await queueText(world.db, { ...text, body: 'Ice – mind your step', showAtOnce: true }, world.clock.now());
    await queueText(world.db, { ...text, body: 'As any' }, world.clock.now());
    world.bus.work();
    await until(async () => (await world.db.query(`SELECT 1 FROM outbound WHERE state = 'delivered'`)).rowCount === 2);
    expect(codings(world.journal).sort((a, b) => a - b)).toEqual([0, 0x18]);
  });
});
