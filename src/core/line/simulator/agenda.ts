interface Item {
  at: number;
  order: number;
  act: () => void;
}

/** What is to happen, by time; what is due at the same moment goes in the order in which it was put in (a binary heap). */
export class Agenda {
  private readonly items: Item[] = [];
  private order = 0;
  add(at: number, act: () => void): void {
    const { items } = this;
    const item = { at, order: (this.order += 1), act };
    let i = items.length;
    items.push(item);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (before(items[up], item)) break;
      items[i] = items[up];
      i = up;
    }
    items[i] = item;
  }
  take(): { at: number; act: () => void } | undefined {
    const { items } = this;
    const [top] = items;
    const last = items.pop();
    if (last === undefined || items.length === 0) return top;
    let i = 0;
    for (;;) {
      let least = 2 * i + 1;
      if (least >= items.length) break;
      if (least + 1 < items.length && before(items[least + 1], items[least])) least += 1;
      if (before(last, items[least])) break;
      items[i] = items[least];
      i = least;
    }
    items[i] = last;
    return top;
  }
}
const before = (a: { at: number; order: number }, b: { at: number; order: number }) =>
  a.at < b.at || (a.at === b.at && a.order < b.order);
