// The picture that is being cut: where it stands, and going to another place, to the picture.
import { between, firstFrom, type Passage } from '@lantern/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { server } from '../app/server';

/** Times of pictures are asked for by so much of the recording. */
const WINDOW_MS = 30_000;
/** A browser that is asked for the very time of a picture may show the one before. */
const INTO_PICTURE_MS = 2;

export function usePlayer(showId: string, lengthMs: number) {
  const video = useRef<HTMLVideoElement>(null);
  const queries = useQueryClient();
  const [atMs, setAtMs] = useState(0);
  const [playing, setPlaying] = useState(false);
  /** What is passed over in playing. */
  const skipped = useRef<readonly Passage[]>([]);

  useEffect(() => {
    let frame = 0;
    const follow = () => {
      const player = video.current;
      if (player && !player.paused) {
        const now = player.currentTime * 1_000;
        const out = skipped.current.find(({ fromMs, toMs }) => now >= fromMs && now < toMs);
        if (out) {
          if (out.toMs >= lengthMs) player.pause();
          else player.currentTime = (out.toMs + INTO_PICTURE_MS) / 1_000;
        }
        setAtMs(player.currentTime * 1_000);
      }
      frame = requestAnimationFrame(follow);
    };
    frame = requestAnimationFrame(follow);
    return () => cancelAnimationFrame(frame);
  }, [lengthMs]);

  const go = (ms: number) => {
    const to = Math.min(Math.max(0, ms), Math.max(0, lengthMs - 1));
    if (video.current) video.current.currentTime = (to + INTO_PICTURE_MS) / 1_000;
    setAtMs(to);
  };
  const times = (from: number) =>
    queries.fetchQuery({
      queryKey: ['picture-times', showId, from],
      queryFn: () => server.get<number[]>(`/api/shows/${showId}/cuts/times?from=${from}&to=${from + WINDOW_MS}`),
      staleTime: Infinity,
    });
  /** When the pictures around a moment are shown, in order. */
  const around = async (ms: number): Promise<number[]> => {
    const first = Math.floor(Math.max(0, ms) / WINDOW_MS) * WINDOW_MS;
    const windows = [first - WINDOW_MS, first, first + WINDOW_MS].filter((from) => from >= 0 && from < lengthMs);
    return (await Promise.all(windows.map(times))).flat();
  };
  /** The time of the picture that is seen at a moment. */
  const pictureAt = async (ms: number): Promise<number> => {
    const all = await around(ms).catch(() => []);
    return all[Math.max(0, firstFrom(all, ms + INTO_PICTURE_MS) - 1)] ?? Math.round(ms);
  };
  const step = async (pictures: number) => {
    video.current?.pause();
    const all = await around(atMs).catch(() => []);
    const now = Math.max(0, firstFrom(all, atMs + INTO_PICTURE_MS) - 1);
    go(all[Math.min(all.length - 1, Math.max(0, now + pictures))] ?? atMs + pictures * 33);
  };
  const toggle = (kept: readonly Passage[] | null) => {
    const player = video.current;
    if (!player) return;
    skipped.current = kept ? between(kept, lengthMs) : [];
    if (player.paused) player.play().catch(() => undefined);
    else player.pause();
  };
  const heard = { onPlay: () => setPlaying(true), onPause: () => setPlaying(false), onSeeked: () => setAtMs((video.current?.currentTime ?? 0) * 1_000) };
  return { video, atMs, playing, go, step, toggle, pictureAt, heard };
}

export type Player = ReturnType<typeof usePlayer>;
