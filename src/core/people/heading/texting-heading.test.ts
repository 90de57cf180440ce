import { describe, expect, test } from 'vitest';
import { textingColumns } from '../match';
import { saidAboutTexts, saysStopped, textingHeading, type TextingHeading } from './texting-heading';

/** Headings as offices write them; *common practice*, from memory, in English, French and Spanish. */
const TEXTING: Record<TextingHeading | 'other', string[]> = {
  grants: [
    ...[
      'Consent',
      'Consent?',
      'SMS consent',
      'Consent to texts',
      'Consent (yes/no)',
      'CONSENT Y/N',
      'text_consent',
      'smsConsent',
    ],
    ...['Opt in', 'Opt-in', 'Opted in', 'SMS Opt-In', 'OK to text', 'OK to text?', 'Okay to text', 'May we text?', 'Can we text'],
    ...['Permission', 'Permission to text', 'Texting permission', 'Agreed to texts', 'Accepts texts', 'Subscribed', 'Subscriber'],
    ...['Texts OK', 'Wants texts', 'Allows texts', 'Happy to text', 'Agrees to messages', 'Approved for texts', 'Text allowed'],
    ...[
      'Consentement',
      'Consentement SMS',
      'Accord',
      'Accord SMS (oui/non)',
      'Accepte les SMS',
      'Autorise SMS',
      'Abonné',
      'Inscrit aux SMS',
    ],
    ...[
      'Consentimiento',
      'Consentimiento SMS',
      'Permiso',
      'Acepta mensajes',
      'Acepta SMS (sí/no)',
      'Autoriza mensajes',
      'Suscrito',
      'Autorizado',
    ],
  ],
  refuses: [
    ...[
      'No consent',
      'Consent withdrawn',
      'Consent revoked',
      'Consent declined',
      'Consent refused',
      'Without consent',
      'Not consented',
    ],
    ...[
      'No permission',
      'Permission denied',
      'Permission withdrawn',
      'Opt in declined',
      'Not opted in',
      'Never opted in',
      'No opt-in',
    ],
    ...[
      'Unsubscribed',
      'Unsubscribed?',
      'Unsubscribe',
      'Opted out',
      'Opt out',
      'Opt-out',
      'SMS opt-out',
      'OptOut',
      'opted_out',
      'Opts out',
    ],
    ...[
      'Do not text',
      'Do not text!',
      'DO NOT TEXT',
      "Don't text",
      'Do not contact',
      'Do not message',
      'Do not send',
      'No texts',
      'No SMS',
    ],
    ...[
      'STOP',
      'Stop',
      'Stopped',
      'SMS stop',
      'Declined',
      'Refused texts',
      'Blocked',
      'Blocklisted',
      'Suppressed',
      'Not subscribed',
    ],
    ...[
      'Never text',
      'Must not text',
      'Cannot text',
      'No more texts',
      'No messages',
      'Does not agree',
      'DNT',
      'Lacks consent',
      'Objects to texts',
    ],
    ...[
      'Sans consentement',
      'Pas de consentement',
      'Consentement refusé',
      'Consentement retiré',
      'Refus SMS',
      'Refus',
      'Désabonné',
      'Désinscrit',
    ],
    ...['Pas de SMS', 'Ne pas envoyer de SMS', 'Ne pas contacter', 'Opposition', 'Sans accord', 'Accord refusé', 'N’accepte pas'],
    ...[
      'Sin consentimiento',
      'Consentimiento retirado',
      'Sin permiso',
      'Baja',
      'Dado de baja',
      'No enviar',
      'No contactar',
      'No acepta',
      'Rechazado',
    ],
  ],
  unclear: [
    ...[
      'Consent date',
      'Date of consent',
      'Opt-in date',
      'Opted out on',
      'Photo consent',
      'Photo permission',
      'Medical consent',
      'Email opt in',
    ],
    ...[
      'Consent to calls',
      'Trip permission',
      'Not opted out',
      'Consent not withdrawn',
      'Reason for opt out',
      'Newsletter subscribed',
    ],
    ...[
      'Marketing emails consent',
      'Swim permission',
      'Date du consentement',
      'Fecha de consentimiento',
      'Accord photo',
      'Permiso fotos',
      'Do not call',
    ],
  ],
  other: [
    ...[
      'No',
      'No.',
      'Non',
      'Name',
      'First name',
      'Mobile',
      'Phone',
      'Bus stop',
      'Stop name',
      'School stop',
      'Notes',
      'Town',
      'Landing',
      'Number',
    ],
    ...[
      'Class',
      'Nom',
      'Nombre',
      'Apellido',
      'Teléfono',
      'Pass ends',
      'Group',
      'Second parent',
      'Born',
      'Language',
      'Not before',
      'Nonstop ferry',
    ],
  ],
};

describe('what a heading says about being texted', () => {
  for (const [says, headings] of Object.entries(TEXTING))
    test.each(headings)(`%s: ${says}`, (heading) => {
      expect(textingHeading(heading) ?? 'other').toBe(says);
    });

  test('no negation is ever read as a yes', () => {
    const negated = [
      ...TEXTING.grants.flatMap((heading) => [`No ${heading}`, `${heading} withdrawn`, `Not ${heading}`, `${heading} refused`]),
    ];
    expect(negated.filter((heading) => textingHeading(heading) === 'grants')).toEqual([]);
  });
});

describe('what a cell says there', () => {
  test.each([
    ['yes', 'grants', 'granted'],
    ['Oui', 'grants', 'granted'],
    ['Sí', 'grants', 'granted'],
    ['x', 'grants', 'granted'],
    ['✓', 'grants', 'granted'],
    ['opted in', 'grants', 'granted'],
    ['no', 'grants', 'withdrawn'],
    ['Opted out', 'grants', 'withdrawn'],
    ['STOP', 'grants', 'withdrawn'],
    ['do not text', 'grants', 'withdrawn'],
    ['désabonné', 'grants', 'withdrawn'],
    ['', 'grants', null],
    ['nope', 'grants', 'withdrawn'],
    ['Nah', 'grants', 'withdrawn'],
    ['off', 'grants', 'withdrawn'],
    ['No thanks!', 'grants', 'withdrawn'],
    ['yep', 'grants', 'granted'],
    ['On', 'grants', 'granted'],
    ['off', 'refuses', 'withdrawn'],
    ['on', 'refuses', 'withdrawn'],
    ['nope', 'refuses', 'withdrawn'],
    ['maybe', 'grants', undefined],
    ['3/9/2026', 'grants', undefined],
    ['yes', 'refuses', 'withdrawn'],
    ['x', 'refuses', 'withdrawn'],
    ['2026-03-09', 'refuses', 'withdrawn'],
    ['asked us to stop', 'refuses', 'withdrawn'],
    ['no', 'refuses', null],
    ['0', 'refuses', null],
    ['-', 'refuses', null],
    ['n/a', 'refuses', null],
    ['', 'refuses', null],
    ['subscribed', 'refuses', null],
  ] as const)('“%s” in a column that %s: %s', (cell, column, said) => {
    expect(saidAboutTexts(cell, column)).toBe(said);
  });

  test('a cell can say by itself that someone stopped', () => {
    expect(['Opted out', 'STOP', 'unsubscribed', 'désabonné', 'baja'].filter((cell) => !saysStopped(cell))).toEqual([]);
    expect(['no', 'yes', 'Mill Quay', 'Bus stop 4', '', 'active'].filter(saysStopped)).toEqual([]);
  });
});

describe('columns whose cells make them be asked about', () => {
  const says = (heading: string, cells: readonly string[]) =>
    textingColumns(
      [heading],
      cells.map((cell) => [cell]),
    ).map((each) => each.says);
  test.each([
    ['Can we text you', ['yes', 'nope'], 'grants'],
    ['SMS', ['on', 'off', 'on'], 'unclear'],
    ['SMS', ['nope', 'yep'], 'unclear'],
    ['Removed', ['yes', '', 'yes'], 'unclear'],
    ['Removed from list?', ['yes', 'no'], 'unclear'],
    ['Taken off', ['x'], 'unclear'],
    ['Active', ['yes', 'no', 'yes'], 'unclear'],
    ['SMS', ['+1 207 555 0142', '+1 207 555 0143'], undefined],
    ['Removed', ['Mill Quay', 'Pine Point'], undefined],
    ['Left', ['2026-03-09', '2026-04-01'], undefined],
  ])('%s: %j', (heading, cells, asked) => {
    expect(says(heading, cells)[0]).toBe(asked);
  });
});
