import { EventEmitter } from 'node:events';
import type { Change } from '../../core/api/topics';

export type { Change };

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
