// How the show goes out, way by way: what is measured, what is wrong and what to do, and how it was over the last ten minutes.
import { loudnessVerdict, SIGNAL_EVERY_MS, signalOf, SignalWatch, type SignalFacts, type WayVerdict } from '@lantern/core';
import { line, scaleLinear } from 'd3';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { serverNow } from '../app/clock';
import { server } from '../app/server';
import { useStage, type StageState } from './stage-store';

const KEPT_S = 600;
const SIZE = { width: 220, height: 30 };
/** The ways of which a figure is followed, and what a full line is. */
const FOLLOWED = { stage: { most: 30, unit: 'pictures a second' }, line: { most: 2_700, unit: 'kbit/s' } } as const;
type Followed = keyof typeof FOLLOWED;

/** One second of the ten minutes; null: not measured. */
type Second = Record<Followed, number | null>;

const whole = (value: number | null): number | null => value && Math.round(value);

const WEIGHT = { mind: 'To mind', bad: 'Wrong' } as const;

function factsOf(state: StageState, microphones: boolean): SignalFacts {
  const { camera, cameraLost, cameraId, strips, levels, loudness, targetLufs, pictures, sending, connected, confirmedKbps, uplink, air } = state;
  const { guests, guestsSmaller } = state;
  const open = microphones && strips.microphone.on;
  return {
    camera: cameraLost ? 'lost' : cameraId === 'none' ? null : camera,
    microphone: open ? levels.verdicts.microphone : null,
    loudness: loudness && loudnessVerdict(loudness, targetLufs),
    pictures,
    hidden: document.visibilityState === 'hidden',
    guests: { seen: guests.filter(({ broughtIn }) => broughtIn).length, smaller: guestsSmaller },
    line: sending || !connected ? { connected, confirmedKbps: confirmedKbps ?? 0, uplink } : null,
    channels: (air?.airings ?? []).map(({ airingId, channelName, network, lamp, words }) => ({
      ...{ id: airingId, name: network ? `${channelName} on ${network}` : channelName, lamp, words },
    })),
  };
}

interface Props {
  showId: string;
  microphones: boolean;
  /** Has guests' pictures come smaller, or as large as they are drawn again. */
  onSmaller: (smaller: boolean) => void;
}

export function SignalHere({ showId, microphones, onSmaller }: Props) {
  const [watch] = useState(() => new SignalWatch());
  const [seen, setSeen] = useState<{ ways: readonly WayVerdict[]; seconds: readonly Second[] }>({ ways: [], seconds: [] });
  const [open, setOpen] = useState(false);
  useEffect(() => {
    let untold: Second[] = [];
    /** What the stage that sends has measured is told in one, for the report. That it could not be is nothing for the host: so much is missing there. */
    const tell = (second: Second) => {
      const { air, sending } = useStage.getState();
      if (!sending || air?.showState !== 'onAir') untold = [];
      else if ((untold = [...untold, second]).length * 1_000 >= SIGNAL_EVERY_MS) {
        const sample = signalOf(
          untold.map(({ stage, line: kbps }) => ({ pictures: whole(stage), kbps: whole(kbps) })),
          serverNow(),
        );
        untold = [];
        if (sample) server.post(`/api/shows/${showId}/signal`, { pictures: sample.pictures, kbps: sample.kbps }).catch(() => undefined);
      }
    };
    const timer = setInterval(() => {
      const facts = factsOf(useStage.getState(), microphones);
      const ways = watch.hear(facts);
      const second: Second = { stage: facts.pictures?.made ?? null, line: facts.line && (facts.line.connected ? facts.line.confirmedKbps : 0) };
      setSeen(({ seconds }) => ({ ways, seconds: [...seconds, second].slice(-KEPT_S) }));
      tell(second);
    }, 1_000);
    return () => clearInterval(timer);
  }, [watch, microphones, showId]);
  const wrong = seen.ways.filter(({ fault }) => fault !== null);
  if (!seen.ways.length) return null;
  return (
    <details className="watching-here signal-here small-words" open={open} onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary>
        Signal: {wrong.length === 0 ? 'all is well' : wrong.length === 1 ? '1 thing to look at' : `${wrong.length} things to look at`}
        {/* Their words stand below, and those of channels at the foot of the stage as well. */}
        {wrong.length > 0 && <span className="soft"> · {wrong.map(({ name }) => name).join(', ')}</span>}
      </summary>
      {open && (
        <table>
          <thead className="visually-hidden">
            <tr>
              <th>Way</th>
              <th>How it is</th>
              <th>The last ten minutes</th>
            </tr>
          </thead>
          <tbody>
            {seen.ways.map(({ way, name, measured, used, fault }) => (
              <tr key={way}>
                <th scope="row">{name}</th>
                <td>
                  {fault ? (
                    <>
                      <b>{WEIGHT[fault.weight]}:</b> {fault.words} <span className="soft d-block">{fault.todo}</span>
                    </>
                  ) : (
                    <>
                      {used && 'Good. '}
                      <span className="soft">{measured}</span>
                    </>
                  )}
                </td>
                <td>
                  {way === 'stage' && <Smaller slow={fault?.kind === 'few pictures'} onSmaller={onSmaller} />}
                  {(way === 'stage' || way === 'line') && <TenMinutes of={way} seconds={seen.seconds} />}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}

/** Offered where this machine does not keep up with the guests who are seen; taken back by the same button. */
function Smaller({ slow, onSmaller }: { slow: boolean; onSmaller: Props['onSmaller'] }) {
  const seen = useStage(({ guests }) => guests.some(({ broughtIn }) => broughtIn));
  const smaller = useStage(({ guestsSmaller }) => guestsSmaller);
  if (!smaller && !(slow && seen)) return null;
  return (
    <Button variant="quiet" size="sm" className="d-block" onClick={() => onSmaller(!smaller)}>
      {smaller ? 'Guests’ pictures whole again' : 'Have guests’ pictures come smaller'}
    </Button>
  );
}

/** From left to right, ten minutes; where nothing was measured, there is no line. */
function TenMinutes({ of, seconds }: { of: Followed; seconds: readonly Second[] }) {
  const { most, unit } = FOLLOWED[of];
  const x = scaleLinear([0, KEPT_S], [0, SIZE.width]);
  const y = scaleLinear([0, most], [SIZE.height - 2, 2]).clamp(true);
  const path = line<Second>(
    (_, at) => x(KEPT_S - seconds.length + at),
    (second) => y(second[of] ?? 0),
  ).defined((second) => second[of] !== null);
  const known = seconds.flatMap((second) => second[of] ?? []);
  const least = known.length ? `, least ${Math.round(Math.min(...known))} ${unit}` : '';
  return (
    <svg viewBox={`0 0 ${SIZE.width} ${SIZE.height}`} width={SIZE.width} height={SIZE.height} role="img" aria-label={`The last ten minutes${least}`}>
      <line x1={0} x2={SIZE.width} y1={SIZE.height - 2} y2={SIZE.height - 2} stroke="var(--hairline)" />
      <path d={path(seconds) ?? ''} fill="none" stroke="var(--fell)" strokeWidth={1.5} />
    </svg>
  );
}
