/** What a draft's saving has come to. */
export interface Kept<D> {
  value: D;
  version: number;
}

/**
 * Decides which words stand: what was typed here, or what the server says. Answers may cross what is typed, and each other; words
 * that are not saved yet, or could not be saved, are never replaced, and an older version never replaces a newer one.
 */
export class DraftKeeper<D> {
  private current: Kept<D> | undefined;
  /** What the server is known to have, and what it is about to have. */
  private base: D | undefined;
  private sent: D | undefined;
  /** Counts what was typed; what is saved is a count, too. */
  private typed = 0;
  private saved = 0;
  private sending: number | undefined;

  /** What stands now. */
  get value(): D | undefined {
    return this.current?.value;
  }
  get version(): number {
    return this.current?.version ?? 0;
  }
  /** What this page and the server last agreed on: what was typed here since is the difference to it. */
  get agreed(): D | undefined {
    return this.base;
  }
  /** Something typed is not known to be saved. */
  get unsaved(): boolean {
    return this.typed > this.saved;
  }
  get isSending(): boolean {
    return this.sending !== undefined;
  }

  /** The server's answer to a question. True when it was taken over; false when what stands here is newer. */
  heard(answer: Kept<D>): boolean {
    if (this.current !== undefined && (this.unsaved || this.isSending || answer.version <= this.current.version)) return false;
    this.current = { ...answer };
    this.base = answer.value;
    return true;
  }

  type(value: D): void {
    if (this.current === undefined) return;
    this.current = { value, version: this.current.version };
    this.typed += 1;
  }

  /** What to save next, or undefined when there is nothing or it is under way. */
  begin(): Kept<D> | undefined {
    if (this.current === undefined || !this.unsaved || this.isSending) return undefined;
    this.sending = this.typed;
    this.sent = this.current.value;
    return { ...this.current };
  }

  /** It is saved under this version; what was typed meanwhile is still to be saved. */
  done(version: number): void {
    if (this.sending === undefined || this.current === undefined) return;
    this.saved = Math.max(this.saved, this.sending);
    this.base = this.sent;
    this.sending = undefined;
    this.current = { value: this.current.value, version };
  }

  /** Somebody else has saved meanwhile: this is their version with what was typed here in it, still to be saved. */
  rebase(theirs: Kept<D>, value: D): void {
    this.base = theirs.value;
    this.current = { value, version: theirs.version };
    this.typed += 1;
  }

  /** It could not be saved; the words stand and are still unsaved. */
  failed(): void {
    this.sending = undefined;
  }
}
