// A scene as it goes out, moving, with people who are drawn: by the very compositor that draws a show.
import { instant, PEOPLE_SEATS, SEATS, withVoice, type Scene, type Seated } from '@lantern/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { serverAheadMs, serverNow } from '../app/clock';
import type { LookContent, StageContent } from '../programme/compositor-messages';
import type { Drawn } from '../programme/drawn-source';
import { CompositorHere } from '../programme/start-compositor';
import { SEAT_WORDS } from './scene-words';

/** What stands in a column of messages, of people who are made up. */
const WRITTEN = [
  { name: 'Niamh', words: 'Good evening from the quay!' },
  { name: 'Fern', words: 'What is the little orange light on the left?' },
  { name: 'Old Peat', words: 'We can see it from the bridge, and so can the dog.' },
];

/** The card counts down from so far before its start. */
const TO_GO_MS = 7 * 60_000;

interface Props {
  scene: Scene;
  /** How many people are there. */
  people: number;
  stationName: string;
  hostName: string;
  look: LookContent;
}

export function ScenePreview({ scene, people, stationName, hostName, look }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const compositor = useRef<CompositorHere | null>(null);
  const [startsAt] = useState(() => instant(serverNow() + TO_GO_MS));
  const content = useMemo<StageContent>(() => {
    const there = PEOPLE_SEATS.slice(0, people).map((seat): [string, Seated] => [
      seat,
      { name: seat === 'host' ? hostName : SEAT_WORDS[seat], caption: stationName, seen: true },
    ]);
    const thing: Seated = { name: '', caption: '', seen: true };
    return {
      ...{ title: 'Your show', stationName, startsAt, zone: Intl.DateTimeFormat().resolvedOptions().timeZone },
      messages: WRITTEN,
      ...{ begun: false, waiting: null, ...look, graphic: null, seated: { ...Object.fromEntries(there), share: thing, clip: thing, line: thing } },
    };
  }, [people, stationName, hostName, look, startsAt]);
  const first = useRef({ content, scene });
  useEffect(() => {
    const picture = new MediaStreamTrackGenerator<VideoFrame>({ kind: 'video' });
    const { content: begins } = first.current;
    const shown = withVoice(first.current.scene, 'host');
    const made = new CompositorHere({ programme: picture.writable, next: null, content: begins, onProgramme: shown, onNext: shown }, () => undefined);
    for (const seat of SEATS) made.tell({ type: 'source', seat, frames: drawnFor(seat) });
    video.current!.srcObject = new MediaStream([picture]);
    compositor.current = made;
    return () => {
      compositor.current = null;
      made.close();
      picture.stop();
    };
  }, []);
  useEffect(() => {
    first.current.content = content;
    compositor.current?.tell({ type: 'content', content, aheadMs: serverAheadMs() });
  }, [content]);
  useEffect(() => {
    first.current.scene = scene;
    const shown = withVoice(scene, 'host');
    compositor.current?.tell({ type: 'scenes', onProgramme: shown, onNext: shown });
  }, [scene]);
  return <video ref={video} className="scene-preview" muted autoPlay playsInline aria-label={`${scene.name || 'The scene'}, with people who are drawn`} />;
}

function drawnFor(seat: (typeof SEATS)[number]): Drawn {
  if (seat === 'share') return { what: 'pages' };
  return seat === 'line' || seat === 'clip' ? { what: 'sky' } : { what: 'figure', seat };
}
