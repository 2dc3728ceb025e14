// One lane a channel on a common axis of time. Shows are moved, lengthened and drafted with the pointer or by
// keys; what the channels object to is said before anything is done.
import { NETWORK_NAMES, type ChannelView, type PlanView, type ShowSummary } from '@lantern/contract';
import { DAY_MS, HOUR_MS, instant, MINUTE_MS, onGrid, sayLength, sayTime, sayWhen, type Instant } from '@lantern/core';
import { scaleLinear, select, zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3';
import { useCallback, useEffect, useLayoutEffect, useMemo, useReducer, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { useSearchParams } from 'react-router';
import { useNow } from '../app/clock';
import { useGround } from '../look/ground';
import { inFull } from '../look/channel-words';
import { kindWords, Portrait } from '../look/Identity';
import { Notice } from '../look/Notice';
import { drawnTime, quietStretches, type Fold } from './folds';
import { drawLanes, type Moved } from './lane-drawing';
import { AXIS_HEIGHT, dayStart, daysOn, gridFor, hitAt, lanesBetween, layOut, meantStart, objectionsTo, type MoveObjection, type Scale } from './lane-geometry';

interface Props {
  shows: readonly ShowSummary[];
  channels: readonly ChannelView[];
  plan: PlanView | null;
  zone: string;
  onMove: (show: ShowSummary, startsAt: number, lengthMs: number) => void;
  onOpen: (show: ShowSummary) => void;
  onDraft: (startsAt: number, lengthMs: number, channelIds: string[]) => void;
  /** Dates of series that have not become shows yet. */
  ahead: readonly { startsAt: number; lengthMs: number; channelIds: readonly string[] }[];
  /** From when on all shows are known, and how more are fetched. */
  knownFrom: number;
  onEarlier: () => void;
  /** What stands in the same bar before and after the choice of time. */
  before: ReactNode;
  after: ReactNode;
}

const SPANS = [
  { name: 'Day', ms: DAY_MS },
  { name: 'Week', ms: 7 * DAY_MS },
  { name: 'Month', ms: 31 * DAY_MS },
  { name: 'Quarter', ms: 92 * DAY_MS },
] as const;
/** The scale at which the lanes are laid out before they are scaled. */
const BASE_MS = 7 * DAY_MS;
const LEAST_MS = 6 * HOUR_MS;
const MOST_MS = 400 * DAY_MS;
/** Beneath the lanes folded hours are marked. */
const FOOT_HEIGHT = 18;
const LEAST_LENGTH_MS = 5 * MINUTE_MS;
/** What is swept shorter than this was a click. */
const LEAST_SWEEP_PX = 12;

type Hand =
  | { doing: 'moving' | 'lengthening'; show: ShowSummary; grabbedAt: number; startsAt: number; lengthMs: number }
  | { doing: 'sweeping'; from: number; to: number; y0: number; y1: number };

export function Lanes({ shows, channels, plan, zone, onMove, onOpen, onDraft, ahead, knownFrom, onEarlier, before, after }: Props) {
  const now = useNow(30_000);
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const zooming = useRef<ZoomBehavior<HTMLCanvasElement, unknown> | null>(null);
  const [width, setWidth] = useState(900);
  const [transform, setTransform] = useState<ZoomTransform>(zoomIdentity);
  const [hand, setHand] = useState<Hand | null>(null);
  const [selected, setSelected] = useState<string | null>(null);
  const layout = useMemo(() => layOut(shows, channels), [shows, channels]);
  const inLanes = useMemo(
    () =>
      ahead.map(({ startsAt, lengthMs, channelIds }) => ({
        startsAt,
        lengthMs,
        lanes: channels.flatMap(({ id }, lane) => (channelIds.includes(id) ? [lane] : [])),
      })),
    [ahead, channels],
  );
  const [origin] = useState(() => dayStart(now - HOUR_MS, zone));
  const [folding, setFolding] = useFolding();
  /** Stretches that somebody has opened again, by where they begin. */
  const [opened, setOpened] = useState<ReadonlySet<number>>(NONE_OPENED);
  const time = useMemo(
    () => drawnTime(origin, folding ? quietStretches(shows).filter(({ from: begins }) => !opened.has(begins)) : []),
    [origin, shows, folding, opened],
  );
  // A week fills the width at first, however much of it is folded.
  const base = useMemo(
    () =>
      scaleLinear()
        .domain([origin, time.drawn(origin + BASE_MS)])
        .range([0, width]),
    [origin, time, width],
  );
  const drawn = useMemo(() => transform.rescaleX(base), [base, transform]);
  const scale: Scale = useMemo(() => Object.assign((at: number) => drawn(time.drawn(at)), { invert: (x: number) => time.at(drawn.invert(x)) }), [drawn, time]);
  const [from, to] = drawn.domain().map((place) => time.at(place)) as [number, number];
  /** Where nothing is folded. */
  const pxPerMs = width / (drawn.domain()[1]! - drawn.domain()[0]!);
  useEffect(() => {
    if (from < knownFrom) onEarlier();
  });

  const { moved, objections } = useMemo(() => {
    if (!hand || hand.doing === 'sweeping' || !hasMoved(hand)) return { moved: null, objections: [] };
    const found = objectionsTo(hand.show, instant(hand.startsAt), hand.lengthMs, channels, plan, now);
    const refused = found.some(({ severity }) => severity === 'objection');
    return { moved: { showId: hand.show.id, startsAt: hand.startsAt, lengthMs: hand.lengthMs, refused } satisfies Moved, objections: found };
  }, [hand, channels, plan, now]);

  useLayoutEffect(() => {
    const element = frame.current!;
    const measure = () => setWidth(Math.max(320, element.clientWidth));
    measure();
    const watcher = new ResizeObserver(measure);
    watcher.observe(element);
    return () => watcher.disconnect();
  }, []);

  // Scaling by wheel and pinch, moving along by the axis: the rest of the plane is for shows.
  useEffect(() => {
    const element = canvas.current!;
    const behaviour = zoom<HTMLCanvasElement, unknown>()
      .scaleExtent([BASE_MS / MOST_MS, BASE_MS / LEAST_MS])
      .filter((event: Event) => event.type === 'wheel' || event.type.startsWith('touch') || (event instanceof MouseEvent && event.offsetY < AXIS_HEIGHT))
      .on('zoom', (event: { transform: ZoomTransform }) => setTransform(event.transform));
    zooming.current = behaviour;
    select(element).call(behaviour).on('dblclick.zoom', null);
    return () => void select(element).on('.zoom', null);
  }, []);

  const pictureOf = usePictures();
  const ground = useGround();
  const sweep = hand?.doing === 'sweeping' ? hand : null;
  const swept = sweep && lanesBetween(layout, sweep.y0, sweep.y1);
  useEffect(() => {
    const element = canvas.current!;
    const ratio = window.devicePixelRatio || 1;
    if (element.width !== Math.round(width * ratio) || element.height !== Math.round(layout.height * ratio)) {
      element.width = Math.round(width * ratio);
      element.height = Math.round(layout.height * ratio);
    }
    const context = element.getContext('2d')!;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const first = swept?.[0];
    const last = swept?.at(-1);
    const area =
      sweep && first && last
        ? { from: Math.min(sweep.from, sweep.to), to: Math.max(sweep.from, sweep.to), top: first.top + 3, height: last.top + last.height - first.top - 6 }
        : null;
    drawLanes(context, {
      layout,
      scale,
      from,
      to,
      width,
      pxPerMs,
      folds: time.folds,
      pictureOf,
      zone,
      ground,
      now,
      selected,
      moved,
      ahead: inLanes,
      sweep: area,
    });
  });

  const show = useCallback(
    (at: number, span: number) => {
      const k = width / (base(time.drawn(at + span)) - base(time.drawn(at)));
      const x = -base(time.drawn(at)) * k;
      zooming.current?.transform(select(canvas.current!), zoomIdentity.translate(x, 0).scale(k));
    },
    [base, time, width],
  );
  const [span, setSpan] = useState<number>(BASE_MS);
  const goTo = (ms: number) => {
    setSpan(ms);
    const middle = (from + to) / 2;
    const holdsNow = now >= from && now <= to;
    const begin = holdsNow ? now : middle - ms / 2;
    show(ms <= DAY_MS ? dayStart(begin, zone) : ms <= 7 * DAY_MS ? dayStart(begin, zone) : dayStart(begin - ms / 20, zone), ms);
  };
  const step = (direction: number) => show(from + direction * (to - from), to - from);

  const at = (event: PointerEvent<HTMLCanvasElement>) => {
    const box = canvas.current!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const open = (fold: Fold) => setOpened((before) => new Set([...before, fold.from]));
  const channelsOf = (one: ShowSummary) => channels.filter(({ id }) => one.airings.some(({ channelId }) => channelId === id));
  const press = (event: PointerEvent<HTMLCanvasElement>) => {
    const { x, y } = at(event);
    const fold = y < AXIS_HEIGHT || y > layout.height - FOOT_HEIGHT ? time.foldAt(scale.invert(x)) : null;
    if (fold) return open(fold);
    if (event.button !== 0 || y < AXIS_HEIGHT || event.pointerType === 'touch') return;
    const hit = hitAt(layout, scale, x, y);
    canvas.current!.setPointerCapture(event.pointerId);
    if (!hit) {
      const begin = onGrid(scale.invert(x), [gridFor([], pxPerMs)]);
      setSelected(null);
      return setHand({ doing: 'sweeping', from: begin, to: begin, y0: y, y1: y });
    }
    setSelected(hit.show.id);
    if (!movable(hit.show)) return;
    const { startsAt, lengthMs } = hit.show;
    setHand({ doing: hit.part === 'end' ? 'lengthening' : 'moving', show: hit.show, grabbedAt: scale.invert(x), startsAt, lengthMs });
  };
  const drag = (event: PointerEvent<HTMLCanvasElement>) => {
    const { x, y } = at(event);
    if (!hand) {
      const hit = y < AXIS_HEIGHT ? null : hitAt(layout, scale, x, y);
      canvas.current!.style.cursor =
        (y < AXIS_HEIGHT || y > layout.height - FOOT_HEIGHT) && time.foldAt(scale.invert(x))
          ? 'pointer'
          : y < AXIS_HEIGHT
            ? 'ew-resize'
            : !hit
              ? 'cell'
              : hit.part === 'end' && movable(hit.show)
                ? 'col-resize'
                : movable(hit.show)
                  ? 'grab'
                  : 'pointer';
      return;
    }
    const under = scale.invert(x);
    if (hand.doing === 'sweeping')
      return setHand({
        ...hand,
        to: onGrid(under, [
          gridFor(
            lanesBetween(layout, hand.y0, y).map(({ channel }) => channel),
            pxPerMs,
          ),
        ]),
        y1: y,
      });
    const grid = gridFor(channelsOf(hand.show), pxPerMs);
    const by = under - hand.grabbedAt;
    if (hand.doing === 'moving') return setHand({ ...hand, startsAt: meantStart(hand.show, hand.show.startsAt + by, grid, pxPerMs) });
    const end = onGrid(hand.show.startsAt + hand.show.lengthMs + by, [Math.min(grid, 15 * MINUTE_MS)]);
    setHand({ ...hand, lengthMs: Math.max(LEAST_LENGTH_MS, end - hand.show.startsAt) });
  };
  const release = () => {
    if (!hand) return;
    setHand(null);
    if (hand.doing === 'sweeping') {
      const [begin, end] = [Math.min(hand.from, hand.to), Math.max(hand.from, hand.to)];
      if ((end - begin) * pxPerMs < LEAST_SWEEP_PX) return;
      return onDraft(
        begin,
        Math.max(LEAST_LENGTH_MS, end - begin),
        lanesBetween(layout, hand.y0, hand.y1).map(({ channel }) => channel.id),
      );
    }
    if (hasMoved(hand)) onMove(hand.show, hand.startsAt, hand.lengthMs);
  };

  const inOrder = useMemo(() => [...shows].filter(({ airings }) => airings.length > 0).sort((a, b) => a.startsAt - b.startsAt), [shows]);
  const pick = (one: ShowSummary | undefined) => {
    if (!one) return;
    setHand(null);
    setSelected(one.id);
    if (one.startsAt < from || one.startsAt > to) show(one.startsAt - (to - from) / 3, to - from);
  };
  const chosen = shows.find(({ id }) => id === selected);
  const keys = (event: KeyboardEvent<HTMLDivElement>) => {
    const forward = event.key === 'ArrowRight' || event.key === 'ArrowDown';
    const arrow = event.key.startsWith('Arrow');
    const pending = hand && hand.doing !== 'sweeping' ? hand : null;
    if (arrow && event.altKey && chosen && movable(chosen)) {
      event.preventDefault();
      const grid = gridFor(channelsOf(chosen), pxPerMs);
      const before = pending ?? { doing: 'moving' as const, show: chosen, grabbedAt: 0, startsAt: chosen.startsAt, lengthMs: chosen.lengthMs };
      const sign = forward ? 1 : -1;
      if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
        return setHand({ ...before, startsAt: event.shiftKey ? daysOn(before.startsAt, chosen.zone, sign) : before.startsAt + sign * grid });
      }
      return setHand({ ...before, lengthMs: Math.max(LEAST_LENGTH_MS, before.lengthMs + sign * 5 * MINUTE_MS) });
    }
    if (arrow) {
      event.preventDefault();
      const visible = inOrder.findIndex(({ startsAt }) => startsAt >= from);
      const index = chosen ? inOrder.indexOf(chosen) + (forward ? 1 : -1) : Math.max(0, visible);
      return pick(inOrder[Math.min(inOrder.length - 1, Math.max(0, index))]);
    }
    if (event.key === 'Escape') return setHand(null);
    if (event.key === 'Enter' && pending && hasMoved(pending)) {
      setHand(null);
      return onMove(pending.show, pending.startsAt, pending.lengthMs);
    }
    if (event.key === 'Enter' && chosen) return onOpen(chosen);
    if (event.key === 'd') return onDraft(onGrid((from + to) / 2, [HOUR_MS]), HOUR_MS, []);
    if (event.key === '+' || event.key === '=') return show((from + to) / 2 - (to - from) / 4, (to - from) / 2);
    if (event.key === '-') return show((from + to) / 2 - (to - from), (to - from) * 2);
    if (event.key === 'PageUp' || event.key === 'PageDown') {
      event.preventDefault();
      step(event.key === 'PageDown' ? 1 : -1);
    }
  };

  return (
    <div className="lanes">
      <div className="almanac-bar">
        {before}
        <span role="group" aria-label="How much time" className="span-choice apart">
          {SPANS.map(({ name, ms }) => (
            <Button key={name} variant="quiet" size="sm" aria-pressed={span === ms} onClick={() => goTo(ms)}>
              {name}
            </Button>
          ))}
        </span>
        <span className="d-flex gap-3 align-items-center">
          <Button variant="quiet" size="sm" onClick={() => step(-0.8)}>
            Earlier
          </Button>
          <Button variant="quiet" size="sm" onClick={() => show(dayStart(now, zone), to - from)}>
            Today
          </Button>
          <Button variant="quiet" size="sm" onClick={() => step(0.8)}>
            Later
          </Button>
        </span>
        {after}
      </div>
      <div className="lanes-body">
        <ul className="lane-names" aria-label="Lanes">
          <li className="period soft">
            {period(from, to, zone)}
            <Button
              variant="quiet"
              size="sm"
              aria-pressed={folding}
              title={folding ? 'Quiet hours are drawn narrow. A touch on their mark opens them.' : 'All hours are drawn alike.'}
              onClick={() => {
                setFolding(!folding);
                setOpened(NONE_OPENED);
              }}
            >
              {folding ? 'Open quiet hours' : 'Fold quiet hours'}
            </Button>
          </li>
          {layout.lanes.map(({ channel, top, height }) => (
            <li key={channel.id} style={{ top, height }}>
              <Portrait of={channel} small />
              <span>
                {channel.name}
                <span className="soft">{channel.network === 'typed-in' ? 'typed in' : kindWords(channel)}</span>
              </span>
            </li>
          ))}
        </ul>
        <div
          ref={frame}
          className="lanes-frame"
          tabIndex={0}
          role="application"
          aria-roledescription="lanes"
          aria-label="Shows in time"
          aria-describedby="lanes-keys"
          onKeyDown={keys}
        >
          <canvas
            ref={canvas}
            style={{ width, height: layout.height }}
            onPointerDown={press}
            onPointerMove={drag}
            onPointerUp={release}
            onPointerCancel={() => setHand(null)}
            onDoubleClick={() => chosen && onOpen(chosen)}
          />
        </div>
      </div>
      <Said
        chosen={chosen}
        moved={moved}
        objections={objections}
        sweep={
          sweep && {
            from: Math.min(sweep.from, sweep.to),
            to: Math.max(sweep.from, sweep.to),
            channels: swept!.map(({ channel }) => inFull(channel.name, channel.network)),
          }
        }
        zone={zone}
        channels={channels}
        onOpen={onOpen}
      />
      <p id="lanes-keys" className="soft small-words mb-0">
        Drag a show to move it, its end to change its length; drag over empty lanes to draft one there. Quiet hours are folded: touch ⋯ beneath them, or the
        axis above them, to open them. <Legend />{' '}
        <span className="keys-help">
          By keys: arrows choose, Alt with arrows moves or lengthens, Enter does it or opens the sheet, Escape leaves it, D drafts, + and − scale.
        </span>
      </p>
    </div>
  );
}

/** As many pictures as there are shows in sight, and then some. */
const PICTURES_KEPT = 200;

/** Pictures for the canvas: asked for when they are first drawn, and drawn when they have come. */
function usePictures() {
  const [known] = useState(() => new Map<string, HTMLImageElement>());
  const [, drawAgain] = useReducer((count: number) => count + 1, 0);
  return useCallback(
    (url: string | null) => {
      if (url === null) return null;
      let image = known.get(url);
      if (!image) {
        if (known.size > PICTURES_KEPT) known.delete(known.keys().next().value!);
        known.set(url, (image = new Image()));
        image.onload = drawAgain;
        image.src = url;
      }
      return image.complete && image.naturalWidth > 0 ? image : null;
    },
    [known],
  );
}

const NONE_OPENED: ReadonlySet<number> = new Set();

/** Whether quiet hours are folded: they are, unless the address says otherwise. */
function useFolding(): [boolean, (folding: boolean) => void] {
  const [address, setAddress] = useSearchParams();
  const set = (folding: boolean) =>
    setAddress(
      (before) => {
        if (folding) before.delete('hours');
        else before.set('hours', 'all');
        return before;
      },
      { replace: true },
    );
  return [address.get('hours') !== 'all', set];
}

const hasMoved = (hand: { show: ShowSummary; startsAt: number; lengthMs: number }): boolean =>
  hand.startsAt !== hand.show.startsAt || hand.lengthMs !== hand.show.lengthMs;
const movable = ({ state }: ShowSummary): boolean => state === 'draft' || state === 'placed';

function period(from: number, to: number, zone: string): string {
  return new Intl.DateTimeFormat('en-GB', { timeZone: zone, day: 'numeric', month: 'short', year: 'numeric' }).formatRange(from, to - 1);
}

const STATES: Record<ShowSummary['state'], string> = {
  draft: 'draft',
  placed: 'placed',
  onAir: 'on air',
  interrupted: 'interrupted',
  over: 'over',
  withdrawn: 'withdrawn',
};

interface SaidProps {
  chosen: ShowSummary | undefined;
  moved: Moved | null;
  objections: readonly MoveObjection[];
  sweep: { from: number; to: number; channels: string[] } | null;
  zone: string;
  channels: readonly ChannelView[];
  onOpen: (show: ShowSummary) => void;
}

/** When each channel lets the show begin and where it would end it: the brackets and notches of the lanes in words. */
function Reach({ chosen, channels }: { chosen: ShowSummary; channels: readonly ChannelView[] }) {
  const said = chosen.airings.flatMap(({ channelId, channelName, network }) => {
    const rules = channels.find(({ id }) => id === channelId)?.rules;
    const { earliestMs = null, latestMs = null } = rules?.startWindow ?? {};
    if (!rules || (latestMs === null && rules.longestMs === null)) return [];
    const at = (ms: number) => sayTime(instant(chosen.startsAt + ms), chosen.zone, false);
    const window = latestMs === null ? '' : `begins ${at(earliestMs ?? 0)} to ${at(latestMs)}`;
    const end = rules.longestMs === null ? '' : `ends at ${sayLength(rules.longestMs)}`;
    return [`${network === 'typed-in' ? channelName : NETWORK_NAMES[network]} ${[window, end].filter(Boolean).join(', ')}`];
  });
  return said.length ? <p className="soft small-words mb-0">{said.join(' · ')}</p> : null;
}

/** The show in hand, in words: for everybody beneath the lanes, and for those who listen. */
function Said({ chosen, moved, objections, sweep, zone, channels, onOpen }: SaidProps) {
  const when = (at: number, lengthMs: number) => `${sayWhen(instant(at) as Instant, zone)}, for ${sayLength(lengthMs)}`;
  return (
    <div className="lanes-said" aria-live="polite">
      {sweep && sweep.to > sweep.from ? (
        <p className="mb-0">
          A draft on {when(sweep.from, sweep.to - sweep.from)}: {sweep.channels.join(', ') || 'no channel'}
        </p>
      ) : chosen ? (
        <>
          <p className="mb-0">
            <b>{chosen.title || 'Untitled'}</b> {moved ? `to ${when(moved.startsAt, moved.lengthMs)}` : when(chosen.startsAt, chosen.lengthMs)}
            <span className="soft">
              {' '}
              · {STATES[chosen.state]}, {chosen.airings.map(({ channelName, network }) => inFull(channelName, network)).join(', ') || 'no channel'}
            </span>{' '}
            {!moved && (
              <Button variant="quiet" size="sm" onClick={() => onOpen(chosen)}>
                Open the sheet
              </Button>
            )}
          </p>
          {!moved && <Reach chosen={chosen} channels={channels} />}
          {objections.slice(0, 4).map(({ severity, words }) => (
            <Notice key={words} kind={severity === 'objection' ? 'refusal' : 'caution'} live={false}>
              {words}
            </Notice>
          ))}
        </>
      ) : (
        <p className="soft mb-0">Choose a show to read about it here.</p>
      )}
    </div>
  );
}

function Legend() {
  return (
    <span className="lanes-legend">
      <span>
        <i className="r on" /> on air
      </span>
      <span>
        <i className="r draft" /> draft
      </span>
      <span>
        <i className="r waits" /> ready
      </span>
      <span>
        <i className="r placed" /> placed
      </span>
      <span>
        <i className="r refused" /> refused ×
      </span>
      <span>
        <i className="r over" /> over
      </span>
      <span>△ changed there</span>
      <span>
        <i className="r hatch" /> takes no start there
      </span>
    </span>
  );
}
