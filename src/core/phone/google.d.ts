// The reference library's example numbers, used in tests only; its own types are not shipped.
declare module 'google-libphonenumber' {
  interface Proto {
    getCountryCode(): number;
  }
  interface Util {
    getSupportedRegions(): string[];
    getExampleNumberForType(region: string, type: number): Proto | null;
    format(number: Proto, format: number): string;
    isValidNumber(number: Proto): boolean;
    getNumberType(number: Proto): number;
    getRegionCodeForNumber(number: Proto): string;
    parse(text: string, region: string): Proto;
  }
  const library: {
    PhoneNumberUtil: { getInstance(): Util };
    PhoneNumberFormat: { E164: number; INTERNATIONAL: number; NATIONAL: number };
    PhoneNumberType: Record<string, number>;
  };
  export default library;
}
