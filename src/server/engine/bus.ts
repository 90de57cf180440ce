import { EventEmitter } from 'node:events';

/** What changed, in the smallest words; the web asks again for what it shows. */
export interface Change {
  topic: 'run' | 'runs' | 'replies' | 'people' | 'carrier' | 'balance' | 'clock' | 'import';
  id?: number;
}

/** In-process change notices, from the engine to live connections and to whoever waits for work. */
export class Bus extends EventEmitter<{ change: [Change]; work: [] }> {
  constructor() {
    super();
    this.setMaxListeners(0);
  }
  changed(topic: Change['topic'], id?: number): void {
    this.emit('change', { topic, id });
  }
  /** There may be something to hand over. */
  work(): void {
    this.emit('work');
  }
}
