import { nanoid } from 'nanoid';
import { desk } from '../../core/api/desk/desk';
import { isMailAddress } from '../../core/passing/mail';
import { writeRecord } from '../db/record';
import { mailServer, sendMail } from '../engine/for-others';
import { Refusal } from '../../core/api/refusal';
import { route, who, type Route } from '../http/route';
import { deskOf, mailOf, saveDesk, saveMail } from './desk-queries';
import { workspaceOf } from './workspace';

const KEPT = 'What you typed is still here.';

export const deskRoutes: Route[] = [
  route(desk.get, async (app) => deskOf(app.db)),
  route(desk.change, async (app, asked) => {
    const { body } = asked;
    const wrong = (place: string, title: string, act?: string) => new Refusal('wrong', 'desk', title, { place, kept: KEPT, act });
    const { languages } = await workspaceOf(app.db);
    if (body.away_on && !body.away_wording[languages[0]]?.trim())
      throw wrong(`away_wording.${languages[0]}`, 'Write what answers them.');
    if (body.away_on && body.from_time === body.to_time) throw wrong('to_time', 'From when to when is somebody there?');
    const { accounts } = await deskOf(app.db);
    const duty = accounts.find(({ id }) => id === body.duty_account_id);
    if (body.duty_account_id !== null && !duty) throw wrong('duty_account_id', 'They are not of the team any more.');
    if (duty && !duty.number)
      throw wrong('duty_account_id', `${duty.name} has no number of their own yet.`, 'They give it under Setup, Your account.');
    await saveDesk(app.db, body);
    await writeRecord(app.db, asked, 'changed the hours of the desk and who is on duty', duty?.name ?? '');
    return {};
  }),
  route(desk.mail, async (app) => ({
    ...(await mailOf(app.db)),
    practice: app.mail?.practicePort() !== undefined,
    answers_port: app.mail?.answersPort ?? null,
  })),
  route(desk.changeMail, async (app, asked) => {
    const { body } = asked;
    if (body.host !== '')
      for (const place of ['from_address', 'answers_to'] as const)
        if (!(place === 'answers_to' && body[place] === '') && !isMailAddress(body[place]))
          throw new Refusal('wrong', 'mail', 'That is not one e-mail address.', { place, kept: KEPT });
    const before = await mailOf(app.db);
    // a password is for the server it was typed for, and goes to no other
    const sameServer =
      before.host.toLowerCase() === body.host.toLowerCase() &&
      before.port === body.port &&
      before.username === body.username &&
      (body.secure || !before.secure);
    if (before.has_password && !sameServer && body.password === null && body.host !== '' && body.username !== '')
      throw new Refusal('wrong', 'mail', 'The password that is kept is for another server.', {
        place: 'password',
        kept: KEPT,
        act: 'Type the one for this server.',
      });
    await saveMail(app.db, sameServer ? body : { ...body, password: body.password ?? '' });
    await writeRecord(app.db, asked, 'changed the mail server', body.host);
    return {};
  }),
  route(desk.tryMail, async (app, asked) => {
    const server = await mailServer(app.db, app.mail?.practicePort());
    if (!server) throw new Refusal('wrong', 'mail', 'No mail server is set.', { place: 'host' });
    const { email, name } = who(asked);
    try {
      await sendMail(server, {
        to: email,
        toName: name,
        fromName: (await workspaceOf(app.db)).name,
        subject: 'A mail from the desk',
        text: 'Mails go out. Replies that are passed on come like this one.\n',
        token: nanoid(16),
      });
    } catch (error) {
      throw new Refusal(
        'wrong',
        'mail',
        `It does not take mails from here: ${error instanceof Error ? error.message : 'no reason given'}`,
        {
          kept: 'The settings are kept.',
        },
      );
    }
    return { sent_to: email };
  }),
];
