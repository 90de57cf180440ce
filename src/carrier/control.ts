import express from 'express';
import type { Mailbox } from './mailbox';
import type { Dialect } from './dialects';
import type { MessageCenter } from './message-center';
import { lineKind, type Profile } from './profile';

/** What the practice carrier's own desk needs: look at phones, answer as one, change the weather. Loopback only. */
export function controlApp(
  center: MessageCenter,
  mailbox: Mailbox,
  clock: { offset(): number; set(offset: number): void },
): express.Express {
  const app = express();
  app.use(express.json({ limit: '1mb' }));
  app.get('/state', (_request, response) => {
    response.json({ accepted: center.accepted, profile: center.profile, offset: clock.offset(), pid: process.pid });
  });
  app.get('/phones', (request, response) => {
    response.json(center.phones.list(String(request.query.search ?? ''), Math.min(200, Number(request.query.limit ?? 40))));
  });
  app.post('/phones', (request, response) => {
    center.phones.tell((request.body as { phones: Parameters<typeof center.phones.tell>[0] }).phones);
    response.json({});
  });
  app.get('/phones/:number', (request, response) => {
    response.json(center.phones.get(request.params.number) ?? { number: request.params.number, texts: [], lastAt: '' });
  });
  app.post('/phones/:number/texts', (request, response) => {
    const { to, text } = request.body as { to: string; text: string };
    center.textFromPhone(request.params.number, to, text);
    response.json({});
  });
  app.post('/phones/:number/dialect', (request, response) => {
    try {
      center.speak(request.params.number, (request.body as { dialect: Dialect }).dialect);
      response.json({});
    } catch (error) {
      response.status(400).json({ title: error instanceof Error ? error.message : 'There is no such dialect.' });
    }
  });
  app.get('/mails', (request, response) => {
    response.json({ mails: mailbox.list(String(request.query.search ?? ''), Math.min(200, Number(request.query.limit ?? 40))) });
  });
  app.post('/mails/:id/answer', async (request, response) => {
    const answered = await mailbox.answer(Number(request.params.id), String((request.body as { text: string }).text));
    if (answered) response.json({ said: answered.said });
    else response.status(404).json({});
  });
  app.post('/clock', (request, response) => {
    clock.set(Number((request.body as { offset: number }).offset));
    response.json({});
  });
  app.post('/profile', (request, response) => {
    center.profile = { ...center.profile, ...(request.body as Partial<Profile>) };
    response.json(center.profile);
  });
  // the paid line lookup; numbers in E.164, with or without the plus
  app.post('/lookup', (request, response) => {
    const { numbers } = request.body as { numbers: string[] };
    response.json({ kinds: numbers.map((number) => lineKind(center.profile, number.replace(/^\+/, ''))) });
  });
  app.post('/cut', (_request, response) => {
    center.cut();
    response.json({});
  });
  return app;
}
