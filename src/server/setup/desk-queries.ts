import type { Answer } from '../../core/api/endpoint';
import type { desk, DeskBody, MailBody } from '../../core/api/desk/desk';
import type { Queryable } from '../db/db';

const NONE: DeskBody = {
  away_on: false,
  days: [1, 2, 3, 4, 5],
  from_time: '08:00',
  to_time: '17:00',
  away_wording: {},
  duty_account_id: null,
  duty_any_hour: false,
};

/** When somebody is at the desk, and who is on duty and can be. */
export async function deskOf(db: Queryable): Promise<Answer<typeof desk.get>> {
  const [set, accounts] = await Promise.all([
    db.query<DeskBody>(
      `SELECT away_on, days, from_time, to_time, away_wording, CASE WHEN account.removed_at IS NULL THEN account.id END AS duty_account_id, duty_any_hour
       FROM desk_setting LEFT JOIN account ON account.id = duty_account_id`,
    ),
    db.query<{ id: number; name: string; number: boolean }>(
      `SELECT id, name, own_number IS NOT NULL AS number FROM account WHERE removed_at IS NULL ORDER BY name, id`,
    ),
  ]);
  return { ...NONE, ...set.rows.at(0), accounts: accounts.rows };
}

export async function saveDesk(db: Queryable, b: DeskBody): Promise<void> {
  await db.query(
    `INSERT INTO desk_setting (id, away_on, days, from_time, to_time, away_wording, duty_account_id, duty_any_hour) VALUES (1, $1, $2::smallint[], $3, $4, $5::jsonb, $6, $7)
     ON CONFLICT (id) DO UPDATE SET away_on = excluded.away_on, days = excluded.days, from_time = excluded.from_time, to_time = excluded.to_time,
       away_wording = excluded.away_wording, duty_account_id = excluded.duty_account_id, duty_any_hour = excluded.duty_any_hour`,
    [b.away_on, b.days, b.from_time, b.to_time, JSON.stringify(b.away_wording), b.duty_account_id, b.duty_any_hour],
  );
}

type MailSet = Omit<Answer<typeof desk.mail>, 'practice' | 'answers_port'>;

/** The mail server as it is set; of its password only that there is one. */
export async function mailOf(db: Queryable): Promise<MailSet> {
  const { rows } = await db.query<MailSet>(
    `SELECT host, port, secure, username, password <> '' AS has_password, from_address, answers_to FROM mail_setting`,
  );
  return (
    rows.at(0) ?? { host: '', port: 587, secure: false, username: '', has_password: false, from_address: '', answers_to: '' }
  );
}

export async function saveMail(db: Queryable, b: MailBody): Promise<void> {
  await db.query(
    `INSERT INTO mail_setting (id, host, port, secure, username, password, from_address, answers_to) VALUES (1, $1, $2, $3, $4, coalesce($5, ''), $6, $7)
     ON CONFLICT (id) DO UPDATE SET host = excluded.host, port = excluded.port, secure = excluded.secure, username = excluded.username,
       password = coalesce($5, mail_setting.password), from_address = excluded.from_address, answers_to = excluded.answers_to`,
    [b.host, b.port, b.secure, b.username, b.password, b.from_address, b.answers_to],
  );
}
