import { hasWords, headingWords } from './words';

/**
 * What a column says about being texted: `grants`: a yes in it means that they may be texted; `refuses`: a yes means that they
 * said no; `unclear`: it is about consent or stopping, and a person must say which way it is meant, or that it is not about texts.
 * Words are common practice in English, French and Spanish.
 */
export type TextingHeading = 'grants' | 'refuses' | 'unclear';

const GRANTS =
  /\b(consents?|consented|consenting|permissions?|permitted|opts? ?in|opted ?in|optin|agreed?|agrees|agreement|accepts?|accepted|subscribed|subscriber|subscription|subscribe|allows?|allowed|authori[sz](ed?|es|ation)|approved|wants? (texts?|sms|messages?)|(ok|okay|happy|willing) (to|for) (text|sms|messages?|be texted)|(text|sms|texting|texts) (ok|okay|allowed)|(may|can) (we )?(text|sms|message|be texted)|consentement|consent[ei]?|accord|accepte|autorise[es]?|autorisation|abonnee?|inscrite?|d'accord|consentimiento|permiso|acepta|aceptado|autoriza(do|da)?|autorizacion|suscrit[oa]|de acuerdo)\b/g;
const REFUSES =
  /\b(opts? ?out|opted ?out|optout|unsubscribed?|unsubscribes|unsub|withdrawn|withdraws?|withdrew|revoked?|declined?|declines|refused?|refuses|refusal|denied|rejected|suppressed|suppression|blocked|blocklist(ed)?|blacklist(ed)?|barred|objects?|objected|objection|desabonnee?|desabonnement|desinscrite?|desinscription|refuse?e?|retire|retrait|oppose|opposition|baja|rechaza(do|da)?|rechazo|retirad[oa]|revocad[oa]|anulad[oa]|dado de baja|cancelad[oa])\b/g;
/** A negation together with what it forbids; the whole of it is a no. */
const FORBIDS =
  /\b(do not|don't|dont|must not|should not|never|cannot|can't|no) (be )?(text|texts|texted|texting|sms|message|messages|contact|contacted|send|sending)\b|\bno (more )?(texts?|sms|messages?)\b|\bdn[tc]\b|\b(ne )?pas (de |d')?(sms|texto|textos|message|messages|contacter|envoyer|texter|contact)\b|\bne pas\b.*\b(sms|texter|contacter|envoyer|message)\b|\bno (enviar|contactar|mandar|molestar|escribir)\b/g;
const NEGATES =
  /\b(no|not|non|without|never|lacks?|lacking|missing|none|un|pas|sans|aucune?|jamais|sin|nunca|ningun[oa]?)\b|n't\b/g;
/** Consent to something else: asked about, never proposed. */
const OTHERWISE =
  /\b(photos?|pictures?|image|media|video|medical|treatment|medicine|trip|travel|swim|swimming|first aid|e ?mails?|mail|post|postal|letters?|newsletter|calls?|calling|phone calls?|terms|privacy|data|cookies?|waiver|insurance|droit|imagenes?|foto|fotos|courriel|correo)\b/;
const WHEN = /\b(date|day|when|time|since|until|expires?|on|at|le|fecha|desde|hasta|depuis)\b/;
const BUS_STOP = /\b(bus|tram|train|school|stop (name|no|number|id|time)|arret)\b/;

const count = (text: string, pattern: RegExp) => text.match(pattern)?.length ?? 0;

/** What a heading says about being texted; undefined when it is about something else. */
export function textingHeading(heading: string): TextingHeading | undefined {
  const words = headingWords(heading);
  // a heading of one "No" is a number
  if (words === 'no' || words === 'non') return undefined;
  const forbids = count(words, FORBIDS);
  const rest = words.replace(FORBIDS, ' ');
  const refuses = count(rest, REFUSES);
  const grants = count(rest, GRANTS);
  const stop = /\b(stop|stops|stopped)\b/.test(rest) && !BUS_STOP.test(rest);
  // of calls, which are not texts: whether it is meant for both is asked
  if (/\b(do not|don't|dont|no) call\b/.test(words)) return 'unclear';
  if (forbids + refuses + grants === 0 && !stop) return undefined;
  const unclear = OTHERWISE.test(words) || WHEN.test(words) || hasWords(words, 'reason') || hasWords(words, 'how');
  if (unclear) return 'unclear';
  if (forbids > 0) {
    // "no texts declined", "not: do not text": whoever wrote it may know
    return count(rest, NEGATES) > 0 || refuses > 0 ? 'unclear' : 'refuses';
  }
  const negations = count(rest.replace(REFUSES, ' '), NEGATES);
  if (stop) return negations === 0 && grants === 0 ? (words.split(' ').length <= 3 ? 'refuses' : 'unclear') : 'unclear';
  if (refuses > 0) return negations > 0 || refuses > 1 ? 'unclear' : 'refuses';
  if (negations > 1) return 'unclear';
  return negations === 1 ? 'refuses' : 'grants';
}

const YES = new Set([
  'yes',
  'y',
  'true',
  '1',
  'ok',
  'okay',
  'x',
  '✓',
  '✔',
  'oui',
  'o',
  'si',
  's',
  'granted',
  'checked',
  'vrai',
  'verdadero',
]);
const NO = new Set(['no', 'n', 'false', '0', 'non', 'never', 'nein', 'faux', 'falso', 'unchecked', 'none', 'jamais', 'nunca']);

/** Said where somebody may be texted with a yes; where a yes refuses, such a word may mean either, and counts as a no to texts. */
const ALSO_YES = new Set(['yep', 'yeah', 'yup', 'on', 'sure', 'fine', 'enabled', 'claro']);
const ALSO_NO = new Set([
  'nope',
  'nah',
  'off',
  'not',
  'no thanks',
  'no thank you',
  'not now',
  'no more',
  'never again',
  'disabled',
  'negative',
  'no gracias',
  'non merci',
]);

/**
 * What a cell says about being texted in a column that `grants` or `refuses`. A yes where yes refuses is a no, and so is any
 * other word there that is not clearly "no": whoever wrote something into that cell meant it. A no there says nothing: that
 * someone did not refuse is not their consent. Undefined for a cell that cannot be read; null for one that says nothing.
 */
export function saidAboutTexts(cell: string, column: 'grants' | 'refuses'): 'granted' | 'withdrawn' | null | undefined {
  const words = cell.trim() === '✓' || cell.trim() === '✔' ? 'x' : headingWords(cell).replace(/^'|'$/g, '');
  const phrase = NO.has(words) || YES.has(words) ? undefined : textingHeading(cell);
  if (column === 'refuses') {
    if (!/[a-z0-9]/.test(words) || NO.has(words) || words === 'n a' || words === 'na' || phrase === 'grants') return null;
    return 'withdrawn';
  }
  if (YES.has(words) || ALSO_YES.has(words) || phrase === 'grants') return 'granted';
  if (NO.has(words) || ALSO_NO.has(words) || phrase === 'refuses') return 'withdrawn';
  return cell.trim() === '' ? null : undefined;
}

/** True for a cell that by itself says that someone stopped: "opted out", "STOP", "désabonné". */
export function saysStopped(cell: string): boolean {
  const words = headingWords(cell);
  return cell.length < 60 && !NO.has(words) && !YES.has(words) && textingHeading(cell) === 'refuses';
}
