// The recording as a strip in time: its running order, small pictures, its sound, and over all of them what is kept.
import type { CutsView, SurveyView } from '@lantern/contract';
import { between, sayCutTime, sayClock, type Passage } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { Button } from 'react-bootstrap';

const SOUND_HEIGHT = 56;
const PICTURE = { width: 96, height: 54 };
/** The quietest that is drawn, in dB relative to full scale. */
const QUIET_DB = -60;
const TICKS_MS = [100, 500, 1_000, 2_000, 5_000, 10_000, 30_000, 60_000, 120_000, 300_000, 600_000, 1_800_000, 3_600_000];
const TICK_PX = 90;
const CLOSEST_MS = 2_000;
/** A press that moves less is no drag. */
const DRAG_PX = 4;

interface Props {
  view: CutsView;
  kept: readonly Passage[];
  onKept: (kept: Passage[]) => void;
  /** Moves an edge by so many pictures, or seconds. */
  onNudge: (passage: number, end: 'fromMs' | 'toMs', pictures: number, ms: number) => void;
  atMs: number;
  onGo: (ms: number) => void;
  selected: Passage | null;
  onSelect: (selected: Passage | null) => void;
}

export function CutStrip({ view, kept, onKept, onNudge, atMs, onGo, selected, onSelect }: Props) {
  const { lengthMs, ran, survey } = view;
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const [zoom, setZoom] = useState({ fromMs: 0, spanMs: lengthMs });
  const { fromMs, spanMs } = zoom;
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watching = new ResizeObserver(() => setWidth(element.clientWidth));
    watching.observe(element);
    return () => watching.disconnect();
  }, []);
  const at = (ms: number) => `${(100 * (ms - fromMs)) / spanMs}%`;
  const share = (ms: number) => `${(100 * ms) / spanMs}%`;
  const look = (span: number, around = atMs) => {
    const nextSpan = Math.min(lengthMs, Math.max(CLOSEST_MS, span));
    setZoom({ spanMs: nextSpan, fromMs: Math.min(Math.max(0, around - nextSpan / 2), lengthMs - nextSpan) });
  };
  const tickMs = TICKS_MS.find((each) => (each / spanMs) * width >= TICK_PX) ?? TICKS_MS.at(-1)!;
  const ticks = Array.from({ length: Math.floor(spanMs / tickMs) + 2 }, (_, index) => (Math.floor(fromMs / tickMs) + index) * tickMs).filter(
    (ms) => ms >= fromMs && ms <= fromMs + spanMs,
  );

  /** The moment beneath the pointer. */
  const under = ({ clientX }: { clientX: number }) => {
    const { left, width: wide } = box.current!.getBoundingClientRect();
    return Math.min(lengthMs, Math.max(0, fromMs + ((clientX - left) / wide) * spanMs));
  };
  const press = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0) return;
    const [began, startX] = [under(event), event.clientX];
    const move = (moved: globalThis.PointerEvent) => {
      if (Math.abs(moved.clientX - startX) < DRAG_PX) return;
      const now = under(moved);
      onSelect({ fromMs: Math.round(Math.min(began, now)), toMs: Math.round(Math.max(began, now)) });
    };
    const up = (moved: globalThis.PointerEvent) => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      if (Math.abs(moved.clientX - startX) >= DRAG_PX) return;
      onSelect(null);
      onGo(began);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
  };

  return (
    <section className="cut-strip" aria-label="The recording in time">
      <div className="d-flex gap-2 align-items-center mb-1 small-words">
        <Button variant="quiet" size="sm" onClick={() => look(spanMs / 3)} disabled={spanMs <= CLOSEST_MS}>
          Closer
        </Button>
        <Button variant="quiet" size="sm" onClick={() => look(spanMs * 3)} disabled={spanMs >= lengthMs}>
          Wider
        </Button>
        {spanMs < lengthMs && (
          <>
            <Button variant="quiet" size="sm" onClick={() => look(lengthMs)}>
              All of it
            </Button>
            <Button variant="quiet" size="sm" onClick={() => look(spanMs, fromMs)} disabled={fromMs <= 0}>
              Earlier
            </Button>
            <Button variant="quiet" size="sm" onClick={() => look(spanMs, fromMs + spanMs)} disabled={fromMs + spanMs >= lengthMs}>
              Later
            </Button>
          </>
        )}
        <span className="soft ms-auto">Drag over the strip to choose a part of it; press it to go there.</span>
      </div>
      <div className="cut-scale">
        <div ref={box} className="cut-lanes" onPointerDown={press}>
          <div className="cut-ticks" aria-hidden="true">
            {ticks.map((ms) => (
              <span key={ms} style={{ left: at(ms) }}>
                {tickMs < 1_000 ? sayCutTime(ms) : sayClock(ms)}
              </span>
            ))}
          </div>
          <div className="cut-cues">
            {ran.map(({ atMs: begins, name }, index) => {
              const ends = ran[index + 1]?.atMs ?? lengthMs;
              const from = Math.max(begins, fromMs);
              const to = Math.min(ends, fromMs + spanMs);
              return (
                to > from && (
                  <span key={begins} style={{ left: at(from), width: share(to - from) }} title={name}>
                    {name}
                  </span>
                )
              );
            })}
          </div>
          <Pictures survey={survey} width={width} fromMs={fromMs} spanMs={spanMs} lengthMs={lengthMs} />
          <Sound survey={survey} width={width} fromMs={fromMs} spanMs={spanMs} />
          {between(kept, lengthMs).map((out) => (
            <i key={out.fromMs} className="cut-out" style={{ left: at(out.fromMs), width: share(out.toMs - out.fromMs) }} />
          ))}
          {selected && <i className="cut-selected" style={{ left: at(selected.fromMs), width: share(selected.toMs - selected.fromMs) }} />}
          <b className="cut-playhead" style={{ left: at(atMs) }} />
          {kept.flatMap((passage, index) =>
            (['fromMs', 'toMs'] as const).map((end) => (
              <Edge
                key={`${index} ${end}`}
                name={`Edge: ${end === 'fromMs' ? 'begin' : 'end'} of part ${index + 1}`}
                end={end}
                ms={passage[end]}
                lengthMs={lengthMs}
                at={at}
                under={under}
                onMove={(ms) => onKept(kept.map((each, place) => (place === index ? { ...each, [end]: Math.round(ms) } : each)))}
                onGo={onGo}
                onNudge={(pictures, ms) => onNudge(index, end, pictures, ms)}
              />
            )),
          )}
        </div>
      </div>
    </section>
  );
}

interface EdgeProps {
  name: string;
  end: 'fromMs' | 'toMs';
  ms: number;
  lengthMs: number;
  at: (ms: number) => string;
  under: (at: { clientX: number }) => number;
  onMove: (ms: number) => void;
  onGo: (ms: number) => void;
  onNudge: (pictures: number, ms: number) => void;
}

/** Where a part begins or ends; dragged, or moved by keys. */
function Edge({ name, end, ms, lengthMs, at, under, onMove, onGo, onNudge }: EdgeProps) {
  const [dragged, setDragged] = useState<number | null>(null);
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    event.stopPropagation();
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    let last: number | null = null;
    const move = (moved: globalThis.PointerEvent) => {
      last = under(moved);
      setDragged(last);
      onGo(last);
    };
    const up = () => {
      element.removeEventListener('pointermove', move);
      element.removeEventListener('pointerup', up);
      setDragged(null);
      if (last !== null) onMove(last);
    };
    element.addEventListener('pointermove', move);
    element.addEventListener('pointerup', up);
  };
  const keys = (event: KeyboardEvent) => {
    const way = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.shiftKey) onNudge(0, way * 1_000);
    else onNudge(way, 0);
  };
  return (
    <div
      className={`cut-edge ${end === 'fromMs' ? 'begins' : 'ends'}`}
      style={{ left: at(dragged ?? ms) }}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuemin={0}
      aria-valuemax={Math.round(lengthMs)}
      aria-valuenow={Math.round(dragged ?? ms)}
      aria-valuetext={sayCutTime(dragged ?? ms)}
      onPointerDown={drag}
      onKeyDown={keys}
      onFocus={() => onGo(ms)}
    />
  );
}

interface LaneProps {
  survey: SurveyView | null;
  width: number;
  fromMs: number;
  spanMs: number;
}

function Pictures({ survey, width, fromMs, spanMs, lengthMs }: LaneProps & { lengthMs: number }) {
  const count = Math.ceil(width / PICTURE.width);
  return (
    <div className="cut-pictures" aria-hidden="true" style={{ height: PICTURE.height }}>
      {survey &&
        Array.from({ length: count }, (_, index) => {
          const { url, everyMs, columns, count: all } = survey.strip;
          const ms = Math.min(lengthMs, fromMs + ((index + 0.5) * PICTURE.width * spanMs) / Math.max(1, width));
          const which = Math.min(all - 1, Math.floor(ms / everyMs));
          const style = {
            width: PICTURE.width,
            backgroundImage: `url("${url}")`,
            backgroundSize: `${columns * PICTURE.width}px auto`,
            backgroundPosition: `-${(which % columns) * PICTURE.width}px -${Math.floor(which / columns) * PICTURE.height}px`,
          };
          return <span key={index} style={style} />;
        })}
    </div>
  );
}

function Sound({ survey, width, fromMs, spanMs }: LaneProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const levels = useQuery({
    queryKey: ['sound', survey?.sound.url],
    queryFn: async () => new Uint8Array(await (await fetch(survey!.sound.url)).arrayBuffer()),
    enabled: survey !== null,
    staleTime: Infinity,
  });
  useEffect(() => {
    if (!levels.data || !survey || !width) return;
    const context = canvas.current?.getContext('2d');
    if (context) draw(context, levels.data, { everyMs: survey.sound.everyMs, width, fromMs, spanMs });
  }, [levels.data, survey, width, fromMs, spanMs]);
  return <canvas ref={canvas} className="cut-sound" width={Math.max(1, width)} height={SOUND_HEIGHT} aria-hidden="true" />;
}

/** The loudest of what falls on each column. */
function draw(
  context: CanvasRenderingContext2D,
  levels: Uint8Array,
  { everyMs, width, fromMs, spanMs }: { everyMs: number; width: number; fromMs: number; spanMs: number },
) {
  context.clearRect(0, 0, width, SOUND_HEIGHT);
  context.fillStyle = getComputedStyle(context.canvas).color;
  for (let x = 0; x < width; x += 1) {
    const first = Math.floor((fromMs + (x * spanMs) / width) / everyMs);
    const last = Math.max(first + 1, Math.floor((fromMs + ((x + 1) * spanMs) / width) / everyMs));
    let loudest = 0;
    for (let each = first; each < last && each < levels.length; each += 1) loudest = Math.max(loudest, levels[each]!);
    const height = Math.max(0, (loudest - 100 - QUIET_DB) / -QUIET_DB) * SOUND_HEIGHT;
    context.fillRect(x, (SOUND_HEIGHT - height) / 2, 1, Math.max(1, height));
  }
}
