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

/** Price of one part by the longest matching prefix; made once for a rate card, asked for every recipient. */
export function pricer(rates: readonly { prefix: string; price_micro: number }[]): (number: string) => number | undefined {
  const byPrefix = new Map(rates.map((rate) => [rate.prefix, rate.price_micro]));
  const longest = rates.reduce((most, rate) => Math.max(most, rate.prefix.length), 0);
  return (number) => {
    for (let length = Math.min(longest, number.length); length > 0; length -= 1) {
      const price = byPrefix.get(number.slice(0, length));
      if (price !== undefined) return price;
    }
    return undefined;
  };
}
