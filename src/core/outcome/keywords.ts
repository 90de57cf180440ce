/** What a reply asks for. `maybe_stop` only sounds like stop and goes to a person. */
export type ReplyKind = 'reply' | 'stop' | 'help' | 'start' | 'maybe_stop';

/**
 * Words that withdraw consent at once: 47 CFR 64.1200(a)(10) names stop, quit, end, revoke, opt out, cancel and
 * unsubscribe; STOPALL is common practice. French and Spanish words are from memory of common practice.
 */
const STOP = [
  'stop',
  'stopall',
  'quit',
  'end',
  'revoke',
  'optout',
  'cancel',
  'unsubscribe',
  'arret',
  'arreter',
  'desabonner',
  'alto',
  'parar',
  'baja',
];
const START = ['start', 'unstop', 'reprendre', 'empezar'];
const HELP = ['help', 'info', 'aide', 'ayuda'];

const stop = new Set(STOP);
const start = new Set(START);
const help = new Set(HELP);

/** Letters only, without case and accents. */
function folded(text: string): string {
  return text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
}

/**
 * The kind of a reply. A keyword counts when it is the whole reply, whatever its case, spaces, punctuation and
 * accents ("S T O P!", "Opt-out."), or repeated, or with a plain please or thanks. "Please stop by at noon" is
 * not an opt-out, but it is shown to a person.
 */
export function classifyReply(text: string): ReplyKind {
  const words = folded(text).match(/\p{L}+/gu) ?? [];
  const polite = new Set(['please', 'pls', 'thanks', 'thank', 'you', 'merci', 'svp', 'gracias', 'por', 'favor']);
  const meant = words.filter((word) => !polite.has(word));
  const joined = meant.join('');
  const whole = (set: ReadonlySet<string>) => set.has(joined) || (meant.length > 0 && meant.every((word) => set.has(word)));
  if (whole(stop)) return 'stop';
  if (whole(start)) return 'start';
  if (whole(help)) return 'help';
  const sounds =
    meant.some((word) => stop.has(word)) || /opt\s*-?\s*out|no more texts|stop texting|remove me|take me off/.test(folded(text));
  return sounds ? 'maybe_stop' : 'reply';
}
