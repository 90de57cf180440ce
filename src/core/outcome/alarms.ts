import { fold } from '../text/fold';
import { shareInterval } from './proportions';

export type AlarmKind = 'failures' | 'slow' | 'one_reason' | 'wrong' | 'other_day';

/** A run as it stands, in the figures that tell whether something is wrong with it. */
export interface RunSigns {
  delivered: number;
  failed: number;
  /** Handed over longer ago than receipts take, and no receipt yet. */
  waiting: number;
  /** Handed over that long ago in all. */
  handed: number;
  /** The reason that most of the failed have, and how many. */
  reason: string;
  reasonOf: number;
  /** The share of texts that usually fail, 0 to 1; null where too few have gone to say. */
  usual: number | null;
}

/** So many texts have to have their end before anything is said of their shares. */
export const LEAST = 20;
/** Where nothing is known of the usual, this is taken for it. */
const TAKEN_FOR_USUAL = 0.05;

/**
 * What is wrong with a run, by its figures: nearly all failed for one reason; more failed than twice the usual, and surely so (the
 * lower end of Wilson's interval); half of what was handed over has no receipt. Thresholds are ours.
 */
export function alarmsOf(signs: RunSigns): { kind: AlarmKind; words: string }[] {
  const alarms: { kind: AlarmKind; words: string }[] = [];
  const { delivered, failed, waiting, handed, reason, reasonOf } = signs;
  const ended = delivered + failed;
  if (ended >= LEAST && reasonOf >= ended * 0.9)
    alarms.push({ kind: 'one_reason', words: `${figure(reasonOf)} of ${figure(ended)} failed, all for one reason: ${reason}.` });
  else if (ended >= LEAST) {
    const usual = signs.usual ?? TAKEN_FOR_USUAL;
    if (shareInterval(failed, ended).from > Math.max(usual * 2, TAKEN_FOR_USUAL))
      alarms.push({
        kind: 'failures',
        words: `${figure(failed)} of ${figure(ended)} not delivered; ${signs.usual === null ? 'that is many' : `usually ${Math.round(usual * 100)} of 100`}.`,
      });
  }
  if (handed >= LEAST && waiting >= handed / 2)
    alarms.push({ kind: 'slow', words: `${figure(waiting)} of ${figure(handed)} have no receipt after ten minutes.` });
  return alarms;
}

const figure = (n: number) => n.toLocaleString('en-US');

/** Words that say a text is wrong, in the languages offered; from memory of common practice. */
const WRONG =
  /\b(?:(?:is|isnt|are) (?:this|that) (?:right|correct|a mistake)|(?:wrong|incorrect) (?:date|day|time|hour|year|link|boat|name|place|price|class|landing)|(?:this|that|date|time|day|link|name) (?:is|seems|looks|must be) (?:wrong|incorrect|a mistake|a typo)|(?:did|do) you mean|you (?:must|probably) mean|typo|link (?:does not|doesnt|is not|isnt|wont) (?:work|open)|mistake in|erreur|mauvaise? (?:date|heure|jour|lien)|le lien ne (?:marche|fonctionne)|fecha (?:equivocada|incorrecta)|hora (?:equivocada|incorrecta)|se equivoc\w+|el enlace no (?:funciona|abre))\b/;

/** Whether a reply says that what it answers is wrong. */
export function saysWrong(text: string): boolean {
  return WRONG.test(fold(text.slice(0, 400)).replace(/['’`´]/g, ''));
}

/** Texts that wait since what they say of days would be wrong. @param days in words, as it was and as it is */
export const otherDayWords = (n: number, was: string, is: string): string =>
  `${n === 1 ? '1 text was' : `${n.toLocaleString('en-US')} texts were`} written to go on ${was} and ${n === 1 ? 'says' : 'say'} so; it is ${is}. ${n === 1 ? 'It goes' : 'They go'} only when somebody says so.`;
