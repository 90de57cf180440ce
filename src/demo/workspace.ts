import type { Tx } from '../server/db/db';
import { hashPassword } from '../server/http/passwords';
import { CLASSES, LANDINGS } from './people';

/** Who signs in to the demo. */
export const DEMO_EMAIL = 'ana@ottermere.example';
export const DEMO_PASSWORD = 'heron and kittiwake';

/** The workspace with its accounts, at `at`; what is older was there since `long` (ISO 8601). */
export async function makeWorkspace(tx: Tx, zone: string, at: string, long: string): Promise<void> {
  await tx.query(
    `INSERT INTO workspace (id, name, zone, country, languages, help_wording, help_wordings, emergency_line, demo_clock) VALUES (1, 'Ottermere Ferry & Boathouse', $1, 'US', '{en,fr,es}', $2, $4::jsonb, '', $3::timestamptz)`,
    [
      zone,
      'Ottermere Ferry & Boathouse, the desk at Mill Quay. STOP to get no more texts.',
      at,
      JSON.stringify({ fr: 'Ottermere Ferry & Boathouse, le comptoir de Mill Quay. STOP pour ne plus recevoir de textos.' }),
    ],
  );
  const accounts: [string, string, string, string | null][] = [
    ['Ana Reyes', DEMO_EMAIL, 'manage', '+12075550100'],
    ['Ben Holm', 'ben@ottermere.example', 'write', null],
  ];
  for (const [name, email, role, own] of accounts) {
    await tx.query(
      `INSERT INTO account (name, email, role, password_hash, own_number, created_at) VALUES ($1, $2, $3, $4, $5, $6::timestamptz)`,
      [name, email, role, await hashPassword(DEMO_PASSWORD), own, long],
    );
  }
}

/** Senders, testers, prices and the fields of people and dependants. */
export async function makeSetup(tx: Tx, long: string): Promise<void> {
  const senders: [string, string, string, number][] = [
    ['Ferry desk', 'short', '72345', 20],
    ['Boathouse', 'long', '+12075550199', 1],
    ['OttermereFB', 'name', 'OttermereFB', 20],
  ];
  for (const [name, number] of [
    ['Pier phone', '+18025550171'],
    ['Mika at Mill Quay', '+16125550172'],
  ])
    await tx.query(`INSERT INTO tester (name, number, created_at) VALUES ($1, $2, $3::timestamptz)`, [name, number, long]);
  for (const [name, kind, address, rate] of senders) {
    await tx.query(
      `INSERT INTO sender (name, kind, address, parts_per_second, created_at) VALUES ($1, $2, $3, $4, $5::timestamptz)`,
      [name, kind, address, rate, long],
    );
  }
  await tx.query(
    `INSERT INTO rate (prefix, destination, price_micro) VALUES ('+1', 'United States, Canada', 7500), ('+44', 'United Kingdom', 31000)`,
  );
  await tx.query(
    `INSERT INTO field_def (slug, label, type, position, choices) VALUES ('home_landing', 'home landing', 'choice', 1, $1::text[]), ('pass_ends', 'pass ends', 'date', 2, '{}'), ('berth', 'berth', 'text', 3, '{}')`,
    [LANDINGS],
  );
  await tx.query(
    `INSERT INTO field_def (about, slug, label, type, position, choices) VALUES ('dependant', 'class', 'class', 'choice', 1, $1::text[])`,
    [CLASSES],
  );
}
