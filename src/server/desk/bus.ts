import { randomBytes } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Change } from '../../core/api/topics';

export type { Change };

/** So many changes are remembered: a page that was away for less asks for those only, and for everything else after longer. */
const REMEMBERED = 1000;

/** In-process change notices, from the engine to live connections and to whoever waits for work. */
export class Bus extends EventEmitter<{ change: [Change]; work: [] }> {
  /** Of this process: moments of another one say nothing here. */
  private readonly life = randomBytes(6).toString('hex');
  private count = 0;
  private kept: Change[] = [];

  constructor() {
    super();
    this.setMaxListeners(0);
  }
  changed(topic: Change['topic'], id?: number): void {
    this.count += 1;
    this.kept.push({ topic, id });
    if (this.kept.length > 2 * REMEMBERED) this.kept = this.kept.slice(-REMEMBERED);
    this.emit('change', { topic, id });
  }
  /** There may be something to hand over. */
  work(): void {
    this.emit('work');
  }
  /** The moment it is, in a word that `since` knows again. */
  get moment(): string {
    return `${this.life}-${this.count}`;
  }
  /** What has changed after a moment, oldest first; undefined where that is not known any more. */
  since(moment: string): readonly Change[] | undefined {
    const [life, count] = moment.split('-');
    const missed = this.count - Number(count);
    if (life !== this.life || !(missed >= 0 && missed <= this.kept.length)) return undefined;
    return missed === 0 ? [] : this.kept.slice(-missed);
  }
}
