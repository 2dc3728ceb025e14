// The green rooms of shows: guests come in here with their passes, are introduced to the stage, and wait. Their pictures and voices go from browser
// to browser; what passes here is who they are, what is said about them, and the programme as one picture for all of them.
import {
  PASS_ENDED,
  PIECE_HEAD_BYTES,
  PLACE_TAKEN,
  type FromGuest,
  type GuestOrder,
  type GuestSignal,
  type GuestThere,
  type ServerMessage,
  type ToGuest,
} from '@lantern/contract';
import { GUEST_SEATS, guestPlace, LONGEST_NOTE, type GuestSeat, type InProgramme } from '@lantern/core';
import { Logger } from '@nestjs/common';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import type { GuestAnswered } from '../air-wire/messages';
import { WireTrouble } from '../air-wire/wire';
import { Clock } from '../foundation/clock';
import { digestOf } from '../foundation/digest';
import { letGo } from '../foundation/let-go';
import type { Settings } from '../foundation/settings';
import type { Carrier } from './carrier';
import type { Desk } from './desk';
import { knocked, pathOf } from './knocking';
import { waysThrough } from './ways-through';

const PATH = /^\/api\/green-room\/([0-9a-f-]{36})$/;
const PAGE = /^[0-9a-zA-Z-]{8,64}$/;
/** A description of a connection with all its candidates is some ten thousand characters. */
const MOST_BYTES = 64_000;
const HELLO_WITHIN_MS = 10_000;
const BEAT_EVERY_MS = 5_000;
const LOOK_EVERY_MS = 500;
const BACKLOG_BYTES = 500_000;
/** Beyond this a guest’s line is too slow for the return: its pictures are left out, up to a key frame. */
const RETURN_BACKLOG_BYTES = 150_000;
/** What a page may say: so many at once, and so many a second. */
const BURST = 250;
const A_SECOND = 40;
const NOTE_EVERY_MS = 800;
/** What one guest may have handed on to the stage to be introduced: an offer is some eight thousand characters. What is beyond is left out: it must never hold up the stage’s own line. */
const MOST_SIGNAL = 24_000;
const SIGNALS_AT_ONCE = 120_000;
const SIGNALS_A_SECOND = 12_000;
/** Said again after so long although nothing has changed: a page that hears nothing knows that its line is broken. */
const SAID_AGAIN_MS = 2_000;
const MOST_UPLINK_KBPS = 10_000_000;
/** Wrong passes from one address, a minute. */
const MOST_WRONG = 20;
const WRONG_FOR_MS = 60_000;
const MOST_BLOCKS = 10_000;
/** The place of somebody who is gone is kept for so long. */
const KEPT_MS = 2 * 3_600_000;

/** A stage that can take guests in. */
export interface RoomStage {
  /** Names this load of its page: a page that was loaded anew is to be spoken with anew. */
  page: string;
  /** Whose guests come to it. */
  showId: string;
  /** The show that it makes: that one, or a rehearsal of it. */
  makes: string;
  name: string;
  send(message: ServerMessage): void;
  /** Whether it has the show that is on air. */
  holds(): boolean;
  /** Whether it is being handed to it: guests speak with it as well then. */
  takesOver(): boolean;
}

interface Device {
  socket: WebSocket;
  page: string;
  block: string;
  alive: boolean;
  soundOnly: boolean;
  /** Whether it can show the return as pictures from here. */
  seesReturn: boolean;
  /** Up to the next key frame nothing is sent. */
  waitsForKey: boolean;
  told: string;
  toldAt: number;
  /** How much more it may have handed on at this moment. */
  signals: number;
  signalsAt: number;
}

interface Place {
  guest: GuestAnswered;
  pass: string;
  seat: GuestSeat;
  device: Device | null;
  broughtIn: boolean;
  muted: boolean;
  inProgramme: InProgramme;
  own: { microphone: boolean; camera: boolean; offersShare: boolean; uplinkKbps: number | null };
  says: string;
  saysAt: number;
  goneAt: number | null;
}

interface Room {
  showId: string;
  stages: RoomStage[];
  stage: RoomStage | null;
  /** The stage to which the show is being handed over. */
  coming: RoomStage | null;
  places: Map<string, Place>;
  told: string;
  toldDesk: string;
}

export class GreenRooms {
  private readonly log = new Logger('green room');
  /** What guests go by is what the planning server goes by. */
  private readonly clock = new Clock();
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: MOST_BYTES, perMessageDeflate: false });
  private readonly rooms = new Map<string, Room>();
  private readonly open = new Set<{ socket: WebSocket; block: string }>();
  private readonly wrong = new Map<string, { count: number; since: number }>();
  private readonly timers: NodeJS.Timeout[];

  constructor(
    private readonly carrier: Carrier,
    private readonly desk: Desk,
    private readonly settings: Settings,
  ) {
    this.timers = [setInterval(() => this.lookAll(), LOOK_EVERY_MS), setInterval(() => this.beat(), BEAT_EVERY_MS)];
  }

  takes(request: IncomingMessage): boolean {
    return PATH.test(pathOf(request));
  }

  close(): void {
    for (const timer of this.timers) clearInterval(timer);
    for (const { socket } of this.open) socket.close(1001);
    this.sockets.close();
  }

  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    const knock = knocked(request, socket, PATH, this.settings, (block) => [...this.open].filter((each) => each.block === block).length);
    if (!knock) return;
    const { showId, block, refuse } = knock;
    if (this.triedTooOften(block)) return refuse('429 Too Many Requests');
    this.sockets.handleUpgrade(request, socket, head, (webSocket) => this.greet(webSocket, showId, block));
  }

  // ---- the stage's side

  /** A stage can take guests in from now on. */
  stageOffers(stage: RoomStage): void {
    const room = this.room(stage.showId);
    room.stages = [...room.stages.filter(({ page }) => page !== stage.page), stage];
    room.told = '';
    this.tellWays(stage);
    // The same page on a new socket goes on with the connections that it has.
    if (room.stage?.page === stage.page) room.stage = stage;
    this.look(room);
  }

  stageGone(stage: RoomStage): void {
    const room = this.rooms.get(stage.showId);
    if (!room) return;
    room.stages = room.stages.filter((each) => each !== stage);
    this.look(room);
  }

  /** What a stage wants of one guest. Only the stage that speaks with them is heard. */
  order(stage: RoomStage, id: string, order: GuestOrder): void {
    const room = this.rooms.get(stage.showId);
    const place = room?.places.get(id);
    if (!room || !place || !speaks(room, stage)) return;
    // Whoever is only about to have the stage asks for pictures as tall as it draws them, and for nothing else.
    if (room.stage?.page !== stage.page && order.does !== 'size') return;
    switch (order.does) {
      case 'bring in':
      case 'take off':
        place.broughtIn = order.does === 'bring in';
        break;
      case 'mute':
      case 'unmute':
        place.muted = order.does === 'mute';
        break;
      case 'note':
        if (typeof order.words === 'string') this.send(place, { type: 'note', words: plain(order.words), from: stage.name });
        break;
      case 'share':
        this.send(place, { type: 'share', wanted: order.wanted === true });
        break;
      case 'size':
        if (Number.isFinite(order.height)) this.send(place, { type: 'size', from: stage.page, height: Math.max(90, Math.min(1080, Math.round(order.height))) });
    }
    this.look(room);
  }

  signal(stage: RoomStage, id: string, data: GuestSignal): void {
    const room = this.rooms.get(stage.showId);
    const place = room?.places.get(id);
    if (room && place && speaks(room, stage)) this.send(place, { type: 'signal', from: stage.page, data });
  }

  /** What of each guest is in the programme, as the stage makes it. */
  inProgramme(stage: RoomStage, all: unknown): void {
    const room = this.rooms.get(stage.showId);
    if (!room || room.stage?.page !== stage.page || typeof all !== 'object' || all === null) return;
    for (const [id, place] of room.places) {
      const { onScene, onNext } = ((all as Record<string, unknown>)[id] ?? {}) as Partial<InProgramme>;
      place.inProgramme = { broughtIn: place.broughtIn, onScene: onScene === true, onNext: onNext === true };
    }
    this.look(room);
  }

  /** One picture of the programme, for all guests of the show. */
  returnPicture(stage: RoomStage, message: Buffer): void {
    const room = this.rooms.get(stage.showId);
    if (room?.stage?.page !== stage.page) return;
    const isKey = message.readUInt32BE(4) === 1;
    const picture = message.subarray(PIECE_HEAD_BYTES - 4);
    for (const { device } of room.places.values()) {
      if (!device?.seesReturn || device.socket.readyState !== device.socket.OPEN) continue;
      if (device.socket.bufferedAmount > RETURN_BACKLOG_BYTES) device.waitsForKey = true;
      else if (isKey) device.waitsForKey = false;
      if (!device.waitsForKey) device.socket.send(picture);
    }
  }

  /** Who has the stage of a show has changed, or is about to. */
  lookAt(showId: string): void {
    const room = this.rooms.get(showId);
    if (room) this.look(room);
  }

  /** A pass was withdrawn. */
  ended(guestId: string): void {
    for (const room of this.rooms.values()) {
      const place = room.places.get(guestId);
      if (!place) continue;
      room.places.delete(guestId);
      place.device?.socket.close(PASS_ENDED);
      this.look(room);
    }
  }

  // ---- the guests' side

  private greet(socket: WebSocket, showId: string, block: string): void {
    const entry = { socket, block };
    this.open.add(entry);
    let place: Place | null = null;
    let device: Device | null = null;
    let left = BURST;
    let at = Date.now();
    let asks = Promise.resolve();
    const waits = setTimeout(() => !device && socket.close(1008), HELLO_WITHIN_MS);
    socket.on('error', (error) => this.log.warn(`a guest's socket failed: ${error.message}`));
    socket.on('pong', () => device && (device.alive = true));
    socket.on('close', () => {
      clearTimeout(waits);
      this.open.delete(entry);
      if (place && device && place.device === device) this.gone(showId, place);
    });
    socket.on('message', (data, isBinary) => {
      left = Math.min(BURST, left + ((Date.now() - at) * A_SECOND) / 1_000) - 1;
      at = Date.now();
      // Whoever floods is hung up on; their page comes back, and says less.
      if (left < 0 || isBinary) return socket.close(1008);
      const message = read(String(data));
      if (!message) return socket.close(1007);
      if (message.type !== 'hello') {
        if (place && device && place.device === device) this.hear(this.room(showId), place, message, String(data).length);
        return;
      }
      if (!PAGE.test(String(message.page)) || typeof message.pass !== 'string') return socket.close(1007);
      const asked = { socket, page: message.page, block, alive: true, soundOnly: message.soundOnly === true, seesReturn: message.seesReturn === true };
      asks = asks.then(async () => {
        if (device) return;
        const came = await this.letIn(showId, message, { ...asked, waitsForKey: true, told: '', toldAt: 0, signals: SIGNALS_AT_ONCE, signalsAt: Date.now() });
        if (!came) return;
        clearTimeout(waits);
        if (socket.readyState !== socket.OPEN) return;
        [place, device] = [came, came.device];
      });
      letGo('letting a guest in', asks);
    });
  }

  /** Null: not let in, or not yet. */
  private async letIn(showId: string, { pass, takeOver }: Extract<FromGuest, { type: 'hello' }>, device: Device): Promise<Place | null> {
    const tell = (message: ToGuest) => device.socket.readyState === device.socket.OPEN && device.socket.send(JSON.stringify(message));
    const guest = await this.whose(pass, showId);
    if (guest === 'nobody can be asked') {
      tell({ type: 'refused', words: 'The server is being started anew. You are let in as soon as it is there.' });
      device.socket.close(1013);
      return null;
    }
    if (!guest) {
      this.noteWrong(device.block);
      device.socket.close(PASS_ENDED);
      return null;
    }
    if (device.socket.readyState !== device.socket.OPEN) return null;
    const room = this.room(showId);
    const known = room.places.get(guest.id);
    const before = known?.device;
    if (before && before.page !== device.page && takeOver !== true) {
      tell({ type: 'elsewhere' });
      return null;
    }
    const seat = known?.seat ?? this.freeSeat(room);
    if (!seat) {
      tell({ type: 'refused', words: `The green room is full: ${GUEST_SEATS.length} guests are there. Ask the host to let somebody go first.` });
      device.socket.close(1013);
      return null;
    }
    if (before) {
      if (before.page !== device.page) before.socket.send(JSON.stringify({ type: 'taken' } satisfies ToGuest));
      before.socket.close(PLACE_TAKEN);
    }
    const fresh = { broughtIn: false, muted: false, inProgramme: { broughtIn: false, onScene: false, onNext: false }, says: '', saysAt: 0 };
    const place: Place = {
      ...(known ?? fresh),
      ...{
        guest,
        pass: digestOf(pass),
        seat,
        device,
        goneAt: null,
        own: { microphone: true, camera: !device.soundOnly, offersShare: false, uplinkKbps: null },
      },
    };
    room.places.set(guest.id, place);
    this.tellStage(place, room);
    if (room.stage) this.tellWays(room.stage);
    if (device.seesReturn) room.stage?.send({ type: 'returnKey' });
    this.look(room);
    return place;
  }

  /** Who has a pass; while the planning server is gone, whoever was here with it before. */
  private async whose(pass: string, showId: string): Promise<GuestAnswered | null | 'nobody can be asked'> {
    try {
      return await this.desk.guest(pass, showId);
    } catch (error) {
      if (!(error instanceof WireTrouble)) throw error;
      const known = [...(this.rooms.get(showId)?.places.values() ?? [])].find((place) => place.pass === digestOf(pass));
      return known?.guest ?? 'nobody can be asked';
    }
  }

  private hear(room: Room, place: Place, message: Exclude<FromGuest, { type: 'hello' }>, length: number): void {
    switch (message.type) {
      case 'signal':
        if (mayBeHandedOn(place.device, length))
          [room.stage, room.coming].find((each) => each?.page === message.to)?.send({ type: 'guestSignal', from: place.guest.id, data: message.data });
        return;
      case 'own': {
        const { microphone, camera, offersShare, uplinkKbps } = message;
        place.own = {
          ...{ microphone: microphone === true, camera: camera === true, offersShare: offersShare === true },
          uplinkKbps: typeof uplinkKbps === 'number' && Number.isFinite(uplinkKbps) ? Math.max(0, Math.min(MOST_UPLINK_KBPS, Math.round(uplinkKbps))) : null,
        };
        break;
      }
      case 'note': {
        const now = Date.now();
        if (now - place.saysAt < NOTE_EVERY_MS || typeof message.words !== 'string') return;
        Object.assign(place, { says: plain(message.words), saysAt: now });
        break;
      }
      case 'leave':
        place.broughtIn = false;
        place.device?.socket.close(1000);
        return;
      default:
        return;
    }
    this.look(room);
  }

  private gone(showId: string, place: Place): void {
    place.device = null;
    place.goneAt = Date.now();
    this.look(this.room(showId));
  }

  private freeSeat(room: Room): GuestSeat | null {
    const taken = new Set([...room.places.values()].map(({ seat }) => seat));
    const free = GUEST_SEATS.find((seat) => !taken.has(seat));
    if (free) return free;
    // Whoever has been gone for the longest, and is not in the programme, makes room.
    const [gone] = [...room.places.values()].filter(({ device, broughtIn }) => !device && !broughtIn).sort((a, b) => (a.goneAt ?? 0) - (b.goneAt ?? 0));
    if (!gone) return null;
    room.places.delete(gone.guest.id);
    return gone.seat;
  }

  private room(showId: string): Room {
    let room = this.rooms.get(showId);
    if (!room) this.rooms.set(showId, (room = { showId, stages: [], stage: null, coming: null, places: new Map(), told: '', toldDesk: '[]' }));
    return room;
  }

  private lookAll(): void {
    const now = Date.now();
    for (const room of this.rooms.values()) {
      for (const [id, { device, goneAt }] of room.places) if (!device && goneAt !== null && now - goneAt > KEPT_MS) room.places.delete(id);
      this.look(room);
      if (!room.places.size && !room.stages.length) this.rooms.delete(room.showId);
    }
  }

  /** Has everybody know what has changed: the stage, the guests, the planning server. */
  private look(room: Room): void {
    const stage = room.stages.find((each) => each.holds()) ?? (room.stage && room.stages.includes(room.stage) ? room.stage : (room.stages.at(-1) ?? null));
    const coming = room.stages.find((each) => each.page !== stage?.page && each.takesOver()) ?? null;
    if (stage?.page !== room.stage?.page) {
      const before = room.stage;
      Object.assign(room, { stage, coming, told: '' });
      for (const place of room.places.values()) {
        this.tellStage(place, room);
        // From another stage pictures begin with a key frame of its own.
        if (place.device) place.device.waitsForKey = true;
      }
      stage?.send({ type: 'returnKey' });
      // Guests have gone over: whoever looks on has none.
      if (before && room.stages.includes(before)) before.send({ type: 'guests', guests: [] });
    } else if (coming?.page !== room.coming?.page) {
      const before = room.coming;
      Object.assign(room, { coming, told: '' });
      for (const place of room.places.values()) this.tellStage(place, room);
      if (before && room.stages.includes(before)) before.send({ type: 'guests', guests: [] });
    }
    Object.assign(room, { stage, coming });
    const out = this.whereItGoes(room);
    const placeOf = (place: Place) => guestPlace({ ...place.inProgramme, broughtIn: place.broughtIn && !!place.device }, out);
    const guests = [...room.places.values()].map((place): GuestThere => {
      const { guest, seat, device, broughtIn, muted, own, says, saysAt } = place;
      return {
        ...{ id: guest.id, name: guest.name, caption: guest.caption, seat, connected: device !== null, broughtIn, muted, says, saysAt },
        ...{ ownMicrophone: own.microphone, ownCamera: own.camera, offersShare: own.offersShare, uplinkKbps: own.uplinkKbps },
        ...{ soundOnly: device?.soundOnly ?? false, seesReturn: device?.seesReturn ?? true, place: placeOf(place) },
      };
    });
    const told = JSON.stringify(guests);
    if (told !== room.told) for (const each of [stage, coming]) each?.send({ type: 'guests', guests });
    room.told = told;
    const show = stage && this.carrier.show(stage.makes);
    for (const place of room.places.values()) {
      const others = [...room.places.values()]
        .filter((other) => other !== place && other.device)
        .map((other) => ({ name: other.guest.name, place: placeOf(other) }));
      const view = {
        ...{ name: place.guest.name, caption: place.guest.caption, place: placeOf(place), muted: place.muted, others, host: stage?.name ?? null },
        ...{ onAir: show !== null, rehearsal: show?.isRehearsal ?? false },
      };
      const said = JSON.stringify(view);
      const now = Date.now();
      if (!place.device || (place.device.told === said && now - place.device.toldAt < SAID_AGAIN_MS)) continue;
      Object.assign(place.device, { told: said, toldAt: now });
      this.send(place, { type: 'room', room: { ...view, now: this.clock.now() } });
    }
    const here = guests
      .filter(({ connected }) => connected)
      .map(({ id, place }) => ({ id, place: place === 'on air' ? ('on air' as const) : ('green room' as const) }));
    const toldDesk = JSON.stringify(here);
    if (toldDesk !== room.toldDesk) this.desk.tellGuests({ showId: room.showId, guests: here });
    room.toldDesk = toldDesk;
  }

  /** The planning server has come back, and knows nothing of who is here. */
  deskCame(): void {
    for (const room of this.rooms.values()) {
      room.toldDesk = '';
      this.look(room);
    }
  }

  private whereItGoes({ stage }: Room): 'public' | 'recorded' | 'nowhere' {
    const show = stage && this.carrier.show(stage.makes);
    if (!show || !stage.holds() || show.source !== 'stage') return 'nowhere';
    return show.isRehearsal ? 'recorded' : 'public';
  }

  private tellStage(place: Place, { stage, coming }: Room): void {
    const ways = waysThrough(this.settings, place.guest.id, Date.now());
    this.send(place, { type: 'stage', page: stage?.page ?? null, coming: coming?.page ?? null, ways, relayOnly: this.settings.relayOnly });
  }

  /** Said again whenever somebody comes: what lets one through a relay is good for some hours. */
  private tellWays(stage: RoomStage): void {
    stage.send({ type: 'guestWays', ways: waysThrough(this.settings, stage.page, Date.now()), relayOnly: this.settings.relayOnly });
  }

  private send({ device }: Place, message: ToGuest): void {
    if (!device || device.socket.readyState !== device.socket.OPEN) return;
    if (device.socket.bufferedAmount > BACKLOG_BYTES) return device.socket.terminate();
    device.socket.send(JSON.stringify(message));
  }

  private beat(): void {
    for (const room of this.rooms.values()) {
      for (const place of room.places.values()) {
        const { device } = place;
        if (!device) continue;
        if (!device.alive) {
          device.socket.terminate();
          continue;
        }
        device.alive = false;
        device.socket.ping();
      }
    }
  }

  /** Somebody goes by another name on the strap. */
  renamed(guestId: string, by: Pick<GuestAnswered, 'name' | 'caption'>): void {
    for (const room of this.rooms.values()) {
      const place = room.places.get(guestId);
      if (!place) continue;
      place.guest = { ...place.guest, ...by };
      this.look(room);
    }
  }

  private triedTooOften(block: string): boolean {
    const known = this.wrong.get(block);
    return known !== undefined && known.count >= MOST_WRONG && Date.now() - known.since < WRONG_FOR_MS;
  }

  private noteWrong(block: string): void {
    const known = this.wrong.get(block);
    if (known && Date.now() - known.since < WRONG_FOR_MS) known.count++;
    else this.wrong.set(block, { count: 1, since: Date.now() });
    if (this.wrong.size > MOST_BLOCKS) this.wrong.delete(this.wrong.keys().next().value!);
  }
}

/** Whether guests are introduced to a stage. */
const speaks = ({ stage: has, coming }: Room, { page }: RoomStage): boolean => has?.page === page || coming?.page === page;

/** Whether a signal of that many characters still fits into what one guest may have handed on. */
function mayBeHandedOn(device: Device | null, length: number): boolean {
  if (!device || length > MOST_SIGNAL) return false;
  const now = Date.now();
  device.signals = Math.min(SIGNALS_AT_ONCE, device.signals + ((now - device.signalsAt) / 1_000) * SIGNALS_A_SECOND);
  device.signalsAt = now;
  if (device.signals < length) return false;
  device.signals -= length;
  return true;
}

/** Words alone: no line breaks, nothing that is not seen. */
const plain = (words: string): string =>
  words
    .replace(/[\u0000-\u001f\u007f]+/g, ' ')
    .trim()
    .slice(0, LONGEST_NOTE);

function read(text: string): FromGuest | null {
  try {
    const message = JSON.parse(text) as FromGuest | null;
    return typeof message === 'object' && message !== null && typeof message.type === 'string' ? message : null;
  } catch {
    return null;
  }
}
