import { describe, expect, it } from 'vitest';
import { opensOnlyHere, originOf } from './web-address';

describe('who can open an address', () => {
  it.each([
    'http://localhost:4691',
    'http://127.0.0.1:4180',
    'http://[::1]:4180',
    'http://bell.localhost',
    'http://192.168.1.20',
    'http://10.0.0.4:80',
    'http://[fd00::1]',
    'http://office-pc:4180',
    'http://bell.local',
    'http://bell.home.arpa',
    '',
    'nonsense',
  ])('%s: nobody else', (address) => expect(opensOnlyHere(address)).toBe(true));

  it.each(['https://bell.ottermere.example', 'http://93.184.216.34', 'https://[2606:2800:220:1::1]'])('%s: anybody', (address) =>
    expect(opensOnlyHere(address)).toBe(false),
  );
});

describe('what links are made from', () => {
  it.each([
    ['https://bell.example.org/', 'https://bell.example.org'],
    ['bell.example.org', 'https://bell.example.org'],
    [' HTTP://Bell.Example.org:8080 ', 'http://bell.example.org:8080'],
    ['https://bell.example.org/texts', undefined],
    ['https://ana@bell.example.org', undefined],
    ['two words', undefined],
    ['', undefined],
  ])('“%s”', (typed, origin) => expect(originOf(typed)).toBe(origin));
});
