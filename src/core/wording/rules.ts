/** A way to say the same in fewer or plainer words; never about names, numbers, dates or links. */
export interface WordingRule {
  find: RegExp;
  put: string;
  /** Why, in a word or two. */
  why: 'filler' | 'shorter' | 'abbreviation';
}

const rule = (find: string, put: string, why: WordingRule['why']): WordingRule => ({
  // whole words only; letters of every script count (\b knows those of ASCII alone)
  find: new RegExp(`(?<![\\p{L}\\p{N}'’])(?:${find})(?![\\p{L}\\p{N}'’])`, 'giu'),
  put,
  why,
});
/** A filler goes with the space behind it. */
const filler = (find: string, put = ''): WordingRule => ({
  find: new RegExp(
    `(?<![\\p{L}\\p{N}'’])(?:${find.trimEnd()})${find.endsWith(' ') ? ' +(?=\\S)' : "(?![\\p{L}\\p{N}'’])"}`,
    'giu',
  ),
  put,
  why: 'filler',
});
const shorter = (find: string, put: string) => rule(find, put, 'shorter');
const short = (find: string, put: string) => rule(find, put, 'abbreviation');

/**
 * By language code. Common practice of the trade and of plain-language guides; the words themselves are from memory. What goes away
 * takes the space after it along.
 */
export const WORDING_RULES: Readonly<Record<string, readonly WordingRule[]>> = {
  en: [
    filler('please note that '),
    filler('please be (?:advised|aware|informed) that '),
    filler('we (?:would like|wish|want) to (?:inform|let|tell) you (?:know )?that '),
    filler('this is (?:just )?to (?:inform you|let you know) that '),
    filler('kindly ', 'please '),
    filler('(?:really|very|actually|basically|simply) '),
    filler('at your earliest convenience', 'soon'),
    shorter('in order to', 'to'),
    shorter('due to the fact that', 'because'),
    shorter('because of the fact that', 'because'),
    shorter('in the event that', 'if'),
    shorter('at this (?:point in )?time', 'now'),
    shorter('until such time as', 'until'),
    shorter('with (?:regard|respect) to', 'about'),
    shorter('regarding', 'about'),
    shorter('prior to', 'before'),
    shorter('subsequent to', 'after'),
    shorter('approximately', 'about'),
    shorter('additional', 'more'),
    shorter('assistance', 'help'),
    shorter('purchase', 'buy'),
    shorter('commences', 'starts'),
    shorter('commence', 'start'),
    shorter('require', 'need'),
    shorter('however', 'but'),
    shorter('thank you', 'thanks'),
    shorter('do not', "don't"),
    shorter('does not', "doesn't"),
    shorter('is not', "isn't"),
    shorter('are not', "aren't"),
    shorter('cannot|can not', "can't"),
    shorter('will not', "won't"),
    shorter('you will', "you'll"),
    shorter('we will', "we'll"),
    shorter('you are', "you're"),
    shorter('we are', "we're"),
    short('minutes', 'min'),
    short('as soon as possible', 'ASAP'),
    short('for your information', 'FYI'),
    short('telephone', 'phone'),
    short('information', 'info'),
  ],
  fr: [
    filler('(?:veuillez|merci de bien vouloir) noter que '),
    filler('nous (?:vous informons|tenons à vous informer) que '),
    filler('(?:vraiment|simplement) '),
    shorter('afin de', 'pour'),
    shorter('dans le cas où', 'si'),
    shorter('en raison du fait que', 'car'),
    shorter('(?:cependant|toutefois|néanmoins)', 'mais'),
    shorter('également', 'aussi'),
    shorter('environ', '~'),
    shorter('préalablement à', 'avant'),
    short("s[’']il (?:vous|te) pla[iî]t", 'svp'),
    short('rendez-vous', 'RDV'),
    short('minutes', 'min'),
    short('informations?', 'info'),
  ],
  es: [
    filler('(?:le|les) informamos (?:de )?que '),
    filler('por favor,? ?tenga en cuenta que '),
    filler('(?:realmente|simplemente) '),
    shorter('con el fin de', 'para'),
    shorter('en caso de que', 'si'),
    shorter('debido a que', 'porque'),
    shorter('sin embargo', 'pero'),
    shorter('aproximadamente', 'unos'),
    shorter('con anterioridad a', 'antes de'),
    short('minutos', 'min'),
    short('información', 'info'),
  ],
};
