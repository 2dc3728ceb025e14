// The show's own dated line of work, down the left edge: done, due or late, by facts where there are any.
import type { ChannelView, ShowDraft, ShowView } from '@lantern/contract';
import {
  instant,
  MILESTONE_FIELDS,
  MILESTONE_WORDS,
  MINUTE_MS,
  milestonesOf,
  USUAL_TIMES,
  wallTimeOf,
  type Instant,
  type Milestone,
  type MilestoneState,
  type MilestoneTimes,
  startOf,
  milestoneFacts,
} from '@lantern/core';
import { Check, Circle, CircleAlert, CircleDot, Minus } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useLocation } from 'react-router';
import { useNow } from '../app/clock';
import { Explained } from '../look/Explained';
import { TimesFields } from '../station/TimesFields';
import type { Put } from './sheet-acts';

interface Props {
  show: ShowView;
  draft: ShowDraft;
  times: MilestoneTimes | null;
  channels: readonly ChannelView[];
  put: Put;
  editable: boolean;
}

const MARKS: Record<MilestoneState, typeof Check> = {
  done: Check,
  due: CircleDot,
  late: CircleAlert,
  'short notice': CircleDot,
  later: Circle,
  'not needed': Minus,
};
const STATE_WORDS: Record<MilestoneState, string> = {
  done: 'done',
  due: 'due',
  late: 'late',
  'short notice': 'due now, at short notice',
  later: 'later',
  'not needed': 'not needed',
};

export function Milestones({ show, draft, times, channels, put, editable }: Props) {
  const now = useNow(30_000);
  const [setting, setSetting] = useState(false);
  const { search } = useLocation();
  const startsAt = startOf(draft) ?? instant(show.startsAt);
  const station = times ?? USUAL_TIMES;
  const own = { ...station, ...(draft.milestoneTimes ?? {}) };
  const facts = milestoneFacts(
    {
      ...show,
      startsAt,
      lengthMs: (draft.lengthMin || 0) * MINUTE_MS,
      hasPicture: show.thumbnail !== null,
      people: draft.people ?? [],
      ticked: draft.ticked ?? [],
      said: draft.said ?? [],
      airings: show.airings.map(({ channel, placing }) => ({ channelId: channel.id, channelName: channel.name, placing })),
    },
    channels,
  );
  const steps = milestonesOf(facts, own, now).filter(({ state }) => state !== 'not needed');
  const next = steps.findIndex(({ state }) => state !== 'done');
  const tick = (step: Milestone) => {
    const ticked = draft.ticked ?? [];
    put({ ticked: ticked.includes(step.name) ? ticked.filter((name) => name !== step.name) : [...ticked, step.name] });
  };
  return (
    <nav aria-label="Milestones" className="milestones-side">
      <p className="milestones-name">
        <Explained word="milestone">Milestones</Explained>
      </p>
      <ol className="milestones" aria-label="Milestones">
        {steps.map((step, index) => {
          const Mark = MARKS[step.state];
          const field = MILESTONE_FIELDS[step.name];
          const words = MILESTONE_WORDS[step.name];
          return (
            <li
              key={step.name}
              className={`${index === next ? 'fw-bold' : ''} step-${step.state.replace(' ', '-')}`}
              aria-current={index === next ? 'step' : undefined}
            >
              <Mark size={13} strokeWidth={step.state === 'done' ? 3 : 2} aria-label={STATE_WORDS[step.state]} />
              {field ? (
                <Link to={{ search, hash: field }} replace className="plain-link">
                  {words}
                </Link>
              ) : (
                words
              )}
              <div className="soft fw-normal">
                {step.state === 'late' && <span className="late-word">late, </span>}
                {step.state === 'short notice' && 'short notice, '}
                {step.at !== null && sayDay(step.at, startsAt, draft.zone)}
                {step.missing.length > 0 &&
                  `, ${show.airings.length - step.missing.length} of ${show.airings.length} ${show.airings.length === 1 ? 'channel' : 'channels'}`}
              </div>
              {step.byHand && editable && (
                <Button variant="quiet" size="sm" className="fw-normal p-0" onClick={() => tick(step)}>
                  {step.state === 'done' ? 'Not done after all' : 'Tick off'}
                  <span className="visually-hidden">: {words}</span>
                </Button>
              )}
            </li>
          );
        })}
      </ol>
      {editable && (
        <>
          <Button variant="quiet" size="sm" aria-expanded={setting} onClick={() => setSetting(!setting)}>
            {setting ? 'Close' : 'Other times for this show'}
          </Button>
          {setting && <TimesFields times={own} onChange={(milestoneTimes) => put({ milestoneTimes: differing(milestoneTimes, station) })} />}
        </>
      )}
    </nav>
  );
}

/** Only what differs from the station's times is the show's own. */
function differing(times: MilestoneTimes, station: MilestoneTimes): Partial<MilestoneTimes> {
  return Object.fromEntries(
    (Object.keys(times) as (keyof MilestoneTimes)[]).filter((name) => times[name] !== station[name]).map((name) => [name, times[name]]),
  );
}

/** "20:20" on the day itself, "Mon 30 Nov" before and after. */
function sayDay(at: Instant, startsAt: Instant, zone: string): string {
  const { date, time } = wallTimeOf(at, zone);
  if (date === wallTimeOf(startsAt, zone).date) return time;
  return new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'short', day: 'numeric', month: 'short' }).format(at);
}
