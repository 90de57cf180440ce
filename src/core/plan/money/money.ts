/** Money is integer millionths of the currency; totals are rounded once, when shown. */
export function showMoney(micro: number, currency = 'USD', language = 'en-US'): string {
  const small = micro !== 0 && Math.abs(micro) < 100_000;
  return new Intl.NumberFormat(language, {
    style: 'currency',
    currency,
    minimumFractionDigits: 2,
    maximumFractionDigits: small ? 4 : 2,
  }).format(micro / 1_000_000);
}
