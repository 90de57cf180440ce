/**
 * Pages of which the first has been asked for already: what goes wrong at once is refused as any question is, and does not cut off
 * a file that has begun.
 */
export async function begun<T>(pages: AsyncIterable<T>): Promise<AsyncIterable<T>> {
  const asked = pages[Symbol.asyncIterator]();
  const first = await asked.next();
  return (async function* () {
    try {
      for (let page = first; page.done !== true; page = await asked.next()) yield page.value;
    } finally {
      await asked.return?.();
    }
  })();
}
