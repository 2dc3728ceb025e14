// A look as it goes out, at once on everything that is made in it: people with their names, cards, the thumbnail and the waiting picture of a show.
import type { ArtworkView, LookDraft, LookPreview } from '@lantern/contract';
import { FIRST_SCENES, HOLDING, instant, layOut, PROGRAMME, sceneOf, type Scene, type Seat, type Seated, type ShownGraphic } from '@lantern/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { serverNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useMe } from '../people/me';
import type { StageContent } from '../programme/compositor-messages';
import { DrawnSource } from '../programme/drawn-source';
import { loadFonts } from '../programme/fonts';
import { Painter, type Picture } from '../programme/paint';
import { contentOfLook } from './look-content';

/** The card counts down from so far before its start. */
const TO_GO_MS = 7 * 60_000;
/** While somebody moves a slider of colours, nothing is asked of the server. */
const TRY_AFTER_MS = 450;

const scene = (id: string): Scene => sceneOf(FIRST_SCENES, id)!;
const SPONSORS: Scene = { ...scene('closing'), id: 'sponsors', card: 'sponsors' };

export function LookProofs({ look, pieces }: { look: LookDraft; pieces: ArtworkView['pieces'] }) {
  const me = useMe().data;
  const [startsAt] = useState(() => instant(serverNow() + TO_GO_MS));
  const content = useMemo<StageContent>(() => {
    const seated: Partial<Record<Seat, Seated>> = {
      host: { name: me?.name ?? '', caption: me?.station.name ?? '', seen: true },
      'guest 1': { name: 'A guest', caption: '', seen: true },
    };
    return {
      ...{ title: 'Your show', stationName: me?.station.name ?? '', startsAt, zone: Intl.DateTimeFormat().resolvedOptions().timeZone },
      ...{ begun: false, waiting: null, graphic: null, seated, ...contentOfLook(look, pieces) },
    };
  }, [look, pieces, me, startsAt]);
  return (
    <div className="look-proofs">
      <Drawn scene={scene('host')} content={content} words="Somebody with their name" large />
      <Drawn scene={scene('together')} content={content} words="Two people" />
      <Drawn scene={scene(HOLDING)} content={content} words="Holding card" />
      <Drawn scene={scene('host')} content={{ ...content, graphic: CALL }} words="A call" />
      <Drawn scene={look.sponsors.length ? SPONSORS : scene('closing')} content={content} words={look.sponsors.length ? 'Sponsors’ card' : 'Closing card'} />
      <FromServer look={look} />
    </div>
  );
}

const CALL: ShownGraphic = { id: 'call', kind: 'call', text: 'What did you see?', more: location.host, since: instant(0) };

/** Painted by the programme's own painter, once a second. */
function Drawn({ scene: shown, content, words, large = false }: { scene: Scene; content: StageContent; words: string; large?: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = JSON.stringify(content);
  useEffect(() => {
    const own = JSON.parse(key) as StageContent;
    const picture = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
    const context = picture.getContext('2d', { alpha: false })!;
    const painter = new Painter(new OffscreenCanvas(8, 8).getContext('2d')!, own.palette, own.letters);
    const figures = new Map<string, DrawnSource>();
    const sponsors: (ImageBitmap | null)[] = [];
    let ended = false;
    const pictureOf = (source: string): Picture | null => {
      if (source.startsWith('sponsor ')) return sponsors[Number(source.slice(8))] ?? null;
      let figure = figures.get(source);
      if (!figure) figures.set(source, (figure = new DrawnSource({ what: 'figure', seat: source as Seat })));
      return figure.at(performance.now());
    };
    const paint = () => {
      if (ended) return;
      const now = instant(serverNow());
      painter.paint(context, layOut(shown, own, now, painter.measure), pictureOf, now);
      const seen = canvas.current;
      const onto = seen?.getContext('2d');
      if (!seen || !onto) return;
      onto.imageSmoothingQuality = 'high';
      onto.drawImage(picture, 0, 0, seen.width, seen.height);
    };
    /** Draws what has come as soon as it has; what does not come is drawn as the programme draws it then. */
    const bring = async (url: string | null, draw: (picture: ImageBitmap) => void) => {
      const fetched = url === null ? null : await pictureAt(url);
      if (fetched && !ended) draw(fetched);
      else fetched?.close();
      paint();
    };
    if (typeof own.background === 'string') painter.setBackground(own.background);
    void loadFonts([own.letters.display, own.letters.text], document).then(
      () => {
        painter.setLetters(own.letters);
        paint();
      },
      () => undefined,
    );
    void bring(own.logoUrl, (logo) => painter.setLogo(logo));
    void bring(typeof own.background === 'string' ? null : own.background.url, (behind) => painter.setBackground(behind));
    for (const [at, url] of own.sponsorUrls.entries()) void bring(url, (mark) => (sponsors[at] = mark));
    const timer = setInterval(paint, 1_000);
    return () => {
      ended = true;
      clearInterval(timer);
      painter.setLogo(null);
      for (const mark of sponsors) mark?.close();
    };
  }, [key, shown]);
  return (
    <figure className={large ? 'large' : undefined}>
      <canvas ref={canvas} width={large ? PROGRAMME.width : 640} height={large ? PROGRAMME.height : 360} role="img" aria-label={`${words}, in this look`} />
      <figcaption>{words}</figcaption>
    </figure>
  );
}

/** Null: it did not come. */
async function pictureAt(url: string): Promise<ImageBitmap | null> {
  try {
    const answer = await fetch(url);
    return answer.ok ? await createImageBitmap(await answer.blob()) : null;
  } catch {
    return null;
  }
}

/** The pictures that the server draws. */
function FromServer({ look }: { look: LookDraft }) {
  const [made, setMade] = useState<LookPreview | null>(null);
  const [trouble, setTrouble] = useState('');
  const key = JSON.stringify({ ...look, name: look.name.trim() || 'A look' });
  useEffect(() => {
    let late = false;
    const timer = setTimeout(() => {
      server.post<LookPreview>('/api/looks/preview', JSON.parse(key)).then(
        (preview) => {
          if (late) return;
          setMade(preview);
          setTrouble('');
        },
        (error: unknown) => !late && setTrouble(wordsOf(error)),
      );
    }, TRY_AFTER_MS);
    return () => {
      late = true;
      clearTimeout(timer);
    };
  }, [key]);
  return (
    <>
      {(['thumbnail', 'waiting'] as const).map((which) => (
        <figure key={which}>
          {made ? <img src={made[which]} alt={`${which === 'waiting' ? 'A waiting picture' : 'A thumbnail'}, in this look`} /> : <span className="not-yet" />}
          <figcaption>{which === 'waiting' ? 'Waiting picture' : 'Thumbnail'} of your next show</figcaption>
        </figure>
      ))}
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
    </>
  );
}
