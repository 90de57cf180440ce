/** The package names its own declarations wrongly. */
declare module 'unicode-confusables' {
  /** Replaces each character by what it looks like (Unicode TR39, confusables.txt 10.0), one by one. */
  export function rectifyConfusion(input: string): string;
}
