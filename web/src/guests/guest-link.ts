// How a guest's picture and voice travel to the stage, and the programme's sound back. The stage and the green room know no more of it than these two
// interfaces: a server that forwards could take the place of browser to browser (docs/guests.md).
import type { GuestSignal, WayThrough } from '@lantern/contract';

/** What was measured of a connection over the last second. Rates in kbit/s; null: nothing of that kind is sent, or it is not known. */
export interface LinkFacts {
  connected: boolean;
  picture: { kbps: number; fps: number; height: number } | null;
  soundLost: number | null;
  roundTripMs: number | null;
  /** What one's own uplink gives. */
  uplinkKbps: number | null;
}

/** The stage's end of one guest. */
export interface GuestLink {
  /** Takes what came from the guest's end. */
  hear(signal: GuestSignal): void;
  facts(): Promise<LinkFacts>;
  close(): void;
}

export interface GuestLinkEvents {
  send(signal: GuestSignal): void;
  /** The guest's picture, voice and screen; each comes once a connection, and may be silent. */
  came(tracks: { camera: MediaStreamTrack; voice: MediaStreamTrack; share: MediaStreamTrack }): void;
  connected(yes: boolean): void;
}

export interface Ways {
  servers: readonly WayThrough[];
  /** Only by a relay: nobody learns where the other is. */
  relayOnly: boolean;
}

const configurationOf = ({ servers, relayOnly }: Ways): RTCConfiguration => ({
  iceServers: servers.map((each) => ({ ...each })),
  iceTransportPolicy: relayOnly ? 'relay' : 'all',
  bundlePolicy: 'max-bundle',
});

/** In this order in every connection, the programme's picture after them (the guest's end offers them). */
const VOICE = 0;
const CAMERA = 1;
const SHARE = 2;

/** Enough for a picture of 640 by 360 that moves, in bit/s. */
const CAMERA_BPS = 900_000;
const SHARE_BPS = 1_500_000;
/** A connection that is lost is made anew after so long, and one that does not come about as well. */
const LOST_MS = 2_500;
const COMES_WITHIN_MS = 8_000;

/** What stands behind both ends: signals one after the other, and figures from what was counted before. */
abstract class End {
  protected connection: RTCPeerConnection | null = null;
  protected line = 0;
  private turn: Promise<unknown> = Promise.resolve();
  private before: Counted | null = null;

  protected abstract say(signal: GuestSignal): void;

  protected open(ways: Ways): RTCPeerConnection {
    const made = new RTCPeerConnection(configurationOf(ways));
    const { line } = this;
    made.onicecandidate = ({ candidate }) => {
      if (this.connection !== made) return;
      const { candidate: words = '', sdpMid = null, sdpMLineIndex = null } = candidate ?? {};
      this.say({ line, candidate: candidate && { candidate: words, sdpMid, sdpMLineIndex } });
    };
    this.connection = made;
    this.before = null;
    return made;
  }

  /** One after the other: a candidate waits for the description that it belongs to. */
  protected inTurn(work: () => Promise<void>): void {
    this.turn = this.turn.then(work).catch(() => undefined);
  }

  protected addCandidate({ candidate }: Extract<GuestSignal, { candidate: unknown }>): void {
    const { connection } = this;
    this.inTurn(async () => {
      if (connection && connection === this.connection) await connection.addIceCandidate(candidate ?? undefined);
    });
  }

  protected shut(): void {
    const { connection } = this;
    this.connection = null;
    if (!connection) return;
    connection.onconnectionstatechange = connection.onicecandidate = connection.ontrack = null;
    connection.close();
  }

  async facts(): Promise<LinkFacts> {
    const { connection } = this;
    const none = { connected: false, picture: null, soundLost: null, roundTripMs: null, uplinkKbps: null };
    if (!connection) return none;
    const counted = countedIn(await connection.getStats());
    const { before } = this;
    this.before = counted;
    const seconds = before ? (counted.at - before.at) / 1_000 : 0;
    const { video, audio, roundTripMs, uplinkKbps } = counted;
    const connected = connection.connectionState === 'connected';
    if (!before || seconds <= 0) return { ...none, connected, roundTripMs, uplinkKbps };
    const lost = audio && before.audio ? Math.max(0, audio.lost - before.audio.lost) : 0;
    const got = audio && before.audio ? Math.max(0, audio.got - before.audio.got) : 0;
    return {
      ...{ connected, roundTripMs, uplinkKbps },
      picture: video && {
        kbps: (Math.max(0, video.bytes - (before.video?.bytes ?? 0)) * 8) / 1_000 / seconds,
        fps: Math.max(0, video.frames - (before.video?.frames ?? 0)) / seconds,
        height: video.height,
      },
      soundLost: got + lost > 0 ? lost / (got + lost) : null,
    };
  }
}

interface Counted {
  at: number;
  video: { bytes: number; frames: number; height: number } | null;
  audio: { lost: number; got: number } | null;
  roundTripMs: number | null;
  uplinkKbps: number | null;
}

/** By the names of “Identifiers for WebRTC's Statistics API” (W3C). */
function countedIn(report: RTCStatsReport): Counted {
  const found: Counted = { at: performance.now(), video: null, audio: null, roundTripMs: null, uplinkKbps: null };
  for (const each of report.values() as Iterable<Record<string, unknown>>) {
    const number = (name: string) => (typeof each[name] === 'number' ? each[name] : 0);
    if (each.type === 'inbound-rtp' && each.kind === 'video' && each.mid === String(CAMERA))
      found.video = { bytes: number('bytesReceived'), frames: number('framesDecoded'), height: number('frameHeight') };
    if (each.type === 'inbound-rtp' && each.kind === 'audio')
      found.audio = { lost: number('packetsLost') + number('packetsDiscarded'), got: number('packetsReceived') };
    if (each.type === 'candidate-pair' && each.nominated === true && each.state === 'succeeded') {
      if ('currentRoundTripTime' in each) found.roundTripMs = number('currentRoundTripTime') * 1_000;
      if ('availableOutgoingBitrate' in each) found.uplinkKbps = number('availableOutgoingBitrate') / 1_000;
    }
  }
  return found;
}

/** The stage's end: answers whatever the guest's end offers, as often as it does. */
export class StageEnd extends End implements GuestLink {
  constructor(
    private readonly ways: () => Ways,
    private readonly returns: { sound: MediaStreamTrack; picture: () => MediaStreamTrack | null },
    private readonly events: GuestLinkEvents,
  ) {
    super();
  }

  protected say(signal: GuestSignal): void {
    this.events.send(signal);
  }

  hear(signal: GuestSignal): void {
    if ('sdp' in signal) {
      if (signal.sdp.type === 'offer' && signal.line !== this.line) this.answer(signal);
    } else if (signal.line === this.line) this.addCandidate(signal);
  }

  private answer({ line, sdp }: Extract<GuestSignal, { sdp: unknown }>): void {
    this.shut();
    this.events.connected(false);
    this.line = line;
    const made = this.open(this.ways());
    made.onconnectionstatechange = () => this.connection === made && this.events.connected(made.connectionState === 'connected');
    this.inTurn(async () => {
      if (this.connection !== made) return;
      await made.setRemoteDescription(sdp);
      const [voice, camera, share, picture] = made.getTransceivers();
      if (!voice || !camera || !share || !picture) return;
      voice.direction = 'sendrecv';
      await voice.sender.replaceTrack(this.returns.sound);
      const track = this.returns.picture();
      picture.direction = track ? 'sendonly' : 'inactive';
      await picture.sender.replaceTrack(track);
      await made.setLocalDescription();
      this.say({ line, sdp: { type: 'answer', sdp: made.localDescription!.sdp } });
      this.events.came({ voice: voice.receiver.track, camera: camera.receiver.track, share: share.receiver.track });
    });
  }

  close(): void {
    this.shut();
  }
}

export interface OwnTracks {
  voice: MediaStreamTrack | null;
  camera: MediaStreamTrack | null;
  share: MediaStreamTrack | null;
}

export interface GuestEndEvents {
  send(signal: GuestSignal): void;
  returns(tracks: { sound: MediaStreamTrack; picture: MediaStreamTrack }): void;
  connected(yes: boolean): void;
}

/** The guest's end: offers, and offers anew whenever the connection is lost or the stage is another. */
export class GuestEnd extends End {
  private own: OwnTracks = { voice: null, camera: null, share: null };
  private ways: Ways | null = null;
  private wanted = false;
  private timer = 0;
  private height = 0;

  constructor(private readonly events: GuestEndEvents) {
    super();
    // A guest that was loaded anew is told from the one before.
    this.line = Math.floor(Math.random() * 1_000_000_000);
  }

  protected say(signal: GuestSignal): void {
    this.events.send(signal);
  }

  /** Speaks with the stage from now on, by a new connection. */
  connect(ways: Ways): void {
    this.ways = ways;
    this.wanted = true;
    this.offer();
  }

  disconnect(): void {
    this.wanted = false;
    clearTimeout(this.timer);
    this.shut();
    this.events.connected(false);
  }

  hear(signal: GuestSignal): void {
    const { connection } = this;
    if (!connection || signal.line !== this.line) return;
    if ('candidate' in signal) return this.addCandidate(signal);
    this.inTurn(async () => {
      if (this.connection === connection && connection.signalingState === 'have-local-offer') await connection.setRemoteDescription(signal.sdp);
    });
  }

  /** What is sent from now on; null: nothing. */
  send(own: Partial<OwnTracks>): void {
    this.own = { ...this.own, ...own };
    const { connection } = this;
    this.inTurn(async () => {
      if (connection && connection === this.connection) await this.put(connection);
    });
  }

  /** A picture of this height is enough. */
  fit(height: number): void {
    this.height = height;
    this.send({});
  }

  private offer(): void {
    clearTimeout(this.timer);
    this.shut();
    if (!this.wanted || !this.ways) return;
    this.line++;
    const { line } = this;
    const made = this.open(this.ways);
    made.addTransceiver('audio', { direction: 'sendrecv' });
    made.addTransceiver('video', { direction: 'sendonly' });
    made.addTransceiver('video', { direction: 'sendonly' });
    made.addTransceiver('video', { direction: 'recvonly' });
    const again = () => this.connection === made && this.offer();
    this.timer = window.setTimeout(() => made.connectionState !== 'connected' && again(), COMES_WITHIN_MS);
    made.onconnectionstatechange = () => {
      if (this.connection !== made) return;
      const { connectionState: state } = made;
      this.events.connected(state === 'connected');
      if (state === 'connected') clearTimeout(this.timer);
      if (state === 'failed') again();
      if (state !== 'disconnected') return;
      clearTimeout(this.timer);
      this.timer = window.setTimeout(() => made.connectionState !== 'connected' && again(), LOST_MS);
    };
    this.inTurn(async () => {
      if (this.connection !== made) return;
      await this.put(made);
      await made.setLocalDescription();
      const [voice, , , picture] = made.getTransceivers();
      this.events.returns({ sound: voice!.receiver.track, picture: picture!.receiver.track });
      this.say({ line, sdp: { type: 'offer', sdp: made.localDescription!.sdp } });
    });
  }

  private async put(connection: RTCPeerConnection): Promise<void> {
    const all = connection.getTransceivers();
    const { voice, camera, share } = this.own;
    await all[VOICE]!.sender.replaceTrack(voice);
    await all[CAMERA]!.sender.replaceTrack(camera);
    await all[SHARE]!.sender.replaceTrack(share);
    const comes = camera?.getSettings().height ?? 0;
    const scale = this.height > 0 && comes > this.height ? comes / this.height : 1;
    await limit(all[CAMERA]!.sender, { maxBitrate: CAMERA_BPS, scaleResolutionDownBy: scale });
    await limit(all[SHARE]!.sender, { maxBitrate: SHARE_BPS });
  }
}

async function limit(sender: RTCRtpSender, to: Partial<RTCRtpEncodingParameters>): Promise<void> {
  const parameters = sender.getParameters();
  // Before anything was agreed upon, some browsers have none.
  if (!parameters.encodings?.length) return;
  parameters.encodings = parameters.encodings.map((each) => ({ ...each, ...to }));
  await sender.setParameters(parameters).catch(() => undefined);
}
