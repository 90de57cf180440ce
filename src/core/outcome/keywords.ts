import { asItLooks } from '../text/look-alikes';

/**
 * What a reply asks for. `stop` acts at once; `maybe_stop` contains a word of stopping among others: no run texts the number
 * until a person has decided; `auto` is what a phone writes by itself, and nobody answers it.
 */
export type ReplyKind = 'reply' | 'stop' | 'help' | 'start' | 'maybe_stop' | 'auto';

/**
 * Words that withdraw consent: 47 CFR 64.1200(a)(10) names stop, quit, end, revoke, opt out, cancel and unsubscribe; STOPALL
 * is common practice. French and Spanish words, and the look-alikes people type, are from memory of common practice.
 */
const VERBS = new Set(
  `stop stopall quit end revoke optout cancel unsubscribe remove unsub cease arret arrete arreter arretez desabonner desabonnement
   desabonnez desinscrire desinscription desinscrivez alto parar pare paren baja cancelar cancele cancelen basta desuscribir стоп`.split(
    /\s+/,
  ),
);

/** What may stand around a word of stopping without changing what is meant: whom, what, how politely. */
const AROUND = new Set(
  `please pls plz thanks thank thx you now immediately today hi hello ok okay kindly just asap sir madam
   me us my i im we want would like need to text texts texting texted message messages messaging sms contact contacting send sending
   write writing this these those that the your all any more from of list number phone it again anymore ever at future subscription
   merci svp sil vous plait je veux de des du les le la mes moi nous plus ce cette liste numero messages textos envoyer envoi
   por favor gracias quiero yo mi mis mas mensajes mensaje textos texto enviar enviarme los las el lista darme dar dame esta este numero ya`.split(
    /\s+/,
  ),
);

/** Phrases of stopping that need no such word; `~` stands for anything of AROUND. */
const PHRASES: readonly RegExp[] = [
  /^(?:~ )*(?:do not|dont|don t|never|not) (?:~ )*(?:text|texts|texting|message|messages|contact|send|write|sms|call)(?: ~)*$/,
  /^(?:~ )*no (?:mas|more)(?: ~)*$/,
  /^(?:~ )*opt (?:~ )*out(?: ~)*$/,
  /^(?:~ )*take (?:me|us|my|this)(?: ~)* off(?: ~)*$/,
  /^(?:~ )*leave me alone(?: ~)*$/,
  /^(?:~ )*ne (?:~ )*(?:m |me |nous )?m?(?:ecrivez|ecris|envoyez|textez|contactez|envoie) (?:~ )*plus(?: ~)*$/,
  /^(?:~ )*plus de (?:messages|textos|sms|texto|message)(?: ~)*$/,
  /^(?:~ )*no (?:me |nos )?(?:~ )*(?:envien|envie|envies|manden|mande|mandes|escriban|escriba|escribas|texteen|contacten)(?: ~)*$/,
];

/** The same anywhere in a longer reply: it may mean stop. */
const SOUNDS =
  /\b(?:opt\b.{0,12}\bout|no more (?:texts|messages)|no mas|stop|take me off|remove me|(?:do not|dont|don t) (?:text|message|contact|send)|leave me alone|wrong (?:number|person)|plus de messages|unsubscribe)\b/;

/**
 * What phones and mailboxes write by themselves: at the wheel, away, out of the office. Common practice, from memory; whole
 * phrases only, since "I am driving past, shall I stop?" is a person.
 */
const BY_ITSELF =
  /\b(?:(?:im|i am) driving (?:with|and (?:will|cant|have)|right now and)|do not disturb while driving|auto ?(?:matic)? ?(?:reply|response)|automated (?:reply|response|message)|this is an automat\w+|(?:im|i am|currently) (?:out of (?:the )?office|away from my (?:desk|phone))|sent from my (?:car|vehicle)|reponse automatique|message automatique|je (?:suis au volant|conduis) et|absent du bureau|respuesta automatica|mensaje automatico|estoy (?:conduciendo|manejando) y|fuera de la oficina)\b/;

const START = new Set(['start', 'unstop', 'reprendre', 'empezar']);
const HELP = new Set(['help', 'info', 'aide', 'ayuda']);
const POLITE = new Set(['please', 'pls', 'thanks', 'thank', 'you', 'merci', 'svp', 'gracias', 'por', 'favor']);

/** Digits and signs that stand for a letter inside a word: st0p, $top, 5top. */
const LOOK_ALIKES: Record<string, string> = { '0': 'o', '1': 'i', '3': 'e', '4': 'a', '5': 's', $: 's', '@': 'a', '!': 'i' };
const MOST = 600;

/** Words and figures in plain small letters; look-alikes inside words read as letters, signs of stopping as the word. */
function wordsOf(text: string): string[] {
  const plain = text
    .slice(0, MOST)
    .replace(/🛑|⛔|🚫/gu, ' stop ')
    .normalize('NFKD')
    .replace(/[\p{M}\p{Cf}\ufe0f\u3164\u115f]/gu, '');
  const folded = asItLooks(plain)
    .toLowerCase()
    .replace(/[’`´]/g, "'")
    .replace(/'/g, '')
    .replace(/[a-z0-9$@]*[0-9$@][a-z0-9$@]*/g, (word) =>
      /[a-z]/.test(word) ? word.replace(/[0-9$@]/g, (c) => LOOK_ALIKES[c] ?? c) : word,
    );
  // a figure says something, too: "we stop at 9" is no stop
  return folded.match(/\p{L}+|\d+/gu) ?? [];
}

/** A signature under the words, or after a dash, says nothing about them: "STOP.\n-- Jim", "stop - sent from my phone". */
function withoutSignature(text: string): string {
  return text.replace(/(?:\n\s*(?:--|—|–|-|sent from|envoyé|enviado)|\s[-—–]+\s*(?:sent from|envoyé|enviado))[\s\S]*$/i, '');
}

/** "S T O P please": three and more single letters in a row are one word, as are all of them where there is nothing else. */
function spelledOut(words: readonly string[]): string[] {
  if (words.every((word) => word.length === 1)) return [words.join('')];
  const joined: string[] = [];
  let letters: string[] = [];
  const end = () => {
    joined.push(...(letters.length >= 3 ? [letters.join('')] : letters));
    letters = [];
  };
  for (const word of words)
    if (/^\p{L}$/u.test(word)) letters.push(word);
    else {
      end();
      joined.push(word);
    }
  end();
  return joined;
}

/** "st op please": a word of stopping with a space in it. */
const broken = (words: readonly string[]) => {
  const bare = words.filter((word) => !POLITE.has(word));
  return bare.length > 1 && bare.length <= 3 && isVerb(bare.join(''));
};

const collapsed = (word: string) => word.replace(/(\p{L})\1+/gu, '$1');
const collapsedVerbs = new Set([...VERBS].map(collapsed));
const isVerb = (word: string) => VERBS.has(word) || collapsedVerbs.has(collapsed(word));

function meansStop(words: readonly string[]): boolean {
  if (words.length === 0) return false;
  const joined = spelledOut(words);
  if (joined.some(isVerb) && joined.every((word) => isVerb(word) || AROUND.has(word))) return true;
  const bare = joined.filter((word) => !POLITE.has(word)).join(' ');
  return PHRASES.some((phrase) => withAround(phrase).test(bare));
}

const compiled = new Map<RegExp, RegExp>();
function withAround(phrase: RegExp): RegExp {
  let made = compiled.get(phrase);
  if (!made) compiled.set(phrase, (made = new RegExp(phrase.source.replaceAll('~', `(?:${[...AROUND].join('|')})`))));
  return made;
}

/**
 * The kind of a reply. What consists of a phrase of stopping, alone or with its object, politeness, a signature, doubled
 * letters or look-alikes, stops at once; "please stop by at noon" does not, but a person sees it before a run texts again.
 */
export function classifyReply(text: string): ReplyKind {
  const words = wordsOf(withoutSignature(text));
  if (meansStop(words)) return 'stop';
  const meant = words.filter((word) => !POLITE.has(word));
  const whole = (set: ReadonlySet<string>) =>
    set.has(meant.join('')) || (meant.length > 0 && meant.every((word) => set.has(word)));
  if (whole(START)) return 'start';
  if (whole(HELP)) return 'help';
  const all = spelledOut(wordsOf(text));
  // a word of stopping is a person's until a person says otherwise: "stop these automated messages"; so is one that is broken in two
  if (all.some(isVerb) || broken(all) || SOUNDS.test(all.join(' '))) return 'maybe_stop';
  return BY_ITSELF.test(all.join(' ')) ? 'auto' : 'reply';
}
