/** What the engine cannot do, in words for people. The http floor turns it into a problem; the engine knows nothing of http. */
export class EngineError extends Error {
  constructor(
    readonly kind: 'no_price' | 'no_number' | 'empty_text' | 'too_long' | 'no_balance' | 'opted_out' | 'too_late',
    message: string,
    readonly more: { place?: string; kept?: string; act?: string } = {},
  ) {
    super(message);
    this.name = 'EngineError';
  }
}
