import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { emptyDb, ENGINES } from '../db/testing/engines';
import { openDesk, type Desk } from '../http/testing/desk';

const TOKEN = 'abcdefgh2345';

describe.each(ENGINES)('the page of an opt-out link on %s', (engine) => {
  let desk: Desk;
  beforeAll(async () => {
    desk = await openDesk(await emptyDb(engine));
    await desk.app.db.query(
      `INSERT INTO link (token, number, address, name, opt_out, language) VALUES ($1, '+12075550142', '', 'opt_out', true, 'fr'),
         ('zzzzzzzz2345', 'erased-x', '', 'opt_out', true, 'en'), ('mmmmmmmm2345', '+12075550143', 'https://example.org/m', 'map', false, 'en')`,
      [TOKEN],
    );
  });
  afterAll(() => desk.close());
  const page = async (method: string, token: string) => {
    const answer = await desk.ask(method, `/o/${token}`, undefined, {
      headers: { accept: 'text/html', 'content-type': 'application/x-www-form-urlencoded' },
      body: method === 'POST' ? '' : undefined,
    });
    return { status: answer.status, html: await answer.text(), headers: answer.headers };
  };
  const register = async () =>
    (await desk.app.db.query<{ number: string; how: string }>(`SELECT number, how FROM suppression`)).rows;

  test('opening it changes nothing, however often; it speaks the text’s language and shows no whole number', async () => {
    for (const method of ['GET', 'GET', 'HEAD']) expect((await page(method, TOKEN)).status).toBe(200);
    const { html, headers } = await page('GET', TOKEN);
    expect(html).toContain('lang="fr"');
    expect(html).toContain('<form method="post"');
    expect(html).toContain('••• 0142');
    expect(html).not.toContain('2075550142');
    expect(html).not.toContain('<script');
    expect(headers.get('content-security-policy')).toContain("form-action 'self'");
    expect(await register()).toEqual([]);
  });

  test('one press does it, and a second changes nothing more', async () => {
    for (const once of [await page('POST', TOKEN), await page('POST', TOKEN)]) {
      const { status, html } = once;
      expect(status).toBe(200);
      expect(html).toContain('C’est fait');
    }
    expect(await register()).toEqual([{ number: '+12075550142', how: 'link' }]);
    expect((await page('GET', TOKEN)).html).not.toContain('<form');
    const { rows } = await desk.app.db.query<{ n: number }>(
      `SELECT count(*) AS n FROM record WHERE act LIKE 'someone opted out%'`,
    );
    expect(rows[0].n).toBe(1);
  });

  test('by one that came with a test nobody opts out, and its page says so', async () => {
    await desk.app.db.query(`DELETE FROM suppression`);
    await desk.app.db.query(
      `INSERT INTO link (token, number, address, name, opt_out, language, test) VALUES ('tttttttt2345', '+12075550142', '', 'opt_out', true, 'es', true)`,
    );
    for (const method of ['GET', 'POST', 'POST']) {
      const { status, html } = await page(method, 'tttttttt2345');
      expect(status).toBe(200);
      expect(html).toContain('Esto es una prueba');
      expect(html).toContain('<form method="post"');
    }
    expect(await register()).toEqual([]);
    await desk.app.db.query(`INSERT INTO suppression (number, at, how) VALUES ('+12075550142', '2026-12-02T20:50:00Z', 'link')`);
  });

  test('a link of another kind, one of somebody erased, and none at all do nothing', async () => {
    await desk.app.db.query(`DELETE FROM suppression`);
    for (const token of ['mmmmmmmm2345', 'zzzzzzzz2345', 'nnnnnnnn2345', 'short'])
      expect((await page('POST', token)).status).toBe(404);
    expect((await desk.ask('GET', `/l/${TOKEN}`, undefined)).status).toBe(404);
    expect(await register()).toEqual([]);
  });
});
