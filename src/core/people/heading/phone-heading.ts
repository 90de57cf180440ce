import { hasWords, headingWords } from './words';

/** What a heading says about a column of numbers. `forbidden` is never proposed for texting, `fax` and `person` neither. */
export type PhoneHeading = 'mobile' | 'text' | 'phone' | 'home' | 'work' | 'emergency' | 'fax' | 'forbidden' | 'second' | 'id';

const MOBILE = /\b(mobiles?|mob|cells?|cellular|cellphone|cell ?phone|handset|portable|gsm|whats ?app|movil|celular|handy)\b/;
const TEXT = /\b(sms|text (number|no|phone|to)|number to text|texting (number|phone)|texto)\b/;
const PHONE = /\b(phones?|tel|telephone|phone ?(no|number|nr)?|contact (no|number)|number|numero|telefono|tlf|ph)\b/;
const HOME = /\b(home|house|landline|land line|fixed|evening|private line|domicile|maison|fixe|casa|fijo|domicilio)\b/;
const WORK = /\b(work|office|business|daytime|job|company|desk|bureau|travail|trabajo|oficina|empresa)\b/;
const EMERGENCY = /\b(emergency|ice|next of kin|urgence|emergencia|doctor|physician|medecin|medico)\b/;
const FAX = /\b(fax|telefax|telecopie|pager|telex)\b/;
const FORBIDDEN =
  /\b(do not|don't|dont|not|never|no) (to )?(text|texts|sms|use|call|contact|message)\b|\bno sms\b|\bdn[tc]\b|\bnot (mobile|a mobile|for text(s|ing)?)\b|\b(old|former|previous|wrong|invalid|disconnected|dead)\b|\bne pas\b|\bpas de sms\b|\bno (enviar|llamar|mandar|usar)\b|\b(ancien|anterior|antiguo)\b/;
const SECOND =
  /\b(second|secondary|2nd|other|alt|alternate|alternative|additional|backup|spouse|partner|mother|father|mum|mom|dad|guardian|parent ?2|autre|secondaire|segundo|otro|otra|conjoint|mere|pere|madre|padre|[2-9])\b/;
/** Numbers that are no phones, however long. */
const ID =
  /\b(id|ids|ref|reference|account|member(ship)?|order|invoice|customer|card|iban|zip|postcode|postal|passport|siret|cuenta|pedido|client|cliente)\b/;

/** What a heading says about a column of numbers; undefined when it says nothing about phones. */
export function phoneHeading(heading: string): PhoneHeading | undefined {
  const words = headingWords(heading);
  if (words === '') return undefined;
  const phone = MOBILE.test(words) || TEXT.test(words) || PHONE.test(words) || FAX.test(words);
  if (phone && FORBIDDEN.test(words)) return 'forbidden';
  if (FAX.test(words)) return 'fax';
  if (ID.test(words) && !MOBILE.test(words) && !/\b(phone|tel|telephone|telefono)\b/.test(words)) return 'id';
  if (EMERGENCY.test(words)) return 'emergency';
  if (!phone && !HOME.test(words) && !WORK.test(words)) return undefined;
  if (SECOND.test(words)) return 'second';
  if (MOBILE.test(words)) return 'mobile';
  if (TEXT.test(words)) return 'text';
  if (HOME.test(words)) return phone || hasWords(words, 'landline') ? 'home' : undefined;
  if (WORK.test(words)) return phone ? 'work' : undefined;
  return 'phone';
}

/** What is said of each kind beside its column. */
export const PHONE_HEADING_WORDS: Record<PhoneHeading, string> = {
  mobile: 'the heading says mobile',
  text: 'the heading says it is for texts',
  phone: 'the heading says phone',
  home: 'the heading says home',
  work: 'the heading says work',
  emergency: 'the heading says emergency',
  fax: 'the heading says fax',
  forbidden: 'the heading says not to text it',
  second: 'the heading says it is a second number',
  id: 'the heading says it is no phone',
};

const WEIGHT: Record<PhoneHeading, number> = {
  text: 100,
  mobile: 90,
  phone: 50,
  second: 20,
  home: 10,
  work: 8,
  emergency: 2,
  fax: 0,
  forbidden: 0,
  id: 0,
};

/** A column that holds numbers. `share`: of its filled cells, those that read as phone numbers; `mobile`: of those, the mobile ones. */
export interface PhoneColumn {
  column: number;
  heading: string;
  says: PhoneHeading | undefined;
  fill: number;
  share: number;
  mobile: number;
}

/** Kinds that are never proposed by themselves; a person may choose them. */
const NEVER: readonly (PhoneHeading | undefined)[] = ['forbidden', 'fax', 'emergency', 'id'];

/**
 * The column to text and why, of all that hold numbers, with the others in the order of likeliness. None is proposed when every
 * one is for something else.
 */
export function choosePhone(columns: readonly PhoneColumn[]): {
  best: PhoneColumn | undefined;
  why: string;
  others: PhoneColumn[];
} {
  const score = (c: PhoneColumn) => (c.says ? WEIGHT[c.says] : 30) + c.share * 20 + c.mobile * 25 + c.fill * 10;
  const ranked = [...columns].sort((a, b) => score(b) - score(a) || a.column - b.column);
  const may = ranked.filter((c) => !NEVER.includes(c.says));
  // cells that do not read are still numbers where the heading says so and nothing else is there; a "yes" under SMS is none
  const best = may.find((c) => c.share >= 0.3) ?? may.find((c) => c.says === 'mobile' || c.says === 'phone');
  return { best, why: best ? whyPhone(best) : '', others: ranked.filter((c) => c !== best) };
}

/** Why a column is proposed, or what it is, in words. */
export function whyPhone(column: PhoneColumn): string {
  const said = column.says ? PHONE_HEADING_WORDS[column.says] : 'it holds numbers';
  return `${said}; ${Math.round(column.share * 100)} % of its cells read as numbers`;
}
