// Plays the programme by HLS, close to the present. The library is fetched only by pages that play.
import type { HouseView } from '@lantern/contract';
import { useEffect, useRef, useState } from 'react';
import { distanceAfter, NEAREST_S, rateFor } from './keep-near';

const RETRY_MS = 1_500;

/** Where the picture is to be had, the best first: where it is packed, which goes on whatever becomes of the rest; and by way of this host. */
export function sourcesOf(
  { playlistUrl, playlistBeside: beside }: Pick<HouseView, 'playlistUrl' | 'playlistBeside'>,
  at: Pick<Location, 'protocol' | 'hostname'>,
): string[] {
  const near = beside && `${beside.url ?? `${at.protocol}//${at.hostname}:${beside.port}`}${beside.path}`;
  return [near, playlistUrl].filter((url) => url !== null);
}

/** `behind`: how far the picture is behind the end of what there is, in seconds. The function returned leaves it alone again. */
function keepNear(video: HTMLVideoElement, behind: () => number): () => void {
  let stops: number[] = [];
  const stopped = () => {
    // The first picture is waited for by everybody.
    if (video.played.length) stops = [...stops.slice(-9), Date.now()];
  };
  video.addEventListener('waiting', stopped);
  const timer = setInterval(() => {
    const { buffered, currentTime } = video;
    const inHand = buffered.length ? buffered.end(buffered.length - 1) - currentTime : 0;
    video.playbackRate = rateFor(behind(), inHand, distanceAfter(stops, Date.now()));
  }, 1_000);
  return () => {
    clearInterval(timer);
    video.removeEventListener('waiting', stopped);
  };
}

interface Props {
  house: Pick<HouseView, 'playlistUrl' | 'playlistBeside'>;
  /** Told each second when what is seen was received, in ms since the epoch by the server's clock. */
  onSeen?: (receivedAt: number) => void;
}

export function Player({ house, onSeen }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [muted, setMuted] = useState(true);
  const from = sourcesOf(house, window.location).join(' ');
  const seen = useRef(onSeen);
  useEffect(() => {
    seen.current = onSeen;
  });
  useEffect(() => {
    let stop = () => {};
    let gone = false;
    let at = 0;
    const all = from.split(' ');
    const begin = async () => {
      const { default: Hls } = await import('hls.js/light');
      if (gone || !video.current) return;
      if (!Hls.isSupported()) {
        video.current.src = all.at(-1)!;
        return;
      }
      const hls = new Hls({ liveSyncDuration: NEAREST_S, liveMaxLatencyDuration: 6, maxLiveSyncPlaybackRate: 1, backBufferLength: 30, lowLatencyMode: false });
      const leave = keepNear(video.current, () => hls.latency);
      hls.on(Hls.Events.ERROR, (_event, trouble) => {
        if (!trouble.fatal) return;
        stop();
        // The next address, and in the end the first once more.
        at += 1;
        const timer = setTimeout(() => void begin(), RETRY_MS);
        stop = () => clearTimeout(timer);
      });
      const telling = setInterval(() => hls.playingDate && seen.current?.(hls.playingDate.getTime()), 1_000);
      hls.loadSource(all[at % all.length]!);
      hls.attachMedia(video.current);
      stop = () => {
        clearInterval(telling);
        leave();
        hls.destroy();
      };
    };
    void begin();
    return () => {
      gone = true;
      stop();
    };
  }, [from]);
  return (
    <>
      <video ref={video} autoPlay muted={muted} playsInline controls aria-label="The show" />
      {muted && (
        <button className="btn btn-primary position-absolute top-0 end-0 m-3" onClick={() => setMuted(false)}>
          Turn the sound on
        </button>
      )}
    </>
  );
}
