// The head of a sheet, which stays: what the show is called and when it is, how it stands, whether all is kept, what stands
// against it, and the one next step.
import { type ChannelView, type PlaceResult, type ShowDraft, type ShowView, type StationView } from '@lantern/contract';
import { HOUR_MS, type City, type Filling, type Instant } from '@lantern/core';
import { OctagonX } from 'lucide-react';
import { useEffect, useRef, useState, type RefObject } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { server } from '../app/server';
import { PageTitle } from '../app/PageTitle';
import { OthersHere } from './OthersHere';
import { KeepingLine } from './KeepingLine';
import type { Changeable, Judged, Need } from './judged';
import { needId } from './Section';
import { placeWords, PlaceSummary } from './PlaceSummary';
import { sayStart } from './section-words';
import type { SheetKeeping } from './sheet-keeping';
import type { Run } from './sheet-acts';
import type { ShowClash } from './show-clashes';

/** From so long before the start the stage is the next step, whatever else is open. */
const NEAR_MS = HOUR_MS;

interface HeadProps {
  show: ShowView;
  draft: ShowDraft;
  startsAt: Instant | null;
  station: StationView | null;
  channels: readonly ChannelView[];
  judged: readonly Judged[];
  clashes: readonly ShowClash[];
  needs: readonly Need[];
  filling: Filling;
  changeable: Changeable;
  keeping: SheetKeeping;
  now: Instant;
  busy: boolean;
  run: Run;
  /** Shows where one need is to be decided. */
  onJump: (need: Need) => void;
}

export function SheetHead(props: HeadProps) {
  const { show, draft, startsAt, station, keeping, changeable, needs, now } = props;
  const title = draft.title?.trim() || 'Untitled show';
  const { when } = sayStart(draft, startsAt, station, now);
  return (
    <div className="sheet-head">
      <PageTitle of={title} />
      <div className="sheet-title">
        <h1 tabIndex={-1}>{title}</h1>
        <p className="mb-0">
          {when} <b className="state-words">{stateWords(show)}</b>
        </p>
        <KeepingLine show={show} keeping={keeping} editable={changeable !== 'nothing'} />
        <OthersHere showId={show.id} place="sheet" />
      </div>
      <div className="sheet-next" id="place">
        <NextSteps {...props} />
        <Objections needs={needs} onJump={props.onJump} />
      </div>
    </div>
  );
}

/** "Placed on 3 of 4 channels". */
function stateWords({ state, airings }: Pick<ShowView, 'state' | 'airings'>): string {
  if (state === 'onAir') return 'On air.';
  if (state === 'interrupted') return 'Interrupted.';
  if (state === 'over') return 'Over.';
  const placed = airings.filter(({ placing }) => placing === 'placed' || placing === 'awaits air' || placing === 'awaits reach').length;
  if (state === 'draft' || state === 'withdrawn' || !placed) return 'A draft.';
  return placed === airings.length
    ? `Placed on ${placed === 1 ? 'its channel' : `all ${placed} channels`}.`
    : `Placed on ${placed} of ${airings.length} channels.`;
}

/** How many objections there are, and with each press the next of them. */
function Objections({ needs, onJump }: { needs: readonly Need[]; onJump: (need: Need) => void }) {
  const [last, setLast] = useState('');
  const objections = needs.filter(({ kind }) => kind === 'refusal');
  if (!objections.length) return null;
  const jump = () => {
    const next = objections[(objections.findIndex((need) => needId(need) === last) + 1) % objections.length]!;
    setLast(needId(next));
    onJump(next);
  };
  return (
    <Button variant="quiet" size="sm" className="objections" onClick={jump}>
      <OctagonX size={15} aria-hidden="true" /> {objections.length === 1 ? '1 objection' : `${objections.length} objections`}
      <span className="visually-hidden">: go to the next one</span>
    </Button>
  );
}

/** What comes next, as a button; beside it the stage where that can be opened as well. */
export function NextSteps({
  show,
  draft,
  channels,
  judged,
  clashes,
  filling,
  station,
  changeable,
  now,
  busy,
  run,
}: Omit<HeadProps, 'keeping' | 'needs' | 'onJump'>) {
  const [summing, setSumming] = useState(false);
  const first = useRef<HTMLDivElement>(null);
  useNextStepKey(first);
  const untold = show.airings.filter((airing) => airing.untold.length > 0);
  const toPlace = judged.filter(({ airing }) => !['placed', 'awaits air', 'awaits reach'].includes(airing?.placing ?? 'none'));
  const placed = show.airings.filter(({ placing }) => placing === 'placed').length;
  const stage = show.state === 'placed' || show.state === 'onAir' || show.state === 'interrupted';
  const near = stage && (show.state !== 'placed' || (filling.startsAt ?? show.startsAt) - now < NEAR_MS);
  const tellable = changeable !== 'nothing' && untold.length > 0;
  const placeable = changeable === 'all' && toPlace.length > 0;
  // One step leads; what else could be done is there, quieter.
  const leads = near && show.state !== 'placed' ? 'stage' : tellable ? 'tell' : placeable ? 'place' : 'stage';
  const look = (step: string) => (leads === step ? 'primary' : 'outline-primary');
  return (
    <div ref={first} className="next-steps">
      {show.state === 'over' && (
        <Link to={`/shows/${show.id}/report`} className="btn btn-primary">
          Read the report
        </Link>
      )}
      {(show.state === 'onAir' || show.state === 'interrupted') && (
        <Link to={`/shows/${show.id}/notes`} className="small-words">
          Write down what is said
        </Link>
      )}
      {changeable === 'all' && !channels.length && <p className="soft small-words mb-0">Tick a channel under Where, and the show can be placed.</p>}
      {tellable && (
        <Button variant={look('tell')} disabled={busy} onClick={() => void run(() => server.post<PlaceResult>(`/api/shows/${show.id}/tell`))}>
          {busy ? 'Asking the channels…' : `Move on ${untold.length === 1 ? 'its channel' : `${untold.length} channels`}`}
        </Button>
      )}
      {placeable && (
        <Button variant={look('place')} onClick={() => setSumming(true)} disabled={busy}>
          {busy && !tellable ? 'Asking the channels…' : placeWords(toPlace.length, placed)}
          {leads === 'place' && !busy && <kbd className="key ms-2">Ctrl ↵</kbd>}
        </Button>
      )}
      {stage && (
        <Link to={`/shows/${show.id}/stage`} className={`btn btn-${look('stage')}`}>
          Open the stage
        </Link>
      )}
      <PlaceSummary
        {...{ show, draft, clashes, filling, run }}
        cities={station?.cities ?? NO_CITIES}
        each={toPlace}
        open={summing}
        onClose={() => setSumming(false)}
      />
    </div>
  );
}

/** Ctrl and Enter take the next step from anywhere on the sheet, unless a question is open. */
function useNextStepKey(steps: RefObject<HTMLDivElement | null>) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey) || document.querySelector('[role=dialog]')) return;
      event.preventDefault();
      steps.current?.querySelector<HTMLElement>('.btn-primary:not(:disabled)')?.click();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [steps]);
}

const NO_CITIES: readonly City[] = [];
