// Tracks as streams of pictures (W3C MediaStreamTrack Insertable Media Processing). TypeScript's DOM
// library does not know the window form that Chromium offers.
declare class MediaStreamTrackProcessor<T> {
  constructor(init: { track: MediaStreamTrack; maxBufferSize?: number });
  readonly readable: ReadableStream<T>;
}
declare class MediaStreamTrackGenerator<T> extends MediaStreamTrack {
  constructor(init: { kind: 'audio' | 'video' });
  readonly writable: WritableStream<T>;
}
