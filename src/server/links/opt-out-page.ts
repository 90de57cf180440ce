import { escaped, htmlPage } from '../http/plain-page';

/** What the page of an opt-out link says, in the language of the text it stood in; others read English. */
const WORDS: Record<string, { ask: string; press: string; done: string; note: string; test: string }> = {
  en: {
    ask: 'No more texts from {name} to {number}?',
    press: 'No more texts',
    done: 'Done. {name} sends no more texts to {number}.',
    note: 'Nothing has changed yet.',
    test: 'This is a test: pressing it changes nothing.',
  },
  fr: {
    ask: 'Ne plus recevoir de messages de {name} au {number} ?',
    press: 'Ne plus recevoir',
    done: 'C’est fait. {name} n’envoie plus de messages au {number}.',
    note: 'Rien n’a encore changé.',
    test: 'Ceci est un essai : appuyer ne change rien.',
  },
  es: {
    ask: '¿No recibir más mensajes de {name} en el {number}?',
    press: 'No recibir más',
    done: 'Hecho. {name} no envía más mensajes al {number}.',
    note: 'Todavía no ha cambiado nada.',
    test: 'Esto es una prueba: pulsar no cambia nada.',
  },
  de: {
    ask: 'Keine Nachrichten von {name} mehr an {number}?',
    press: 'Keine Nachrichten mehr',
    done: 'Erledigt. {name} schickt keine Nachrichten mehr an {number}.',
    note: 'Noch hat sich nichts geändert.',
    test: 'Das ist ein Test: Drücken ändert nichts.',
  },
};

/** Enough of a number for its holder to know it, and for nobody else: whoever opens a forwarded link learns no number. */
const shown = (number: string) => `••• ${number.slice(-4)}`;

/**
 * The page of an opt-out link: what is asked and one press, or that it is done. Opening it changes nothing, since scanners open links.
 *
 * @param nonce of the response: no other style is allowed
 */
export function optOutPage(
  of: { name: string; number: string; language: string; done: boolean; test: boolean; path: string },
  nonce: string,
): string {
  const language = of.language in WORDS ? of.language : 'en';
  const words = WORDS[language];
  const filled = (text: string) => escaped(text.replace('{name}', of.name).replace('{number}', shown(of.number)));
  const body = of.done
    ? `<h1>${filled(words.done)}</h1>`
    : `<h1>${filled(words.ask)}</h1><form method="post" action="${escaped(of.path)}"><button type="submit">${escaped(words.press)}</button></form><p>${escaped(of.test ? words.test : words.note)}</p>`;
  return htmlPage({ language, title: of.name, body }, nonce);
}
