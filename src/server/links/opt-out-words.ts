/** What the page of an opt-out link says. `{name}` is the workspace's, `{number}` the end of the number. */
export interface PageWords {
  ask: string;
  press: string;
  done: string;
  note: string;
  test: string;
  /** Only marketing is no more wanted: the way to it, and that it is so. */
  less: string;
  lessDone: string;
  /** Taking either back. */
  back: string;
}

/** In every language that the setup offers; a text in another has the page in English. */
export const PAGE_WORDS: Readonly<Record<string, PageWords>> = {
  en: {
    ask: 'No more texts from {name} to {number}?',
    press: 'No more texts',
    done: 'Done. {name} sends no more texts to {number}.',
    note: 'Nothing has changed yet.',
    test: 'This is a test: pressing it changes nothing.',
    less: 'Notices yes, no marketing',
    lessDone: 'Done. {name} sends notices to {number}, and no marketing.',
    back: 'That was a mistake: take it back',
  },
  fr: {
    ask: 'Ne plus recevoir de messages de {name} au {number} ?',
    press: 'Ne plus recevoir',
    done: 'C’est fait. {name} n’envoie plus de messages au {number}.',
    note: 'Rien n’a encore changé.',
    test: 'Ceci est un essai : appuyer ne change rien.',
    less: 'Les avis oui, pas de publicité',
    lessDone: 'C’est fait. {name} envoie les avis au {number}, et plus de publicité.',
    back: 'C’était une erreur : annuler',
  },
  es: {
    ask: '¿No recibir más mensajes de {name} en el {number}?',
    press: 'No recibir más',
    done: 'Hecho. {name} no envía más mensajes al {number}.',
    note: 'Todavía no ha cambiado nada.',
    test: 'Esto es una prueba: pulsar no cambia nada.',
    less: 'Avisos sí, publicidad no',
    lessDone: 'Hecho. {name} envía avisos al {number}, y nada de publicidad.',
    back: 'Fue un error: deshacer',
  },
  de: {
    ask: 'Keine Nachrichten von {name} mehr an {number}?',
    press: 'Keine Nachrichten mehr',
    done: 'Erledigt. {name} schickt keine Nachrichten mehr an {number}.',
    note: 'Noch hat sich nichts geändert.',
    test: 'Das ist ein Test: Drücken ändert nichts.',
    less: 'Mitteilungen ja, keine Werbung',
    lessDone: 'Erledigt. {name} schickt Mitteilungen an {number}, aber keine Werbung.',
    back: 'Das war ein Versehen: zurücknehmen',
  },
  it: {
    ask: 'Niente più messaggi da {name} al {number}?',
    press: 'Niente più messaggi',
    done: 'Fatto. {name} non invia più messaggi al {number}.',
    note: 'Non è ancora cambiato nulla.',
    test: 'Questa è una prova: premere non cambia nulla.',
    less: 'Avvisi sì, niente pubblicità',
    lessDone: 'Fatto. {name} invia avvisi al {number}, e niente pubblicità.',
    back: 'È stato un errore: annulla',
  },
  pt: {
    ask: 'Não receber mais mensagens de {name} no {number}?',
    press: 'Não receber mais',
    done: 'Feito. {name} não envia mais mensagens para {number}.',
    note: 'Ainda nada mudou.',
    test: 'Isto é um teste: carregar não muda nada.',
    less: 'Avisos sim, publicidade não',
    lessDone: 'Feito. {name} envia avisos para {number}, e nenhuma publicidade.',
    back: 'Foi um engano: desfazer',
  },
  nl: {
    ask: 'Geen berichten meer van {name} aan {number}?',
    press: 'Geen berichten meer',
    done: 'Klaar. {name} stuurt geen berichten meer naar {number}.',
    note: 'Er is nog niets veranderd.',
    test: 'Dit is een test: drukken verandert niets.',
    less: 'Mededelingen wel, geen reclame',
    lessDone: 'Klaar. {name} stuurt mededelingen naar {number}, en geen reclame.',
    back: 'Dat was een vergissing: ongedaan maken',
  },
  pl: {
    ask: 'Nie wysyłać więcej wiadomości od {name} na {number}?',
    press: 'Nie wysyłać więcej',
    done: 'Gotowe. {name} nie wysyła już wiadomości na {number}.',
    note: 'Jeszcze nic się nie zmieniło.',
    test: 'To jest próba: naciśnięcie niczego nie zmienia.',
    less: 'Powiadomienia tak, reklamy nie',
    lessDone: 'Gotowe. {name} wysyła na {number} powiadomienia, bez reklam.',
    back: 'To była pomyłka: cofnij',
  },
  sv: {
    ask: 'Inga fler meddelanden från {name} till {number}?',
    press: 'Inga fler meddelanden',
    done: 'Klart. {name} skickar inga fler meddelanden till {number}.',
    note: 'Inget har ändrats än.',
    test: 'Detta är ett test: att trycka ändrar inget.',
    less: 'Information ja, ingen reklam',
    lessDone: 'Klart. {name} skickar information till {number}, men ingen reklam.',
    back: 'Det var ett misstag: ångra',
  },
  da: {
    ask: 'Ikke flere beskeder fra {name} til {number}?',
    press: 'Ikke flere beskeder',
    done: 'Færdig. {name} sender ikke flere beskeder til {number}.',
    note: 'Intet er ændret endnu.',
    test: 'Dette er en prøve: et tryk ændrer intet.',
    less: 'Information ja, ingen reklame',
    lessDone: 'Færdig. {name} sender information til {number}, men ingen reklame.',
    back: 'Det var en fejl: fortryd',
  },
  no: {
    ask: 'Ingen flere meldinger fra {name} til {number}?',
    press: 'Ingen flere meldinger',
    done: 'Ferdig. {name} sender ingen flere meldinger til {number}.',
    note: 'Ingenting er endret ennå.',
    test: 'Dette er en prøve: et trykk endrer ingenting.',
    less: 'Informasjon ja, ingen reklame',
    lessDone: 'Ferdig. {name} sender informasjon til {number}, men ingen reklame.',
    back: 'Det var en feil: angre',
  },
  fi: {
    ask: 'Eikö enää viestejä lähettäjältä {name} numeroon {number}?',
    press: 'Ei enää viestejä',
    done: 'Valmis. {name} ei enää lähetä viestejä numeroon {number}.',
    note: 'Mikään ei ole vielä muuttunut.',
    test: 'Tämä on koe: painaminen ei muuta mitään.',
    less: 'Tiedotteet kyllä, ei mainoksia',
    lessDone: 'Valmis. {name} lähettää numeroon {number} tiedotteita, ei mainoksia.',
    back: 'Se oli vahinko: peru',
  },
};
