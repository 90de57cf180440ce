import { describe, expect, test } from 'vitest';
import { compileText } from '../merge/compile';
import { measure } from '../text/measure';
import { keepsWhatCounts, proposalsFor, whatCounts } from './proposals';

/** Forty texts as coordinators write them; invented, in the languages there are rules for. */
const TEXTS: [language: string, words: string][] = [
  ['en', 'Please note that the 7:10 AM Heron is not running on Thursday, Dec 3. Ottermere Ferry'],
  ['en', 'We would like to inform you that Berth 12 will not be available until Jan 15. Call 212-555-0142.'],
  ['en', 'Dear {given_name or "neighbor"}, kindly bring your pass in order to board the Kittiwake at Mill Quay.'],
  ['en', 'Due to the fact that North Landing is closed, the boat leaves from Pine Point at 4:30 PM.'],
  ['en', 'Thank you for your purchase. Additional information: https://example.org/information/minutes'],
  ['en', 'The Pike class starts in approximately 20 minutes – please be aware that you are needed at the dock.'],
  ['en', 'In the event that fog stays, we will text you prior to 6 AM. Reply STOP to opt out.'],
  ['en', 'Do not come to the quay at this time. It is very icy. Mika Thank and Leo Will Not are safe.'],
  ['en', 'Information: Will Purchase is on duty. Ask Will or Ana Regarding, {link timetable}'],
  ['en', 'Members’ evening, doors at 8 PM… Bring a chair! We are looking forward to it.'],
  ['en', 'Write to additional@example.org or see example.org/assistance for assistance.'],
  ['en', 'This is just to let you know that your code is {code}. It is valid until {send_date + 7 days as "MMM d"}.'],
  ['en', 'Really really very late:  the  Heron ,  sorry .'],
  ['en', 'Please be advised that {dependants.given_name} and the Otters require dry clothes at 4 PM.'],
  ['en', 'For your information, the telephone at the desk is (212) 555-0142.'],
  ['en', 'However, the 12:05 PM boat commences on Jan 1, 2027, subsequent to repairs.'],
  ['en', 'You will need 2 tickets. You are in group B. We are open 9-5.'],
  ['en', 'Cannot find it? Ask at the desk as soon as possible. Do not wait.'],
  ['en', '{{not a field} will not change, {given_name} cannot know.'],
  ['en', 'It is. That is all.'],
  ['en', 'Until such time as the ice melts there is no boat. With regard to refunds: reply here.'],
  ['en', 'STOP'],
  ['en', '“Tadpoles” — moved to Friday, 3 PM • bring towels'],
  ['en', 'Please note that'],
  ['fr', 'Nous vous informons que le Heron de 7 h 10 ne part pas jeudi 3 décembre. Merci de venir à Mill Quay.'],
  ['fr', "Veuillez noter que l’embarquement dure environ 20 minutes. S'il vous plaît, soyez à l’heure."],
  ['fr', 'Cependant, le rendez-vous du 15 janvier à Pine Point est maintenu. Également : apportez le billet n° 42.'],
  ['fr', 'Afin de monter à bord, présentez {reference or "votre carte"}. Toutefois, le bateau attend 5 minutes.'],
  ['fr', 'Dans le cas où le brouillard reste, appelez le 212-555-0142.'],
  ['fr', 'Bonjour {given_name or "voisin"} : informations sur {link horaire}'],
  ['fr', 'Vraiment désolés ! Le Kittiwake est en panne…'],
  ['fr', 'Les Rendez-Vous de Minutes, spectacle du 4 mars, 20 h.'],
  ['es', 'Le informamos de que el Heron de las 7:10 no sale el jueves 3 de diciembre.'],
  ['es', 'Con el fin de embarcar, traiga su billete. Sin embargo, el barco espera 5 minutos.'],
  ['es', 'En caso de que haya niebla, llame al 212-555-0142. Más información: https://example.org/información'],
  ['es', 'Debido a que Mill Quay está cerrado, salimos de Pine Point aproximadamente a las 16:30.'],
  ['es', '¡Hola {given_name or "vecina"}! Realmente hace frío: abrigo.'],
  ['es', 'Por favor, tenga en cuenta que {dependants.given_name} necesita ropa seca.'],
  ['de', 'Bitte beachten: das Boot um 7.10 Uhr fährt nicht – Ottermere'],
  ['en', ''],
];

test('forty texts are looked at', () => expect(TEXTS).toHaveLength(40));

describe('names, numbers, dates, links and placeholders stay, and each proposal is as short as it says', () => {
  test.each(TEXTS)('%s: %s', (language, words) => {
    const proposals = proposalsFor(words, language);
    for (const proposal of proposals) {
      expect(whatCounts(proposal.words)).toEqual(whatCounts(words));
      expect(proposal.words.trim()).not.toBe('');
      // it is still a text that can be read, with the same placeholders
      const before = compileText(words, new Map()).problems.length;
      expect(compileText(proposal.words, new Map()).problems).toHaveLength(before);
      // not longer on the air, and never more parts
      expect(measure(proposal.words).parts).toBeLessThanOrEqual(measure(words).parts);
    }
    expect(new Set(proposals.map((each) => each.words)).size).toBe(
      new Set(proposals.map((each) => `${each.was}${each.words}`)).size,
    );
  });
});

test.each([
  ['en', 'Please note that the boat is late.', 'The boat is late.', 'filler'],
  ['en', 'It leaves in order to turn.', 'It leaves to turn.', 'shorter'],
  ['en', 'Do not come.', "Don't come.", 'shorter'],
  ['en', 'In 20 minutes', 'In 20 min', 'abbreviation'],
  ['en', 'Doors at 8 – bring a chair', 'Doors at 8 - bring a chair', 'plain characters'],
  ['en', 'No boat 🚤 today', 'No boat today', 'picture'],
  ['en', 'Late ,  sorry', 'Late, sorry', 'spaces'],
  ['fr', 'Veuillez noter que le quai ferme.', 'Le quai ferme.', 'filler'],
  ['es', 'Sale en 20 minutos.', 'Sale en 20 min.', 'abbreviation'],
])('%s: %s → %s', (language, before, after, why) => {
  expect(proposalsFor(before, language)[0]).toMatchObject({ words: after, why });
});

test('what a name is decides: a rule that would change one is not offered', () => {
  expect(proposalsFor('Ask Mika Information at the desk.', 'en')).toEqual([]);
  expect(keepsWhatCounts('at 4:30 PM on Dec 3', 'at 4:30 PM on Dec 4')).toBe(false);
  expect(keepsWhatCounts('see https://example.org/a', 'see https://example.org/b')).toBe(false);
  expect(keepsWhatCounts('for {given_name}', 'for {family_name}')).toBe(false);
});

test('together they are one proposal, and none is left after it', () => {
  const words = 'Please note that you are late – in order to board, do not wait.';
  const all = proposalsFor(words, 'en').at(-1);
  expect(all).toMatchObject({ why: 'all of them', words: "You're late - to board, don't wait." });
  expect(proposalsFor(all?.words ?? '', 'en')).toEqual([]);
});
