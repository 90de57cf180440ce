import type { Queryable } from '../../db/db';

interface Ours {
  stopped(name: string): string;
  started(name: string): string;
  help(name: string): string;
  emergency: string;
}
/** What we say by ourselves, in languages that have it; others read English. */
const OURS: Readonly<Record<string, Ours>> = {
  en: {
    stopped: (name) => `${name}: you are opted out and get no more texts from us. START brings them back.`,
    started: (name) => `${name}: you get our texts again. STOP ends them.`,
    help: (name) => `This is ${name}. Text STOP to get no more texts.`,
    emergency: 'Emergency',
  },
  fr: {
    stopped: (name) => `${name} : vous ne recevrez plus de textos de notre part. START pour reprendre.`,
    started: (name) => `${name} : vous recevez de nouveau nos textos. STOP pour arrêter.`,
    help: (name) => `Ici ${name}. Écrivez STOP pour ne plus recevoir de textos.`,
    emergency: 'Urgence',
  },
  es: {
    stopped: (name) => `${name}: no recibirá más mensajes nuestros. START para volver.`,
    started: (name) => `${name}: vuelve a recibir nuestros mensajes. STOP para terminar.`,
    help: (name) => `Somos ${name}. Escriba STOP para no recibir más mensajes.`,
    emergency: 'Emergencia',
  },
};

/**
 * What is answered to a stop, a start, and a call for help, in their language: the last with who this is, how to stop, and the emergency
 * line. The workspace's own wording for help goes before ours, in their language, else in the first.
 */
export async function wordsAfter(db: Queryable, said: 'stop' | 'start' | 'help', person: number | null): Promise<string> {
  const { name, help_wording, help_wordings, emergency_line, language } = (
    await db.query<{
      name: string;
      help_wording: string;
      help_wordings: Record<string, string>;
      emergency_line: string;
      language: string | null;
    }>(
      `SELECT name, help_wording, help_wordings, emergency_line, coalesce((SELECT language FROM person WHERE id = $1), languages[1]) AS language FROM workspace`,
      [person],
    )
  ).rows[0];
  const ours = OURS[language ?? 'en'] ?? OURS.en;
  if (said === 'stop') return ours.stopped(name);
  if (said === 'start') return ours.started(name);
  const own = help_wordings[language ?? '']?.trim() || help_wording.trim();
  return `${own || ours.help(name)}${emergency_line ? ` ${ours.emergency}: ${emergency_line}.` : ''}`;
}
