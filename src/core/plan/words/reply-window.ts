import { compileText, REPLY_UNTIL, type CompiledText } from '../../merge/compile';
import { movedDay } from '../../merge/moved-day';
import type { PlanSender } from '../reach/person';

/** For so many days after the day on which a text goes its replies are read; null where the sender reads them without an end. */
export function replyDays(sender: Pick<PlanSender, 'kind' | 'reply_days'> | null): number | null {
  return sender && sender.kind !== 'name' ? sender.reply_days : null;
}

/**
 * The last day on which replies are read, to its midnight where the recipient is.
 *
 * @param sendDay `YYYY-MM-DD`, of the recipient
 */
export const lastReplyDay = (sendDay: string, days: number): string => movedDay(sendDay, { by: days, unit: 'day' });

/** Days are in figures where names of days or months have letters that the GSM 7-bit alphabet lacks (sáb, août, śr): a Saturday must not cost a part. */
const WORDINGS: Readonly<Record<string, string>> = {
  en: 'Replies are read until {reply_until as "EEE, MMM d"}',
  fr: 'Réponses lues jusqu\'au {reply_until as "d/MM"}',
  es: 'Leemos respuestas hasta el {reply_until as "d/MM"}',
  de: 'Antworten werden bis {reply_until as "EEE, d. MMM"} gelesen',
  it: 'Leggiamo le risposte fino a {reply_until as "EEE d MMM"}',
  pt: 'Lemos respostas até {reply_until as "d/MM"}',
  nl: 'Antwoorden worden gelezen tot en met {reply_until as "EEE d MMM"}',
  pl: 'Odpowiedzi czytamy do {reply_until as "d.MM"}',
  sv: 'Svar läses till och med {reply_until as "EEE d MMM"}',
  da: 'Svar læses til og med {reply_until as "EEE d MMM"}',
  no: 'Svar leses til og med {reply_until as "EEE d MMM"}',
  fi: 'Luemme vastaukset {reply_until as "d.M."} asti',
};

/** What says it at the end of a text whose own words do not, in the reader's language, else in English. */
export function replyEnding(language: string): CompiledText {
  return compileText(WORDINGS[language] ?? WORDINGS.en, new Map([[REPLY_UNTIL, 'date']]));
}
