// What of a guest's own sound has not reached the server yet: piece upon piece of each take, sent again from where the server has it.
// Requests are handed in, so that it is tested without a browser.
import { GUEST_PASS_HEADER, OWN_SOUND_PIECE_BYTES, ownSoundPath, UPLOAD_OFFSET } from '@lantern/contract';

/** Some forty minutes of a voice: beyond that a line does not come back, and the page needs its memory. */
const MOST_WAITING_BYTES = 32_000_000;
const TRY_AGAIN_MS = 3_000;
const NO_ROOM_MS = 30_000;
/** A line that takes so long for one request has said nothing. */
const MAY_TAKE_MS = 40_000;
/** What the server says to whoever it takes nothing more of. */
const NOTHING_MORE = [401, 403, 410];

interface Take {
  beganAt: number;
  type: string;
  pieces: Blob[];
  /** Bytes before the first of them. */
  from: number;
  /** No more of it is kept: something of it is missing. */
  over: boolean;
}

export type OwnSoundTrouble = '' | 'the line' | 'no room' | 'not taken';

export interface SenderHost {
  fetch: typeof fetch;
  tell(waitingBytes: number, trouble: OwnSoundTrouble): void;
  wait(ms: number): Promise<void>;
}

export class OwnSoundSender {
  private takes: Take[] = [];
  private sending = false;
  private refused = false;

  constructor(
    private readonly pass: string,
    private readonly host: SenderHost,
  ) {}

  /** Takes the next piece of the take that began at `beganAt`, in ms of the server's clock. False: no more of it is kept, so that another is to be begun. */
  add(beganAt: number, type: string, piece: Blob): boolean {
    if (this.refused) return true;
    let take = this.takes.find((each) => each.beganAt === beganAt);
    if (!take) this.takes.push((take = { beganAt, type, pieces: [], from: 0, over: false }));
    take.over ||= this.waitingBytes + piece.size > MOST_WAITING_BYTES;
    if (take.over) return false;
    take.pieces.push(piece);
    this.tell('');
    void this.send();
    return true;
  }

  /** Nothing that still waits is sent; what comes from now on is taken anew. */
  drop(): void {
    this.takes = [];
    this.refused = false;
    this.tell('');
  }

  get waitingBytes(): number {
    return this.takes.reduce((sum, { pieces }) => sum + pieces.reduce((bytes, { size }) => bytes + size, 0), 0);
  }

  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      for (;;) {
        const take = this.takes.find(({ pieces }) => pieces.length > 0);
        if (!take) return;
        await this.sendOf(take);
      }
    } finally {
      this.sending = false;
    }
  }

  private async sendOf(take: Take): Promise<void> {
    const { beganAt, type, from } = take;
    let count = 0;
    for (let bytes = 0; count < take.pieces.length && (count === 0 || bytes + take.pieces[count]!.size <= OWN_SOUND_PIECE_BYTES); count++)
      bytes += take.pieces[count]!.size;
    const body = new Blob(take.pieces.slice(0, count));
    const answer = await this.ask(beganAt, { method: 'PATCH', body, headers: { [UPLOAD_OFFSET]: String(from), 'content-type': type } });
    if (answer?.ok) return this.arrived(take, from + body.size);
    if (answer?.status === 409) return this.joinOn(take);
    await this.notNow(take, answer);
  }

  /** Sends on from where the server has it: an answer may have been lost. */
  private async joinOn(take: Take): Promise<void> {
    const answer = await this.ask(take.beganAt, { method: 'HEAD' });
    if (!answer?.ok) return this.notNow(take, answer);
    const there = Number(answer.headers.get(UPLOAD_OFFSET));
    const end = take.from + take.pieces.reduce((sum, { size }) => sum + size, 0);
    // It has less than is kept here, or what was never sent: nothing can be joined on to that.
    if (there < take.from || there > end) return this.giveUp(take);
    this.arrived(take, there);
  }

  private arrived(take: Take, there: number): void {
    while (take.pieces[0] && take.from + take.pieces[0].size <= there) take.from += take.pieces.shift()!.size;
    if (take.pieces[0] && there > take.from) {
      take.pieces[0] = take.pieces[0].slice(there - take.from);
      take.from = there;
    }
    this.tell('');
  }

  private async notNow(take: Take, answer: Response | null): Promise<void> {
    const status = answer?.status ?? 0;
    if (status === 507) return this.later('no room', NO_ROOM_MS);
    const passing = status === 0 || status === 408 || status === 429 || status >= 500;
    if (passing) return this.later('the line', TRY_AGAIN_MS);
    this.refused = NOTHING_MORE.includes(status);
    this.giveUp(take);
  }

  private async later(trouble: OwnSoundTrouble, ms: number): Promise<void> {
    this.tell(trouble);
    await this.host.wait(ms);
  }

  private giveUp(take: Take): void {
    take.over = true;
    take.pieces = [];
    this.tell('not taken');
  }

  private tell(trouble: OwnSoundTrouble): void {
    this.host.tell(this.waitingBytes, trouble);
  }

  private ask(beganAt: number, init: RequestInit): Promise<Response | null> {
    const headers = { ...(init.headers as Record<string, string>), [GUEST_PASS_HEADER]: this.pass };
    return this.host.fetch(ownSoundPath(beganAt), { ...init, headers, signal: AbortSignal.timeout(MAY_TAKE_MS) }).catch(() => null);
  }
}
