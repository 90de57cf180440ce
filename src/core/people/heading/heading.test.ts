import { describe, expect, test } from 'vitest';
import { countryOf } from './country-code';
import { phoneHeading, type PhoneHeading } from './phone-heading';
import { isRunningNumber, saysReference } from './reference-heading';
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

const PHONES: Record<PhoneHeading | 'other', string[]> = {
  mobile: [
    'Mobile',
    'Mobile number',
    'Cell',
    'Cell phone',
    'Cellphone',
    'Mob.',
    'Portable',
    'Tél. portable',
    'Móvil',
    'Teléfono móvil',
    'Celular',
    'Work mobile',
    'Home/mobile',
  ],
  text: ['SMS', 'Text number', 'Number to text', 'SMS number'],
  phone: ['Phone', 'Phone number', 'Tel', 'Tel.', 'Telephone', 'Téléphone', 'Teléfono', 'Contact number', 'Número', 'Phone no.'],
  home: [
    'Home phone',
    'Landline',
    'Home tel',
    'House phone',
    'Téléphone fixe',
    'Tél. domicile',
    'Teléfono fijo',
    'Teléfono de casa',
  ],
  work: ['Work phone', 'Office phone', 'Business tel', 'Tél. bureau', 'Teléfono oficina'],
  emergency: [
    'Emergency contact phone',
    'Emergency phone',
    'ICE number',
    'Next of kin phone',
    'Doctor phone',
    'Contact d’urgence tél',
    'Teléfono de emergencia',
  ],
  fax: ['Fax', 'Fax number', 'Télécopie', 'Pager'],
  forbidden: [
    'Phone (do not text)',
    'Mobile - do not use',
    'Phone (no SMS)',
    'Old phone',
    'Previous mobile',
    'Wrong number phone',
    'Tel (ne pas appeler)',
    'Teléfono (no llamar)',
    'Ancien portable',
  ],
  second: ['Second phone', 'Other phone', 'Phone 2', 'Alternate mobile', 'Mother mobile', 'Autre téléphone', 'Otro teléfono'],
  id: ['Account number', 'Member number', 'Order number', 'Customer number', 'ID number'],
  other: ['Name', 'Town', 'Home landing', 'Consent', 'Address', 'Work', 'Home', 'Birthday'],
};

const YES_REFERENCE = [
  ...[
    'Reference',
    'Own reference',
    'Ref',
    'Ref. no.',
    'Member no',
    'Member number',
    'Membership ID',
    'Pass no.',
    'Pass number',
    'Customer no',
  ],
  ...[
    'Customer ID',
    'Account',
    'Account number',
    'Student ID',
    'ID',
    'External ID',
    'Identifiant',
    'Numéro d’adhérent',
    'Code client',
    'Matricule',
  ],
  ...['Referencia', 'Número de socio', 'Código de cliente', 'Identificador'],
];
const NO_REFERENCE = [
  'No',
  'No.',
  'N°',
  '#',
  'Nr',
  'Number',
  'Row',
  'Line',
  'Position',
  'Numéro',
  'Número',
  'Count',
  'Seat',
  'House number',
  'Class no',
];

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

describe('what a heading says about numbers', () => {
  for (const [says, headings] of Object.entries(PHONES))
    test.each(headings)(`%s: ${says}`, (heading) => {
      expect(phoneHeading(heading) ?? 'other').toBe(says);
    });
});

describe('own references', () => {
  test.each(YES_REFERENCE)('%s is one', (heading) => expect(saysReference(heading)).toBe(true));
  test.each(NO_REFERENCE)('%s is none', (heading) => expect(saysReference(heading)).toBe(false));
  test('a running number is nobody’s reference', () => {
    expect(isRunningNumber(['1', '2', '3', '4'])).toBe(true);
    expect(isRunningNumber(['17', '18', '19', '21', '22', '23'])).toBe(true);
    expect(isRunningNumber(['1'])).toBe(true);
    expect(isRunningNumber(['4471', '1210', '8803'])).toBe(false);
    expect(isRunningNumber(['A1', 'A2', 'A3'])).toBe(false);
    expect(isRunningNumber([])).toBe(false);
  });
});

describe('the country beside a number', () => {
  test.each([
    ['GB', { country: 'GB' }],
    ['UK', { country: 'GB' }],
    ['uk', { country: 'GB' }],
    ['44', { callingCode: '44' }],
    ['+44', { callingCode: '44' }],
    ['0044', { callingCode: '44' }],
    ['(+44)', { callingCode: '44' }],
    ['44.0', { callingCode: '44' }],
    ['United Kingdom', { country: 'GB' }],
    ['Royaume-Uni', { country: 'GB' }],
    ['Reino Unido', { country: 'GB' }],
    ['États-Unis', { country: 'US' }],
    ['USA', { country: 'US' }],
    ['1', { callingCode: '1' }],
    ['Deutschland', undefined],
    ['Germany', { country: 'DE' }],
    ['UK +44', { callingCode: '44' }],
    ['999', undefined],
    ['XX', undefined],
    ['home', undefined],
    ['', undefined],
  ])('%s', (cell, expected) => expect(countryOf(cell)).toEqual(expected));
});
