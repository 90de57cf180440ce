/** The API as a signed-in coordinator uses it, for tests that need no browser. */
export class Desk {
  cookie = '';
  constructor(readonly url: string) {}

  async signIn(): Promise<this> {
    const answer = await fetch(`${this.url}/api/sign-in`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: 'ana@ottermere.example', password: 'heron and kittiwake' }),
    });
    this.cookie = /bell_session=[^;]+/.exec(answer.headers.get('set-cookie') ?? '')?.[0] ?? '';
    return this;
  }

  async ask<T>(method: string, path: string, body?: unknown): Promise<T> {
    const answer = await fetch(this.url + path, {
      method,
      headers: { 'content-type': 'application/json', cookie: this.cookie },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const said = (await answer.json()) as T;
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${JSON.stringify(said)}`);
    return said;
  }

  /** What came to a practice phone, whole: the parts of a text come one after the other. */
  async cameTo(number: string): Promise<string[]> {
    type Screen = { number: string; texts: { direction: string; text: string; arrived: number; total: number }[] };
    const { phones } = await this.ask<{ phones: Screen[] }>('GET', `/api/phones?search=${number}`);
    return phones
      .filter((phone) => phone.number === number)
      .flatMap(({ texts }) => texts.filter((each) => each.direction === 'in' && each.arrived === each.total))
      .map(({ text }) => text);
  }

  /** Sends a file's bytes. */
  async upload<T>(path: string, bytes: Uint8Array): Promise<T> {
    const answer = await fetch(this.url + path, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream', cookie: this.cookie },
      body: Buffer.from(bytes),
    });
    const said = (await answer.json()) as T;
    if (!answer.ok) throw new Error(`POST ${path}: ${answer.status} ${JSON.stringify(said)}`);
    return said;
  }

  /** The same desk of a server that was started again: the session is in the database. */
  at(url: string): Desk {
    const again = new Desk(url);
    again.cookie = this.cookie;
    return again;
  }
}

export async function until<T>(look: () => Promise<T | undefined | false>, seconds = 180): Promise<T> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const found = await look().catch(() => undefined);
    if (found) return found;
    if (Date.now() > end) throw new Error(`Not within ${seconds} s: ${look.toString()}`);
    await new Promise((resolve) => setTimeout(resolve, 40));
  }
}
