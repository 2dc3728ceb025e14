// What a stage made while its line was gone, kept in this browser until the server has it: a file for each recorder's pieces, sent
// slowly beside the programme once the line is back. Files and requests are handed in, so that it is tested without a browser.
import { LATE_CHUNK_BYTES, latePath, UPLOAD_COMPLETE, UPLOAD_OFFSET } from '@lantern/contract';

/** One file that this page alone has open. */
export interface LateFile {
  readonly size: number;
  append(bytes: Uint8Array): void;
  read(at: number, length: number): Uint8Array<ArrayBuffer>;
  close(): void;
}

export interface LateFolder {
  names(): Promise<string[]>;
  /** Null: another page has it open. */
  open(name: string): Promise<LateFile | null>;
  rename(from: string, to: string): Promise<void>;
  remove(name: string): Promise<void>;
}

/** How it stands: what waits in bytes, and why it does not get on, where it does not. */
export interface LateState {
  waitingBytes: number;
  trouble: '' | 'the browser keeps no more' | 'nobody may send it' | 'the server has no room' | 'a part does not join on';
}

export interface LateHost {
  folder: LateFolder;
  fetch: typeof fetch;
  tell(state: LateState): void;
  wait(ms: number): Promise<void>;
  now(): number;
  /** Names files that have no number yet. */
  random(): string;
}

/** The folder in the browser's own store. */
export const LATE_FOLDER = 'late-pieces';
/** After each request the line is left to the programme for so many times as long. */
const RESTS = 2;
const TRY_AGAIN_MS = 5_000;
/** A line that takes so long for one request has said nothing. */
const MAY_TAKE_MS = 60_000;
/** Kept at most, over all shows: some five hours at 3 Mbit/s. */
const MOST_BYTES = 6_000_000_000;
/** Show, stretch or a random name, and where its first byte stands in the stretch. */
const NAME = /^([0-9a-f-]{36})\.(\d+|next-[0-9a-z]+)\.(\d+)$/;

interface Writing {
  name: string;
  from: number;
  file: LateFile;
}

export class LateStore {
  private readonly writing = new Map<string, Writing>();
  private readonly broken = new Set<string>();
  private turn: Promise<unknown> = Promise.resolve();
  private sending = false;
  private wanted = false;
  private trouble: LateState['trouble'] = '';

  constructor(private readonly host: LateHost) {}

  /** All is done one after the other. Resolves once it has been. */
  private inTurn(what: () => Promise<void> | void): Promise<void> {
    const done = this.turn.then(what);
    this.turn = done.catch(() => undefined);
    return done;
  }

  /** Keeps the next piece of what a recorder makes. */
  keep(showId: string, stretch: number | 'next', from: number, bytes: ArrayBuffer): Promise<void> {
    const key = keyOf(showId, stretch);
    return this.inTurn(async () => {
      if (this.broken.has(key)) return;
      try {
        let writing = this.writing.get(key);
        if (!writing) {
          const name = `${showId}.${stretch === 'next' ? `next-${this.host.random()}` : stretch}.${from}`;
          const file = await this.host.folder.open(name);
          if (!file) throw new Error('another page has it');
          this.writing.set(key, (writing = { name, from, file }));
        }
        if (writing.file.size > MOST_BYTES) throw new Error('enough');
        writing.file.append(new Uint8Array(bytes));
      } catch {
        // What was kept before is whole; nothing can be joined on to it any more.
        this.broken.add(key);
        this.become('the browser keeps no more');
      }
    });
  }

  /** The recorder without a number has one now. */
  name(showId: string, stretch: number): Promise<void> {
    return this.inTurn(async () => {
      const next = keyOf(showId, 'next');
      const writing = this.writing.get(next);
      if (this.broken.delete(next)) this.broken.add(keyOf(showId, stretch));
      if (!writing) return;
      this.writing.delete(next);
      writing.file.close();
      const name = `${showId}.${stretch}.${writing.from}`;
      await this.host.folder.rename(writing.name, name);
      const file = await this.host.folder.open(name);
      if (file) this.writing.set(keyOf(showId, stretch), { name, from: writing.from, file });
    });
  }

  /** The server has all of it already. */
  drop(showId: string, stretch: number): Promise<void> {
    return this.inTurn(async () => {
      const name = this.close(keyOf(showId, stretch));
      if (name) await this.host.folder.remove(name);
    });
  }

  /** No more pieces of it come. */
  async end(showId: string, stretch: number | 'next'): Promise<void> {
    await this.inTurn(() => void this.close(keyOf(showId, stretch)));
    this.send();
  }

  private close(key: string): string | null {
    const writing = this.writing.get(key);
    this.broken.delete(key);
    this.writing.delete(key);
    writing?.file.close();
    return writing?.name ?? null;
  }

  /** Sends what is here and written no further, of whichever show and page. Asked for again while it does, it looks once more at the end. */
  send(): void {
    this.wanted = true;
    if (this.sending) return;
    this.sending = true;
    this.sendAll()
      .finally(() => (this.sending = false))
      .catch(() => undefined);
  }

  private async sendAll(): Promise<void> {
    while (this.wanted) {
      this.wanted = false;
      let again = false;
      for (const name of (await this.host.folder.names()).sort()) {
        if ([...this.writing.values()].some((each) => each.name === name)) continue;
        if ((await this.sendFile(name)) === 'later') again = true;
      }
      await this.tellWaiting();
      if (!again) continue;
      await this.host.wait(TRY_AGAIN_MS);
      this.wanted = true;
    }
  }

  private async sendFile(name: string): Promise<'done' | 'later'> {
    const [, showId, number, from] = NAME.exec(name) ?? [];
    // A recorder that never got a number, of a page that is gone: nobody can tell where it belongs.
    if (!showId || !/^\d+$/.test(number!)) return this.give(name);
    const file = await this.host.folder.open(name).catch(() => null);
    if (!file) return 'done'; // Another page sends it.
    let done = false;
    try {
      const first = Number(from);
      const end = first + file.size;
      const path = latePath(showId, Number(number));
      let there = await this.ask(path, { method: 'HEAD' });
      while (typeof there === 'number' && there < end) {
        if (there < first) {
          this.become('a part does not join on');
          done = true;
          return 'done';
        }
        const bytes = file.read(there - first, Math.min(LATE_CHUNK_BYTES, end - there));
        const began = this.host.now();
        const headers = { [UPLOAD_OFFSET]: String(there), [UPLOAD_COMPLETE]: there + bytes.length === end ? '?1' : '?0' };
        there = await this.ask(path, { method: 'PATCH', body: bytes, headers });
        await this.tellWaiting(name, typeof there === 'number' ? end - there : null);
        if (typeof there === 'number' && there < end) await this.host.wait(RESTS * (this.host.now() - began));
      }
      if (there === 'later') return 'later';
      done = there !== 'not allowed';
      if (done && (this.trouble === 'nobody may send it' || this.trouble === 'the server has no room')) this.become('');
      return 'done';
    } finally {
      file.close();
      if (done) await this.host.folder.remove(name);
    }
  }

  private async give(name: string): Promise<'done'> {
    await this.host.folder.remove(name).catch(() => undefined);
    return 'done';
  }

  /** How much the server has, in bytes. */
  private async ask(path: string, init: RequestInit): Promise<number | 'later' | 'not allowed' | 'nowhere'> {
    const reply = await this.host.fetch(path, { ...init, signal: AbortSignal.timeout(MAY_TAKE_MS) }).catch(() => null);
    if (reply?.ok) {
      const there = Number(reply.headers.get(UPLOAD_OFFSET) ?? NaN);
      return Number.isSafeInteger(there) ? there : 'later';
    }
    if (reply?.status === 404) return 'nowhere'; // Its show was removed, and its recording with it.
    if (reply?.status === 507) this.become('the server has no room');
    if (reply?.status !== 401 && reply?.status !== 403) return 'later';
    this.become('nobody may send it');
    return 'not allowed';
  }

  /** `sent`: the file that is being sent, of which `left` bytes are missing. */
  private async tellWaiting(sent = '', left: number | null = null): Promise<void> {
    let waitingBytes = 0;
    for (const name of await this.host.folder.names()) {
      if (name === sent && left !== null) waitingBytes += left;
      else waitingBytes += [...this.writing.values()].find((each) => each.name === name)?.file.size ?? (await this.sizeOf(name));
    }
    this.state = { waitingBytes, trouble: this.trouble };
    this.host.tell(this.state);
  }

  private async sizeOf(name: string): Promise<number> {
    const file = await this.host.folder.open(name).catch(() => null);
    const size = file?.size ?? 0;
    file?.close();
    return size;
  }

  private state: LateState = { waitingBytes: 0, trouble: '' };

  private become(trouble: LateState['trouble']): void {
    this.trouble = trouble;
    this.host.tell((this.state = { ...this.state, trouble }));
  }
}

const keyOf = (showId: string, stretch: number | 'next'): string => `${showId} ${stretch}`;
