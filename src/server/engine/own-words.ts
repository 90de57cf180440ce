import type { Queryable } from '../db/db';

const STOPPED: Readonly<Record<string, (name: string) => string>> = {
  en: (name) => `${name}: you are opted out and get no more texts from us. START brings them back.`,
  fr: (name) => `${name} : vous ne recevrez plus de textos de notre part. START pour reprendre.`,
  es: (name) => `${name}: no recibirá más mensajes nuestros. START para volver.`,
};

/** What is answered to a stop, a start, and a call for help: the last with who this is, how to stop, and the emergency line. */
export async function wordsAfter(db: Queryable, said: 'stop' | 'start' | 'help', person: number | null): Promise<string> {
  const { name, help_wording, emergency_line } = (
    await db.query<{ name: string; help_wording: string; emergency_line: string }>(
      `SELECT name, help_wording, emergency_line FROM workspace`,
    )
  ).rows[0];
  if (said === 'start') return `${name}: you get our texts again. STOP ends them.`;
  if (said === 'help') {
    const line = emergency_line ? ` Emergency: ${emergency_line}.` : '';
    return `${help_wording || `This is ${name}. Text STOP to get no more texts.`}${line}`;
  }
  const language =
    (await db.query<{ language: string | null }>(`SELECT language FROM person WHERE id = $1`, [person])).rows[0]?.language ??
    'en';
  return (STOPPED[language] ?? STOPPED.en)(name);
}
