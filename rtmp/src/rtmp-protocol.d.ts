// The part of node-media-server's RTMP reader that is used here. The package ships no types.
declare module 'node-media-server/src/protocol/rtmp.js' {
  namespace Rtmp {
    interface Packet {
      /** 8 audio, 9 video, 18 script. */
      codec_type: number;
      dts: number;
      /** 2 for a video packet with the decoder's configuration. */
      flags: number;
      size: number;
      /** Reused by the reader: valid up to `size` and only during the call. */
      data: Buffer;
    }
  }
  class Rtmp {
    streamApp: string;
    streamName: string;
    streamId: number;
    onOutputCallback: (bytes: Buffer) => void;
    onConnectCallback: (request: unknown) => void;
    onPushCallback: () => void;
    onPlayCallback: () => void;
    onPacketCallback: (packet: Rtmp.Packet) => void;
    respondPublish: () => void;
    parserData(bytes: Buffer): string | null;
    /** By chunk stream, what is being received; each holds a buffer of its message's size. */
    inPackets: Map<number, { header: { length: number } }>;
    parserPacket: { header: { length: number } };
    /** Makes room for the message whose header has been read. */
    packetAlloc(): void;
    sendStatusMessage(streamId: number, level: string, code: string, description: string): void;
  }
  export = Rtmp;
}
declare module 'node-media-server/src/protocol/flv.js' {
  class Flv {
    static createHeader(audio: boolean, video: boolean): Buffer;
    static createMessage(packet: { codec_type: number; dts: number; size: number; data: Buffer }): Buffer;
  }
  export = Flv;
}
declare module 'node-media-server/src/protocol/amf.js' {
  export function decodeAmf0Data(bytes: Buffer): { cmd: string; dataObj?: Record<string, unknown> };
}
