// Sockets to networks (RFC 6455): opened with a token, read in batches, and never waited for without an end.
import { WebSocket } from 'ws';
import { AccessEnded, NetworkRefusal, NetworkSilence } from './connector';

const OPEN_MAY_TAKE_MS = 8_000;
const LARGEST_FRAME = 100_000; // bytes
/** A network that does not even ping for so long is silent. */
const SILENT_MS = 20_000;
/** What came and has not been taken yet; beyond that the network has to wait. */
const MOST_WAITING = 1_000;

export class NetworkSocket {
  private waiting: string[] = [];
  private wake: () => void = () => undefined;
  private heardAt = performance.now();
  private closed = false;

  /** What comes from the first moment on is kept until it is asked for. */
  private constructor(private readonly socket: WebSocket) {
    socket.on('message', (data, isBinary) => {
      this.heardAt = performance.now();
      if (!isBinary) this.waiting.push((data as Buffer).toString('utf8'));
      if (this.waiting.length >= MOST_WAITING) socket.pause();
      this.wake();
    });
    socket.on('ping', () => (this.heardAt = performance.now()));
    socket.on('close', () => {
      this.closed = true;
      this.wake();
    });
  }

  /** Throws AccessEnded, NetworkRefusal or NetworkSilence, as requests do. */
  static open(url: string, token: string): Promise<NetworkSocket> {
    return new Promise((opened, failed) => {
      const headers = { authorization: `Bearer ${token}` };
      const socket = new WebSocket(url, { headers, handshakeTimeout: OPEN_MAY_TAKE_MS, maxPayload: LARGEST_FRAME, followRedirects: false });
      const made = new NetworkSocket(socket);
      socket.once('open', () => opened(made));
      socket.once('unexpected-response', (request, { statusCode = 500 }) => {
        request.destroy();
        if (statusCode === 401) failed(new AccessEnded('access was withdrawn'));
        else if (statusCode < 500 && statusCode !== 429) failed(new NetworkRefusal('unknown', 'It gave no reason.', statusCode));
        else failed(new NetworkSilence('it is in trouble'));
      });
      // Stays for as long as the socket does: an error that nobody hears would end the server.
      socket.on('error', () => failed(new NetworkSilence('it could not be reached')));
    });
  }

  /**
   * The text frames that come, as many at once as have come since the last ones were asked for. Ends with `signal`, and the socket with it; throws
   * NetworkSilence where the network ends it, or falls silent.
   */
  async *frames(signal: AbortSignal): AsyncGenerator<string[], void> {
    const { socket } = this;
    const end = () => this.wake();
    signal.addEventListener('abort', end);
    const watch = setInterval(() => {
      if (performance.now() - this.heardAt > SILENT_MS) socket.terminate();
    }, 1_000);
    try {
      while (!signal.aborted) {
        if (this.waiting.length) {
          const batch = this.waiting;
          this.waiting = [];
          yield batch;
          // Whoever had to wait meanwhile is not silent.
          this.heardAt = performance.now();
          if (socket.isPaused) socket.resume();
        } else if (this.closed) throw new NetworkSilence('it hung up');
        else await new Promise<void>((next) => (this.wake = next));
      }
    } finally {
      clearInterval(watch);
      signal.removeEventListener('abort', end);
      socket.terminate();
    }
  }
}
