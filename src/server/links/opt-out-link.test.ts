import { OFFERED_LANGUAGES } from '../../core/text/language';
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
    // done, and with its way back
    const { html: after } = await page('GET', TOKEN);
    expect(after.match(/<form/g)).toHaveLength(1);
    expect(after).toContain(`action="/o/${TOKEN}/back"`);
    const { rows } = await desk.app.db.query<{ n: number }>(
      `SELECT count(*) AS n FROM record WHERE act LIKE 'someone opted out%'`,
    );
    expect(rows[0].n).toBe(1);
  });

  test('what was pressed by mistake is taken back; what they texted in the meantime is not', async () => {
    expect((await page('POST', `${TOKEN}/back`)).html).toContain('Ne plus recevoir');
    expect(await register()).toEqual([]);
    const pressed = await desk.app.db.query<{ n: number }>(`SELECT count(*) AS n FROM link WHERE pressed_at IS NOT NULL`);
    expect(pressed.rows[0].n).toBe(0);
    await page('POST', TOKEN);
    await desk.app.db.query(
      `INSERT INTO inbound (received_at, number, to_address, body, kind, applied) VALUES ('2099-01-01', '+12075550142', '72345', 'STOP', 'stop', true)`,
    );
    expect((await page('GET', TOKEN)).html).not.toContain('/back');
    await page('POST', `${TOKEN}/back`);
    expect(await register()).toEqual([{ number: '+12075550142', how: 'link' }]);
    await desk.app.db.query(`DELETE FROM inbound`);
    await desk.app.db.query(`DELETE FROM suppression`);
  });

  test('who is here may end marketing only; that, too, is taken back to what it was', async () => {
    // nobody here has the number: there is only everything
    expect((await page('GET', TOKEN)).html).not.toContain('/marketing');
    const { id } = await desk.json<{ id: number }>('POST', '/api/people', {
      ...{ given_name: 'Ana', family_name: '', number: '+12075550142', reference: '', language: 'fr', zone: '', fields: {} },
    });
    await desk.json('POST', `/api/people/${id}/consent`, {
      ...{ purpose: 'marketing', act: 'granted', how: 'paper form', evidence: '', wording: '' },
    });
    const says = async () =>
      (
        await desk.app.db.query<{ act: string }>(
          `SELECT act FROM consent_event WHERE person_id = $1 AND purpose = 'marketing' ORDER BY id`,
          [id],
        )
      ).rows.map(({ act }) => act);
    for (const press of [await page('POST', `${TOKEN}/marketing`), await page('POST', `${TOKEN}/marketing`)])
      expect(press.html).toContain('et plus de publicité');
    expect(await register()).toEqual([]);
    expect(await says()).toEqual(['granted', 'withdrawn']);
    for (let i = 0; i < 2; i += 1) await page('POST', `${TOKEN}/back`);
    expect(await says()).toEqual(['granted', 'withdrawn', 'granted']);
    expect((await page('GET', TOKEN)).html).toContain('/marketing');
  });

  test('it speaks every language that the setup offers', async () => {
    for (const language of OFFERED_LANGUAGES) {
      await desk.app.db.query(`UPDATE link SET language = $2 WHERE token = $1`, [TOKEN, language]);
      expect((await page('GET', TOKEN)).html).toContain(`lang="${language}"`);
    }
    await desk.app.db.query(`UPDATE link SET language = 'fr' WHERE token = $1`, [TOKEN]);
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
