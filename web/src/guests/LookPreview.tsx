// How a guest will look: the very scene with the very strap, painted as the programme is, in any browser.
import type { DoorView as Door } from '@lantern/contract';
import { GUEST_SEATS, instant, layOut, PROGRAMME, shows, type PersonSeat, type Shapes, VOICE, withVoice } from '@lantern/core';
import { useEffect, useRef } from 'react';
import { contentOfLook } from '../looks/look-content';
import { DrawnSource } from '../programme/drawn-source';
import { loadFonts } from '../programme/fonts';
import { Painter, type Context } from '../programme/paint';

const WIDTH = 640;
const EVERY_MS = 80;

export function LookPreview({ door, camera }: { door: Door; camera: MediaStreamTrack | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const { look, name, caption, stationName, title, startsAt, zone } = door;
    const seat: PersonSeat = GUEST_SEATS.find((each) => shows(door.scene, each)) ?? (shows(door.scene, VOICE) ? 'guest 1' : 'host');
    const scene = withVoice(door.scene, seat);
    const content = contentOfLook(look, []);
    // One on the page draws as one that is off it.
    const context = canvas.current!.getContext('2d', { alpha: false }) as unknown as Context;
    const painter = new Painter(new OffscreenCanvas(8, 8).getContext('2d')!, content.palette, content.letters);
    painter.setBackground(typeof content.background === 'string' ? content.background : 'evening');
    void loadFonts([content.letters.display, content.letters.text], document)
      .then(() => painter.setLetters(content.letters))
      .catch(() => undefined);
    const host = new DrawnSource({ what: 'figure', seat: 'host' });
    const video = document.createElement('video');
    Object.assign(video, { muted: true, playsInline: true, autoplay: true, srcObject: camera && new MediaStream([camera]) });
    if (camera) video.play().catch(() => undefined);
    const own = new OffscreenCanvas(16, 9);
    const ownContext = own.getContext('2d', { alpha: false })!;
    const draw = () => {
      const seen = camera !== null && video.videoWidth > 0;
      if (seen) {
        if (own.width !== video.videoWidth) [own.width, own.height] = [video.videoWidth, video.videoHeight];
        ownContext.drawImage(video, 0, 0);
      }
      const shapes: Shapes = { host: 16 / 9, [seat]: own.width / own.height };
      const seated = {
        ...(seat !== 'host' && shows(scene, 'host') && { host: { name: 'The host', caption: stationName, seen: true } }),
        [seat]: { name, caption, seen },
      };
      const now = instant(Date.now());
      const whole = { title, stationName, startsAt: instant(startsAt), zone, begun: true, waiting: null, ...content, graphic: null, seated };
      context.setTransform(WIDTH / PROGRAMME.width, 0, 0, WIDTH / PROGRAMME.width, 0, 0);
      painter.paint(
        context,
        layOut(scene, whole, now, painter.measure, shapes),
        (source) => (source === seat ? (seen ? own : null) : source === 'host' ? host.at(performance.now()) : null),
        now,
      );
    };
    draw();
    const timer = setInterval(draw, EVERY_MS);
    return () => {
      clearInterval(timer);
      video.srcObject = null;
    };
  }, [door, camera]);
  return (
    <canvas
      ref={canvas}
      className="look-preview"
      width={WIDTH}
      height={(WIDTH * 9) / 16}
      role="img"
      aria-label={`${door.name} on the picture, beside the host`}
    />
  );
}
