import { Transform, type Readable } from 'node:stream';
import yauzl from 'yauzl';
import { UnreadableFile } from './table';

/** Unpacked bytes that are always fine, however well they were packed. */
const ALWAYS_FINE = 4 << 20;
/** Beyond that, what unpacks to this many times its packed size is a bomb; sheets stay well under. */
const MOST_RATIO = 120;
const MOST_UNPACKED = 2 ** 31;

/** The entries of a zip file on disk, opened one at a time, with a limit on what they may unpack to. */
export class Zip {
  private unpacked = 0;
  private constructor(
    private readonly file: yauzl.ZipFile,
    private readonly entries: ReadonlyMap<string, yauzl.Entry>,
  ) {}

  static async open(path: string): Promise<Zip> {
    const file = await new Promise<yauzl.ZipFile>((resolve, reject) => {
      yauzl.open(path, { lazyEntries: true, autoClose: false }, (error, opened) => (error ? reject(error) : resolve(opened)));
    }).catch(() => {
      throw new UnreadableFile(
        'The workbook is damaged: it ends too early, or it was not saved whole. Save it again and choose it.',
      );
    });
    const entries = new Map<string, yauzl.Entry>();
    await new Promise<void>((resolve, reject) => {
      file.on('entry', (entry: yauzl.Entry) => {
        if (entries.size > 5000)
          return reject(new UnreadableFile('This zip file holds thousands of files; it is not a workbook.'));
        entries.set(entry.fileName.replace(/^\//, ''), entry);
        file.readEntry();
      });
      file.on('end', resolve);
      file.on('error', () => reject(new UnreadableFile('The workbook is damaged. Save it again and choose it.')));
      file.readEntry();
    }).catch((error: unknown) => {
      file.close();
      throw error;
    });
    return new Zip(file, entries);
  }

  has(name: string): boolean {
    return this.entries.has(name);
  }

  names(): string[] {
    return [...this.entries.keys()];
  }

  /** The unpacked bytes of an entry, piece by piece. Throws UnreadableFile when it is a bomb, damaged or locked. */
  async *read(name: string): AsyncGenerator<Buffer> {
    const entry = this.entries.get(name);
    if (!entry) throw new UnreadableFile(`The workbook is damaged: its part “${name}” is missing.`);
    if (entry.isEncrypted())
      throw new UnreadableFile('The workbook is locked with a password. Save it without one and choose it again.');
    // what it says of itself is not to be trusted, but may be enough
    if (entry.uncompressedSize > MOST_UNPACKED || grown(entry.uncompressedSize, entry.compressedSize)) throw bomb();
    const source = await new Promise<Readable>((resolve, reject) => {
      this.file.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream)));
    }).catch(() => {
      throw new UnreadableFile('The workbook is damaged. Save it again and choose it.');
    });
    let own = 0;
    const counted = new Transform({
      transform: (chunk: Buffer, _encoding, done) => {
        own += chunk.length;
        this.unpacked += chunk.length;
        const tooMuch = this.unpacked > MOST_UNPACKED || grown(own, entry.compressedSize);
        done(tooMuch ? bomb() : null, chunk);
      },
    });
    source.on('error', (error) => counted.destroy(error));
    source.pipe(counted);
    try {
      for await (const chunk of counted) yield chunk as Buffer;
    } catch (error) {
      if (error instanceof UnreadableFile) throw error;
      throw new UnreadableFile('The workbook is damaged: a part of it cannot be unpacked. Save it again and choose it.');
    } finally {
      source.destroy();
    }
  }

  close(): void {
    this.file.close();
  }
}

function grown(unpacked: number, packed: number): boolean {
  return unpacked > ALWAYS_FINE && unpacked > packed * MOST_RATIO;
}

function bomb(): UnreadableFile {
  return new UnreadableFile('The workbook unpacks to far more than any sheet holds; it was not read.');
}
