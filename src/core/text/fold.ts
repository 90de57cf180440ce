/** Text folded for finding and sorting: case, accents and width do not matter. Done here, so that SQL and core agree. */
export function fold(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[øœæßłđ]/g, (c) => ({ ø: 'o', œ: 'oe', æ: 'ae', ß: 'ss', ł: 'l', đ: 'd' })[c] ?? c)
    .replace(/\s+/g, ' ')
    .trim();
}
