import { expect, test } from 'vitest';
import { classifyReply, type ReplyKind } from './keywords';

/**
 * What people write when they want no more texts, want them again, or want help, in the languages offered; and what only sounds
 * like it. The words of stopping are those of 47 CFR 64.1200(a)(10); all other phrasings, and what a careful person would take
 * each for, are common practice, written down from memory. Each stands as it would be typed.
 */
const TABLE: Readonly<Record<ReplyKind, string>> = {
  // to be acted on at once, without a person
  stop: `stop | STOP | Stop. | stop! | "stop" | s t o p | S.T.O.P. | STOPALL | stop all | stop now | stop please | please stop
    pls stop | Plz stop!! | stop thanks | stop, thank you | ok stop | okay stop | hi stop please | just stop | stop it
    stop this | stop texting | stop texting me | Stop texting me! | please stop texting me | stop sending me texts
    stop messaging me | stop sending these | stop these texts | stop the messages | stop contacting me | stop messages
    stop all texts | stop all messages | I want to stop | I would like to stop these texts | stopp | Stooop | st0p | 5top | $top
    🛑 | ⛔ | stop 🛑 | 🛑🛑🛑 | STOP.\\n-- Jim | stop - sent from my phone | stop stop stop | STOP STOP
    quit | Quit. | QUIT please | end | END | End. | end this | end messages | revoke | Revoke! | revoke please
    opt out | opt-out | Opt Out | OPTOUT | optout please | opt me out | please opt me out | opt out of texts | opt out of this list
    cancel | CANCEL | cancel please | cancel texts | cancel messages | cancel these messages
    unsubscribe | UNSUBSCRIBE | Unsubscribe me | please unsubscribe me | unsubscribe from this list | unsub | remove
    remove me | Remove my number | remove my number please | please remove me from this list | take me off | take me off your list
    take me off this list please | take my number off your list | no more | no more texts | No more messages please | no more texts from you
    don't text me | do not text me | Do not text me again | dont text me anymore | don’t text me any more | never text me again
    do not contact me | Don't contact me again | do not message this number | don't send me texts | leave me alone
    arrêt | ARRET | arrêter | Arrêtez | arrêtez svp | arretez s'il vous plait | stop svp | stop merci | désabonner | desabonnez moi
    désinscription | désinscrire | désinscrivez-moi | plus de messages | plus de textos svp | ne m'écrivez plus | ne m’envoyez plus de messages
    ne me textez plus | ne me contactez plus | cease | Cease! | please cease
    s t o p please | S T O P now | please s.t.o.p | S-T-O-P texting me | q u i t | e n d please
    ЅТОР | ЅТOР | STОP | sтoр | ѕtор | ＳＴＯＰ | 𝐒𝐓𝐎𝐏 | 𝘴𝘵𝘰𝘱 | ⓢⓣⓞⓟ | ꓢꓔꓳꓑ | Ѕtоp please | ΕΝD | ԛuit | саnсеl | STOΡ
    S\u200bT\u200bO\u200bP | ST\u00adOP | \u202eSTOP | ştop | стоп | Стоп!
    alto | ALTO | alto por favor | parar | pare | Pare por favor | paren | baja | BAJA | baja por favor | darme de baja | dame de baja | cancelar
    cancelar mensajes | cancelen | basta | basta ya por favor | no más | no mas mensajes | no mas por favor | no me envíen más mensajes
    no me escriban más | no me manden mensajes | no me texteen`,
  // a person decides, and no run texts them meanwhile
  maybe_stop: `Please stop by at noon | does the bus stop there? | don't stop | the end of the pier | cancel my order | cancel my 5:20 booking
    wrong number | wrong person | you have the wrong number | when does it end? | I want to quit the Tuesday class | can you cancel Leo's berth
    stop at Mill Quay please | will the Heron stop at Pine Point | non-stop fun | we stop at 9 | can I remove one child from the class?
    is the end of December ok | please remove Mika from the Tadpoles | stop by my house | where is the bus stop
    I'd like to opt out of the Friday class only | how do I unsubscribe? | why can't I unsubscribe | stop the boat!
    unsubscribe my mother not me | I said stop last week, why again | alto ahí que voy
    st op | s top | un subscribe | st op please | cease and desist | ѕtор by at noon | can you s t o p at Mill Quay
    cancelar mi reserva | arrêt du bateau à Pine Point? | est-ce la fin, arrêtez de rire | END of season party?
    please stop these automated messages | I am out of office, cancel my subscription`,
  // what a phone writes by itself: nobody answers it, and it stops nothing
  auto: `I'm driving with Do Not Disturb While Driving turned on. I'll see your message when I get where I'm going.
    I am driving and will reply later | Auto-reply: I am away this week | Automatic reply: back on Monday | automated response
    I am out of the office until Dec 7 | This is an automated message, replies are not read | Réponse automatique : absente jusqu'au 7
    Je suis au volant et répondrai plus tard | Respuesta automática: vuelvo el lunes | Estoy conduciendo y respondo luego`,
  help: `help | HELP | Help! | help please | pls help | HELP? | info | INFO | Info? | info please | aide | AIDE | aide svp | ayuda | Ayuda por favor | ¿ayuda?`,
  start: `start | START | Start. | start please | unstop | UNSTOP | Unstop! | reprendre | Reprendre svp | empezar | EMPEZAR`,
  // answered by a person when they come to it
  reply: `ok | ok thx | Thanks! | yes | no | Yes please | 1 | 2. | 👍 | 😀 | merci | merci beaucoup | gracias | sí | oui
    Is the 5:20 still running? | can Leo come a day later | see you at 9 | running late | on my way | I need help with the booking form
    how do I start the engine? | what time does it start | where can I get more info about berths | Who is this? | is this the ferry?
    the bike rack is full | Yes, both of us | we will be there | what a day | toppings? | stoplight is out at the quay is it? no lights at all
    parade at noon? | a pair of oars | weekend? | friend of mine is coming | recommend a hotel? | endless fog today | quite late
    I am driving past at 5, shall I bring it? | driving to the quay now | is the office open today?
    ¿dónde para el barco? | no para hoy el Heron?`,
};

const phrasings = (Object.keys(TABLE) as ReplyKind[]).flatMap((kind) =>
  TABLE[kind]
    .split(/\||\n\s+/)
    .map((text) => text.trim().replaceAll('\\n', '\n'))
    .filter((text) => text !== '')
    .map((text) => [text, kind] as const),
);

test('the table is as large as it is meant to be, and has each phrasing once', () => {
  expect(phrasings.length).toBeGreaterThanOrEqual(300);
  expect(new Set(phrasings.map(([text]) => text)).size).toBe(phrasings.length);
});

test('what a careful person would say of each: none is missed, and none stops who did not mean it', () => {
  const wrong = phrasings.flatMap(([text, kind]) => {
    const said = classifyReply(text);
    return said === kind ? [] : [`${text}: ${said}, not ${kind}`];
  });
  expect(wrong).toEqual([]);
});
