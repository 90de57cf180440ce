import type { Asking, There } from './asking';

/** Replies, links, keywords, passing on and phones. `mailPort`: where the practice mailbox takes mail. */
export async function askReplies({ call, desk }: Asking, { list, tag, ana, bo }: There, mailPort: number) {
  await desk.app.db.query(
    `INSERT INTO inbound (received_at, number, to_address, body, kind, person_id, applied) VALUES
       ('2026-01-01T00:00:00Z', '+12075550142', '72345', 'is it on?', 'reply', $1, true),
       ('2026-01-01T00:00:00Z', '+12075550143', '72345', 'who is this', 'reply', $2, true)`,
    [ana, bo],
  );
  const number = '+12075550142';
  await call('get', '/api/replies');
  await call('get', '/api/replies', { query: { view: 'all', search: 'is' } });
  const colleagues = await call<{ accounts: { id: number }[] }>('get', '/api/replies/desk');
  await call('post', '/api/replies/claim', { body: { number, account_id: colleagues.accounts[0].id, from: null } });
  await call('post', '/api/replies/proof', { body: { number, words: 'It is, {given_name or "neighbor"}.' } });
  const { seen, answered } = await call<{ seen: number; answered: number }>('get', '/api/replies/thread', {
    query: { number },
  });
  await call('post', '/api/replies/answer', { body: { number, words: 'It is.', seen, answered } });
  await call('post', '/api/people/:id/text', { params: { id: ana }, body: { words: 'It is.' } });
  await call('post', '/api/replies/:id/choice', { params: { id: seen }, body: { choice: 0 } });
  await call('post', '/api/replies/bring-back', { body: { number } });
  await call('post', '/api/replies/not-a-stop', { body: { number, seen } });
  await call('post', '/api/replies/put-away', { body: { number, seen, until: null } });
  await call('post', '/api/replies/opt-out', { body: { number: '+12075550143', wrong_number: false } });
  await desk.app.db.query(
    `INSERT INTO link (token, number, address) VALUES ('k7w2m4nq9cxy', '+12075550142', 'https://example.org/')`,
  );
  await call('get', '/l/:token', { params: { token: 'k7w2m4nq9cxy' }, as: undefined });
  await desk.app.db.query(`INSERT INTO link (token, number, address, opt_out) VALUES ('k7w2m4nq9cx5', '+12075550149', '', true)`);
  await call('get', '/o/:token', { params: { token: 'k7w2m4nq9cx5' }, as: undefined });
  await call('post', '/o/:token/marketing', { params: { token: 'k7w2m4nq9cx5' }, as: undefined });
  await call('post', '/o/:token', { params: { token: 'k7w2m4nq9cx5' }, as: undefined });
  await call('post', '/o/:token/back', { params: { token: 'k7w2m4nq9cx5' }, as: undefined });
  await call('post', '/o/:token', { params: { token: 'k7w2m4nq9cx5' }, as: undefined });
  const keyword = {
    word: 'FERRY',
    sender_id: 1,
    list_id: list,
    tag_id: tag,
    purpose: 'marketing',
    consent_wording: 'About two texts a month.',
    confirms: 'Ottermere: you are on the list. STOP ends it.',
    asks_first: true,
    asks: 'Ottermere: reply YES.',
    from_at: null,
    until_at: null,
  };
  const { id: ferry } = await call<{ id: number }>('post', '/api/keywords', { body: keyword });
  await call('put', '/api/keywords/:id', { params: { id: ferry }, body: { ...keyword, asks_first: false } });
  await call('get', '/api/keywords');
  const passRule = {
    what: 'keyword',
    keyword_id: ferry,
    broadcast_id: null,
    name: 'Pier',
    way: 'text',
    address: '+1 207 555 0150',
    any_hour: true,
  };
  const { id: passed } = await call<{ id: number }>('post', '/api/passing', { body: passRule });
  await call('post', '/api/passing/conversation', {
    body: { number, name: 'Pier office', way: 'text', address: '+1 207 555 0151', any_hour: false },
  });
  await call('get', '/api/passing');
  await call('post', '/api/passing/:id/again', { params: { id: passed } });
  const { rows: held } = await desk.app.db.query<{ id: number }>(
    `WITH p AS (INSERT INTO passed (pass_on_id, inbound_id, number, token, at, state, next_at) VALUES ($1, 1, $2, 'a-token-of-16-signs', '2026-12-02', 'sent', '2026-12-02') RETURNING id)
     INSERT INTO passed_answer (passed_id, number, at, words, state, reason) SELECT id, $2, '2026-12-02', 'Yes', 'held', 'somebody has answered' FROM p RETURNING id`,
    [passed, number],
  );
  await call('get', '/api/replies/thread', { query: { number } });
  await call('post', '/api/passing/answers/:id/settle', { params: { id: held[0].id } });
  await call('post', '/api/passing/:id/end', { params: { id: passed } });
  await call('post', '/api/keywords/:id/end', { params: { id: ferry } });
  const desk_ = await call<Record<string, unknown>>('get', '/api/setup/desk');
  const { accounts: _accounts, ...kept } = desk_;
  void _accounts;
  await call('put', '/api/setup/desk', { body: kept });
  const mailServer = {
    host: '',
    port: 587,
    secure: false,
    username: '',
    password: null,
    from_address: '',
    answers_to: '',
  };
  await call('put', '/api/setup/mail', { body: mailServer });
  await call('get', '/api/setup/mail');
  desk.app.mail = { practicePort: () => mailPort, answersPort: 1 };
  await call('post', '/api/setup/mail/try');
  await call('get', '/api/phones/mails', { query: { search: '' } });
  await call('post', '/api/phones/mails/:id/answer', { params: { id: 1 }, body: { text: 'Yes' } });
  await call('get', '/api/phones', { query: { search: '' } });
  await call('post', '/api/phones/:number/text', { params: { number: '12075550142' }, body: { to: '72345', text: 'Hello' } });
  await call('post', '/api/clock', { body: { minutes: 1 } });
}
