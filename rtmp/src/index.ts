// One encoder's connection, read as RTMP: who it says it is, and the packets of its picture and sound. The wire format is
// node-media-server's reader; who may publish, and what becomes of it, is decided by whoever uses this. Source: Adobe's Real-Time Messaging
// Protocol (RTMP) specification 1.0.
import type { Socket } from 'node:net';
import Amf = require('node-media-server/src/protocol/amf.js');
import Flv = require('node-media-server/src/protocol/flv.js');
import Rtmp = require('node-media-server/src/protocol/rtmp.js');

/** The reader's mark on a video packet that carries no picture. */
const DECODER_CONFIGURATION = 2;
const KINDS: Record<number, RtmpPacket['kind'] | undefined> = { 8: 'audio', 9: 'video', 18: 'script' };
/** Whoever has not shown a key yet gets room for its commands, and no more. */
const BEFORE_A_KEY = { message: 64_000, streams: 8 };
/** A key frame of the largest picture there is; as many chunk streams as any encoder uses. */
const WITH_A_KEY = { message: 8_000_000, streams: 32 };
/** Whoever shows no key by then is hung up on. */
const KEY_MAY_TAKE_MS = 10_000;

/** `data`: the body as in an FLV tag, good only during the call. `configuration`: it carries the decoder's, and no picture. */
export interface RtmpPacket {
  kind: 'audio' | 'video' | 'script';
  configuration: boolean;
  timeMs: number;
  data: Buffer;
}

export interface Encoder {
  /** Hangs up, with a reason that encoders show. */
  refuse(why: string): void;
  pause(): void;
  resume(): void;
  hangUp(): void;
}

export interface EncoderListener {
  /** Looks at application and key; a string is the reason for refusing them. */
  admit(app: string, key: string): Promise<string | null>;
  /** It has been let in: what comes from now on is its picture. */
  begins(encoder: Encoder): void;
  packet(packet: RtmpPacket): void;
  /** The connection has ended; called once, also for those that were never let in. */
  gone(): void;
}

/** Reads one connection until it ends. Nothing that comes on it throws here. */
export function readEncoder(socket: Socket, listener: EncoderListener): void {
  const rtmp = new Rtmp();
  let admitted = false;
  let refused = false;
  bound(rtmp, () => (admitted ? WITH_A_KEY : BEFORE_A_KEY));
  const late = setTimeout(() => socket.destroy(), KEY_MAY_TAKE_MS);
  const startPublish = rtmp.respondPublish.bind(rtmp);
  const encoder: Encoder = {
    refuse: (why) => {
      refused = true;
      rtmp.sendStatusMessage(rtmp.streamId, 'error', 'NetStream.Publish.BadName', why);
      socket.end();
      socket.resume();
    },
    pause: () => void socket.pause(),
    resume: () => void socket.resume(),
    hangUp: () => void socket.destroy(),
  };
  rtmp.respondPublish = () => undefined; // Said only once the key has been looked at.
  rtmp.onOutputCallback = (bytes) => void socket.write(bytes);
  rtmp.onConnectCallback = () => undefined;
  rtmp.onPlayCallback = () => void socket.destroy(); // Nobody watches by RTMP here.
  rtmp.onPushCallback = () => {
    if (admitted || refused) return void socket.destroy();
    socket.pause();
    listener.admit(rtmp.streamApp, rtmp.streamName).then(
      (why) => {
        clearTimeout(late);
        if (socket.destroyed) return;
        if (why !== null) return encoder.refuse(why);
        admitted = true;
        startPublish();
        listener.begins(encoder);
        socket.resume();
      },
      () => socket.destroy(),
    );
  };
  rtmp.onPacketCallback = (packet) => {
    const kind = KINDS[packet.codec_type];
    if (!admitted || refused || !kind || packet.size === 0) return;
    const configuration = kind === 'video' && packet.flags === DECODER_CONFIGURATION;
    listener.packet({ kind, configuration, timeMs: packet.dts, data: packet.data.subarray(0, packet.size) });
  };
  socket.on('data', (bytes) => {
    try {
      if (rtmp.parserData(bytes) !== null) socket.destroy();
    } catch {
      socket.destroy(); // Not RTMP, or more than there is room for.
    }
  });
  socket.on('error', () => undefined);
  socket.on('close', () => {
    clearTimeout(late);
    listener.gone();
  });
}

/** A packet as one FLV tag with its back pointer. */
export const flvOf = ({ kind, timeMs, data }: RtmpPacket): Buffer =>
  Flv.createMessage({ codec_type: kind === 'audio' ? 8 : kind === 'video' ? 9 : 18, dts: timeMs, size: data.length, data });

/** The head of an FLV with picture and sound. */
export const flvHead = (): Buffer => Flv.createHeader(true, true);

/** What an encoder says of its picture in a script packet; null: nothing that is understood. */
export function factsOf({ data }: RtmpPacket): Record<string, unknown> | null {
  try {
    return Amf.decodeAmf0Data(data).dataObj ?? null;
  } catch {
    return null;
  }
}

/** Memory is taken when a header announces a message: announcing is free, so it is bounded before. */
function bound(rtmp: Rtmp, limits: () => typeof WITH_A_KEY): void {
  const allocate = rtmp.packetAlloc.bind(rtmp);
  rtmp.packetAlloc = () => {
    const { message, streams } = limits();
    if (rtmp.parserPacket.header.length > message || rtmp.inPackets.size > streams) throw new Error('more than there is room for');
    allocate();
  };
}
