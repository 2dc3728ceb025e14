// A recording with its chapters: in the player's own menu, where it has one, and as a list to go by.
import { sayClock, type Chapter } from '@lantern/core';
import type { CSSProperties, RefObject } from 'react';
import { Button } from 'react-bootstrap';

interface Props {
  /** By which a list of chapters finds it. */
  video: RefObject<HTMLVideoElement | null>;
  url: string;
  label: string;
  /** Where its chapters are as WebVTT; null: it has none. */
  chaptersUrl: string | null;
  /** Words beneath the picture; null: there are none. */
  captions?: { url: string; language: string } | null;
  poster?: string;
  className?: string;
  style?: CSSProperties;
}

export function Recording({ video, url, label, chaptersUrl, captions = null, ...more }: Props) {
  return (
    <video ref={video} src={url} controls playsInline preload="metadata" aria-label={label} {...more}>
      {chaptersUrl && <track kind="chapters" src={chaptersUrl} srcLang="und" default />}
      {captions && <track kind="captions" src={captions.url} srcLang={captions.language} label={sayLanguage(captions.language)} default />}
    </video>
  );
}

/** Each goes to its place in the recording and plays on from there. Nothing where there is but one. */
export function ChapterList({ video, chapters }: { video: Props['video']; chapters: readonly Chapter[] }) {
  if (chapters.length < 2) return null;
  return (
    <ol className="list-unstyled" aria-label="Chapters">
      {chapters.map((chapter) => (
        <li key={chapter.atMs}>
          <Button variant="quiet" size="sm" className="text-start" onClick={() => playFrom(video.current, chapter.atMs)}>
            <span className="soft">{sayClock(chapter.atMs)}</span> {chapter.name}
          </Button>
        </li>
      ))}
    </ol>
  );
}

/** By its own name; where nobody knows that, as it is written. */
function sayLanguage(tag: string): string {
  try {
    return new Intl.DisplayNames([tag], { type: 'language' }).of(tag) ?? tag;
  } catch {
    return tag;
  }
}

function playFrom(video: HTMLVideoElement | null, atMs: number): void {
  if (!video) return;
  video.currentTime = atMs / 1_000;
  // A browser that lets nothing play by itself waits for the visitor's own press.
  video.play().catch(() => undefined);
}
