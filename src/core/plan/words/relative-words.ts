/**
 * Words that turn false when a text crosses zones or days, or is delayed, in each language that is offered. From memory, checked by nobody
 * who speaks all of them: a hint that can be put aside, and no more.
 */
export const RELATIVE_WORDS: Readonly<Record<string, readonly string[]>> = {
  en: [
    ...['today', 'tonight', 'tomorrow', 'yesterday', 'now', 'good morning', 'good afternoon', 'good evening'],
    ...['this morning', 'this afternoon', 'this evening'],
  ],
  fr: ['aujourd’hui', 'demain', 'hier', 'ce soir', 'ce matin', 'cet après-midi', 'cette nuit', 'maintenant', 'bonsoir'],
  es: [
    'hoy',
    'mañana',
    'ayer',
    'esta noche',
    'esta mañana',
    'esta tarde',
    'ahora',
    'buenos días',
    'buenas tardes',
    'buenas noches',
  ],
  de: ['heute', 'morgen', 'gestern', 'jetzt', 'guten morgen', 'guten abend', 'heute abend'],
  it: ['oggi', 'domani', 'ieri', 'stasera', 'stamattina', 'adesso', 'ora', 'buongiorno', 'buonasera'],
  pt: ['hoje', 'amanhã', 'ontem', 'esta noite', 'esta manhã', 'esta tarde', 'agora', 'bom dia', 'boa tarde', 'boa noite'],
  nl: ['vandaag', 'morgen', 'gisteren', 'vanavond', 'vanochtend', 'vanmiddag', 'nu', 'goedemorgen', 'goedenavond'],
  pl: ['dzisiaj', 'dziś', 'jutro', 'wczoraj', 'teraz', 'dziś wieczorem', 'dobry wieczór'],
  sv: ['idag', 'i dag', 'imorgon', 'i morgon', 'igår', 'i går', 'ikväll', 'i kväll', 'nu', 'god morgon', 'god kväll'],
  da: ['i dag', 'i morgen', 'i går', 'i aften', 'nu', 'god morgen', 'god aften'],
  no: ['i dag', 'i morgen', 'i går', 'i kveld', 'nå', 'god morgen', 'god kveld'],
  fi: ['tänään', 'huomenna', 'eilen', 'tänä iltana', 'nyt', 'hyvää huomenta', 'hyvää iltaa'],
};

/** Words that are each other's contrary in notices (common practice), in each language that is offered; from memory like those above. */
export const CONTRARY_WORDS: Readonly<Record<string, readonly (readonly [string, string])[]>> = {
  en: [
    ['is on', 'is off'],
    ['open', 'closed'],
    ['opens', 'closes'],
    ['runs', 'canceled'],
    ['running', 'canceled'],
    ['early', 'late'],
    ['starts', 'ends'],
  ],
  fr: [
    ['ouvert', 'fermé'],
    ['ouverte', 'fermée'],
    ['circule', 'annulé'],
    ['a lieu', 'annulé'],
    ['en avance', 'en retard'],
    ['commence', 'se termine'],
  ],
  es: [
    ['abierto', 'cerrado'],
    ['abierta', 'cerrada'],
    ['sale', 'cancelado'],
    ['antes', 'tarde'],
    ['empieza', 'termina'],
  ],
  de: [
    ['offen', 'geschlossen'],
    ['geöffnet', 'geschlossen'],
    ['fährt', 'fällt aus'],
    ['findet statt', 'fällt aus'],
    ['früher', 'später'],
    ['beginnt', 'endet'],
  ],
  it: [
    ['aperto', 'chiuso'],
    ['aperta', 'chiusa'],
    ['parte', 'cancellato'],
    ['in anticipo', 'in ritardo'],
    ['inizia', 'finisce'],
  ],
  pt: [
    ['aberto', 'fechado'],
    ['aberta', 'fechada'],
    ['parte', 'cancelado'],
    ['mais cedo', 'mais tarde'],
    ['começa', 'termina'],
  ],
  nl: [
    ['open', 'gesloten'],
    ['vaart', 'vervalt'],
    ['gaat door', 'gaat niet door'],
    ['vroeger', 'later'],
    ['begint', 'eindigt'],
  ],
  pl: [
    ['otwarte', 'zamknięte'],
    ['otwarty', 'zamknięty'],
    ['kursuje', 'odwołany'],
    ['wcześniej', 'później'],
  ],
  sv: [
    ['öppet', 'stängt'],
    ['öppen', 'stängd'],
    ['går', 'inställd'],
    ['tidigare', 'senare'],
    ['börjar', 'slutar'],
  ],
  da: [
    ['åbent', 'lukket'],
    ['åben', 'lukket'],
    ['sejler', 'aflyst'],
    ['tidligere', 'senere'],
    ['begynder', 'slutter'],
  ],
  no: [
    ['åpent', 'stengt'],
    ['åpen', 'stengt'],
    ['går', 'innstilt'],
    ['tidligere', 'senere'],
    ['begynner', 'slutter'],
  ],
  fi: [
    ['auki', 'kiinni'],
    ['avoinna', 'suljettu'],
    ['kulkee', 'peruttu'],
    ['aikaisemmin', 'myöhemmin'],
    ['alkaa', 'päättyy'],
  ],
};

/** Whether a phrase stands in a text as words of its own, in whatever script; both kinds of apostrophe are one. */
export function phraseIn(text: string, phrase: string): string | undefined {
  const source = phrase.replace(/’/g, "[’']").replace(/ /g, '\\s+');
  return new RegExp(`(?<![\\p{L}\\p{N}])${source}(?![\\p{L}\\p{N}])`, 'iu').exec(text)?.[0];
}
