import { Refusal, type Particulars } from '../../core/api/refusal';

/** A text that cannot be let out, in words for people. */
export class EngineError extends Refusal {
  constructor(
    kind: 'no-price' | 'no-number' | 'empty-text' | 'too-long' | 'no-balance' | 'opted-out',
    title: string,
    more: Particulars = {},
  ) {
    super(kind === 'no-balance' ? 'not paid for' : 'wrong', kind, title, more);
    this.name = 'EngineError';
  }
}
