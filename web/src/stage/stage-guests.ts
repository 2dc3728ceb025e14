// The stage's guests: who is in the green room, a connection to each, what of them is seen and heard, and what they are sent.
import { randomName } from '../app/random-name';
import { type GuestOrder, type GuestSignal, type GuestThere, type ServerMessage, type StageMessage } from '@lantern/contract';
import { EchoWatch, GuestLineWatch, sayGuestLine, type GuestSeat, type GuestLineVerdict } from '@lantern/core';
import { StageEnd, type GuestLink, type LinkFacts, type Ways } from '../guests/guest-link';

const MEASURE_EVERY_MS = 1_000;
/** On the bench a guest is looked at in this height; in the programme it is what the scene asks for. */
const BENCH_HEIGHT = 180;
/** Half as tall is a quarter of the work, and still a face. */
const SMALLER = 0.5;
/** Whoever was in when the line broke, and is back within so long, is in again. */
const RESTORED_FOR_MS = 60_000;

/** A guest as the bench shows them. */
export interface StageGuest extends GuestThere {
  /** Picture and voice arrive. */
  linked: boolean;
  camera: MediaStream | null;
  line: GuestLineVerdict;
  /** What is to be said of their connection; empty: nothing. */
  lineWords: string;
  echoes: boolean;
}

interface Held {
  there: GuestThere;
  link: GuestLink | null;
  linked: boolean;
  camera: MediaStreamTrack | null;
  share: MediaStreamTrack | null;
  stream: MediaStream | null;
  facts: LinkFacts | null;
  line: GuestLineVerdict;
  lineWatch: GuestLineWatch;
  echo: EchoWatch;
  echoes: boolean;
  height: number;
}

export interface GuestsHost {
  say(message: Extract<StageMessage, { type: 'guestsHere' | 'guest' | 'guestSignal' | 'guestPlaces' }>): void;
  /** A guest's picture from now on; null: none. */
  seat(seat: GuestSeat, track: MediaStreamTrack | null): void;
  /** A guest's voice from now on; null: none. */
  voice(seat: GuestSeat, track: MediaStreamTrack | null): void;
  /** A guest's screen, which the host has chosen; null: it is gone. */
  share(track: MediaStreamTrack | null): void;
  /** The programme for one of them, without their own voice. */
  returnSound(seat: GuestSeat): MediaStreamTrack;
  returnPicture(): MediaStreamTrack;
  /** How tall the picture of a seat is drawn on what is in the programme; null: it is not. */
  drawnHeight(seat: GuestSeat): number | null;
  changed(guests: readonly StageGuest[]): void;
}

export class StageGuests {
  private readonly held = new Map<string, Held>();
  /** Names this load of the page to guests: their connections are with it. */
  private readonly page = randomName(12);
  private ways: Ways = { servers: [], relayOnly: false };
  private readonly timer: number;
  private smaller = false;
  private shows: string | null = null;
  /** Who was brought in here. */
  private readonly broughtIn = new Set<string>();
  /** Of these, who has not been heard of since the line was there again: the server that knew it may be another, to which they come one by one. */
  private toRestore: { ids: Set<string>; until: number } = { ids: new Set(), until: 0 };

  constructor(private readonly host: GuestsHost) {
    this.timer = window.setInterval(() => void this.measure(), MEASURE_EVERY_MS);
  }

  /** The line to the server is there, again. */
  connected(): void {
    this.toRestore = { ids: new Set(this.broughtIn), until: performance.now() + RESTORED_FOR_MS };
    this.host.say({ type: 'guestsHere', page: this.page });
  }

  hear(message: Extract<ServerMessage, { type: 'guests' | 'guestSignal' | 'guestWays' }>): void {
    if (message.type === 'guestWays') this.ways = { servers: message.ways, relayOnly: message.relayOnly };
    else if (message.type === 'guestSignal') this.hearSignal(message.from, message.data);
    else this.hearGuests(message.guests);
  }

  order(id: string, order: GuestOrder): void {
    if (order.does === 'bring in') this.broughtIn.add(id);
    if (order.does === 'take off') this.broughtIn.delete(id);
    this.host.say({ type: 'guest', id, order });
  }

  /** Brings somebody in, or takes them off; by their place on the bench, from 1. */
  toggle(place: number): void {
    const guest = this.all[place - 1];
    if (guest) this.order(guest.id, { does: guest.broughtIn ? 'take off' : 'bring in' });
  }

  /** Shows the screen that a guest offers; null: none. */
  showShare(id: string | null): void {
    const before = this.shows;
    this.shows = id;
    if (before !== null && before !== id) this.order(before, { does: 'share', wanted: false });
    const track = (id !== null && this.held.get(id)?.share) || null;
    if (id !== null) this.order(id, { does: 'share', wanted: true });
    this.host.share(track);
  }

  /** Whose screen is shown; null: nobody's. */
  get sharing(): string | null {
    return this.shows;
  }

  /** Hears, each 80 ms, what goes to a guest and what comes from them. */
  hearLevels(seat: GuestSeat, sentDb: number, cameDb: number): void {
    const held = [...this.held.values()].find(({ there }) => there.seat === seat);
    if (!held) return;
    const echoes = held.echo.hear(sentDb, cameDb);
    if (echoes === held.echoes) return;
    held.echoes = echoes;
    this.changed();
  }

  /** Has all pictures come smaller than they are drawn, or as large again: what is smaller is made with less work. */
  setSmaller(smaller: boolean): void {
    this.smaller = smaller;
    this.fit();
  }

  /** Has pictures come as tall as they are drawn. */
  fit(): void {
    for (const held of this.held.values()) {
      const drawn = (this.host.drawnHeight(held.there.seat) ?? 0) * (this.smaller ? SMALLER : 1);
      const height = Math.max(BENCH_HEIGHT, Math.round(drawn));
      if (height === held.height || !held.there.connected) continue;
      held.height = height;
      this.host.say({ type: 'guest', id: held.there.id, order: { does: 'size', height } });
    }
  }

  get all(): StageGuest[] {
    return [...this.held.values()]
      .sort((a, b) => a.there.seat.localeCompare(b.there.seat))
      .map(({ there, linked, stream, line, facts, echoes }) => ({
        ...there,
        ...{ linked, line, echoes, camera: there.ownCamera ? stream : null },
        lineWords: sayGuestLine(line, there.name, { uplinkKbps: there.uplinkKbps ?? facts?.uplinkKbps ?? null }),
      }));
  }

  close(): void {
    clearInterval(this.timer);
    for (const { link } of this.held.values()) link?.close();
    this.held.clear();
  }

  private hearGuests(guests: readonly GuestThere[]): void {
    for (const there of guests) {
      const known = this.held.get(there.id);
      if (known) {
        // A guest who is there again has a picture that is to be asked for anew.
        if (there.connected && !known.there.connected) known.height = 0;
        const hid = known.there.ownCamera !== there.ownCamera;
        known.there = there;
        if (hid) this.seat(known);
      } else this.held.set(there.id, blank(there));
      const restore = this.isToRestore(there.id);
      this.toRestore.ids.delete(there.id);
      // The server that knew it may have been ended, with all that it knew.
      if (restore && !there.broughtIn && there.connected) this.order(there.id, { does: 'bring in' });
      else if (there.broughtIn) this.broughtIn.add(there.id);
      else this.broughtIn.delete(there.id);
    }
    for (const [id, held] of this.held) {
      // Picture and voice do not pass by the server: whoever is on the way back to it is still here.
      if (guests.some((each) => each.id === id) || this.isToRestore(id)) continue;
      this.held.delete(id);
      this.broughtIn.delete(id);
      this.drop(held);
    }
    const offers = this.shows !== null && this.held.get(this.shows)?.there;
    if (this.shows !== null && (!offers || !offers.offersShare)) {
      this.shows = null;
      this.host.share(null);
    }
    this.changed();
    this.fit();
  }

  private isToRestore(id: string): boolean {
    return this.toRestore.ids.has(id) && performance.now() < this.toRestore.until;
  }

  private hearSignal(from: string, data: GuestSignal): void {
    const held = this.held.get(from);
    if (!held) return;
    held.link ??= this.linkTo(held);
    held.link.hear(data);
  }

  private linkTo(held: Held): GuestLink {
    const { id, seat } = held.there;
    return new StageEnd(
      () => this.ways,
      { sound: this.host.returnSound(seat), picture: () => (held.there.seesReturn ? null : this.host.returnPicture()) },
      {
        send: (data) => this.host.say({ type: 'guestSignal', to: id, data }),
        came: ({ camera, voice, share }) => {
          Object.assign(held, { camera, share, stream: new MediaStream([camera]), height: 0 });
          this.host.voice(seat, voice);
          this.seat(held);
          this.changed();
          this.fit();
        },
        connected: (linked) => {
          held.linked = linked;
          this.changed();
        },
      },
    );
  }

  /** A camera that its guest has switched off leaves no last picture standing. */
  private seat({ there, camera }: Held): void {
    this.host.seat(there.seat, there.ownCamera ? camera : null);
  }

  private drop({ there, link }: Held): void {
    link?.close();
    this.host.seat(there.seat, null);
    this.host.voice(there.seat, null);
  }

  private async measure(): Promise<void> {
    let news = false;
    for (const held of this.held.values()) {
      if (!held.link || !held.there.connected) continue;
      const facts = await held.link.facts().catch(() => null);
      if (!facts) continue;
      held.facts = facts;
      const { ownCamera, ownMicrophone } = held.there;
      const line = held.lineWatch.hear({
        ...facts,
        picture: ownCamera ? facts.picture : null,
        soundLost: ownMicrophone ? facts.soundLost : null,
        uplinkKbps: held.there.uplinkKbps,
      });
      news ||= line !== held.line;
      held.line = line;
    }
    if (news) this.changed();
  }

  private changed(): void {
    this.host.changed(this.all);
  }
}

const blank = (there: GuestThere): Held => ({
  ...{ there, link: null, linked: false, camera: null, share: null, stream: null, facts: null },
  ...{ line: 'good', lineWatch: new GuestLineWatch(), echo: new EchoWatch(), echoes: false, height: 0 },
});
