import { useEffect, useRef } from 'react';

/** One's own picture, as in a mirror. */
export function OwnPicture({ camera }: { camera: MediaStreamTrack }) {
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    video.current!.srcObject = new MediaStream([camera]);
  }, [camera]);
  return <video ref={video} className="own-picture" muted autoPlay playsInline aria-label="Your own picture, as in a mirror" />;
}
