// Plays the programme by HLS, close to the present. The library is fetched only by pages that play.
import { useEffect, useRef, useState } from 'react';

const RETRY_MS = 1_500;

export function Player({ playlistUrl }: { playlistUrl: string }) {
  const video = useRef<HTMLVideoElement>(null);
  const [muted, setMuted] = useState(true);
  useEffect(() => {
    let stop = () => {};
    let gone = false;
    const begin = async () => {
      const { default: Hls } = await import('hls.js/light');
      if (gone || !video.current) return;
      if (!Hls.isSupported()) {
        video.current.src = playlistUrl;
        return;
      }
      const hls = new Hls({ liveSyncDuration: 1.5, liveMaxLatencyDuration: 6, maxLiveSyncPlaybackRate: 1.1, backBufferLength: 30, lowLatencyMode: false });
      hls.on(Hls.Events.ERROR, (_event, trouble) => {
        if (!trouble.fatal) return;
        hls.destroy();
        const timer = setTimeout(() => void begin(), RETRY_MS);
        stop = () => clearTimeout(timer);
      });
      hls.loadSource(playlistUrl);
      hls.attachMedia(video.current);
      stop = () => hls.destroy();
    };
    void begin();
    return () => {
      gone = true;
      stop();
    };
  }, [playlistUrl]);
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
