import { describe, expect, test } from 'vitest';
import { countryOf } from './country-code';
import { phoneHeading, type PhoneHeading } from './phone-heading';
import { isRunningNumber, saysReference } from './reference-heading';

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
