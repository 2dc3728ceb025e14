// The last section of the sheet: what is still to be told, the summary before placing, and the proof after it.
import { NETWORK_NAMES, type ChannelResult, type ChannelView, type PlaceResult, type ShowDraft, type ShowView, type UntoldField } from '@lantern/contract';
import {
  checkShow,
  instant,
  sayFinding,
  sayTime,
  sayWhen,
  wordingFor,
  type City,
  type Filling,
  type Finding,
  type Instant,
  type ShowFacts,
} from '@lantern/core';
import { useEffect, useRef, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { CANNOT_RUN_STAGE, canRunStage } from '../app/stage-support';
import { factsFor } from './ChannelsOfShow';
import { RemoveShow } from './RemoveShow';
import { clashesOfSheet, usePlan, type ShowClash } from './show-clashes';
import type { Outcome, Run } from './sheet-acts';
import { WithdrawShow } from './WithdrawShow';

interface Props {
  show: ShowView;
  draft: ShowDraft;
  channels: ChannelView[];
  filling: Filling;
  cities: readonly City[];
  outcome: Outcome;
  run: Run;
  busy: boolean;
  editable: boolean;
  /** On air: what was changed of the words can be told to the channels. */
  onAir: boolean;
}

const UNTOLD_WORDS: Record<UntoldField, string> = {
  title: 'the title',
  text: 'the text',
  startsAt: 'the start',
  lengthMs: 'the length',
  visibility: 'who may see it',
  picture: 'the picture',
  choices: 'what was chosen for it, such as its line',
};

export function Checks({ show, draft, channels, filling, cities, outcome, run, busy, editable, onAir }: Props) {
  const [summing, setSumming] = useState(false);
  const toPlace = channels.filter((channel) => {
    const placing = show.airings.find((airing) => airing.channel.id === channel.id)?.placing;
    return placing !== 'placed' && placing !== 'awaits air' && placing !== 'awaits reach';
  });
  const placed = show.airings.filter(({ placing }) => placing === 'placed').length;
  const untold = show.airings.filter((airing) => airing.untold.length > 0);
  const now = useNow(15_000);
  const plan = usePlan();
  const clashes = plan.data ? clashesOfSheet(plan.data, draft, show, filling.startsAt, channels, now) : [];
  const each = toPlace.map((channel) => judged(channel, show, draft, filling, clashes, now));
  const taken = each.filter(({ objections }) => objections.length === 0);
  const answer = useRef<HTMLDivElement>(null);
  const place = () => {
    setSumming(false);
    // Only those are named that were shown as being taken: what has become wrong meanwhile is not placed by the way.
    const airingIds = taken.flatMap(({ channel }) => show.airings.find((airing) => airing.channel.id === channel.id)?.id ?? []);
    const all = taken.length === toPlace.length || airingIds.length !== taken.length;
    void run(() => server.post<PlaceResult>(`/api/shows/${show.id}/place`, all ? {} : { airingIds }));
  };
  // What was answered stands in sight, wherever the button was.
  useEffect(() => {
    if (!outcome.refused && !outcome.results.length) return;
    answer.current?.scrollIntoView({ block: 'center' });
    answer.current?.focus({ preventScroll: true });
  }, [outcome]);
  const stage = show.state === 'placed' || show.state === 'onAir' || show.state === 'interrupted';
  return (
    <section aria-labelledby="checks-heading" id="checks">
      <h2 id="checks-heading">Checks</h2>
      <div ref={answer} tabIndex={-1} className="answer">
        {outcome.refused && <Notice kind="refusal">{outcome.refused}</Notice>}
        {outcome.results.map((result) => (
          <Result key={result.airingId} result={result} zone={draft.zone} />
        ))}
      </div>
      {(editable || onAir) && untold.length > 0 && (
        <Notice kind="caution" live={false}>
          {untold.map(({ channel }) => channel.name).join(', ')} {untold.length === 1 ? 'has' : 'have'} not been told of{' '}
          {[...new Set(untold.flatMap((airing) => airing.untold))].map((field) => UNTOLD_WORDS[field]).join(', ')}.{' '}
          <Button
            variant="outline-primary"
            size="sm"
            className="mt-1"
            disabled={busy}
            onClick={() => void run(() => server.post<PlaceResult>(`/api/shows/${show.id}/tell`))}
          >
            {busy ? 'Asking the channels…' : `Move on ${untold.length === 1 ? 'its channel' : `${untold.length} channels`}`}
          </Button>
        </Notice>
      )}
      {editable && !channels.length && <p className="soft mb-2">Tick a channel under Where, and the show can be placed.</p>}
      <div className="d-flex flex-wrap gap-3 align-items-center mt-2">
        {editable && toPlace.length > 0 && (
          <Button onClick={() => setSumming(true)} disabled={busy}>
            {busy ? 'Asking the channels…' : placeWords(toPlace.length, placed)}
          </Button>
        )}
        {stage && (
          <Link to={`/shows/${show.id}/stage`} className="btn btn-outline-primary">
            Open the stage
          </Link>
        )}
        {show.state === 'over' && <Link to={`/shows/${show.id}/report`}>Read the report</Link>}
        {editable && placed > 0 && (
          <Button variant="quiet" disabled={busy} onClick={() => void run(() => server.post<PlaceResult>(`/api/shows/${show.id}/look`))}>
            Look at the channels now
          </Button>
        )}
        {editable && show.state === 'placed' && <WithdrawShow show={show} run={run} busy={busy} />}
      </div>
      {stage && !canRunStage() && (
        <Notice kind="caution" live={false}>
          {CANNOT_RUN_STAGE}
        </Notice>
      )}
      <NextTime
        show={show}
        removable={show.state === 'over' || (editable && !show.airings.some(({ placing }) => placing === 'placed' || placing === 'unsure'))}
      />
      <Modal show={summing} onHide={() => setSumming(false)} size="lg" scrollable aria-labelledby="summary-title">
        <Modal.Header closeButton>
          <h2 id="summary-title" className="mb-0">
            This goes out
          </h2>
        </Modal.Header>
        <Modal.Body>
          <Summary draft={draft} each={each} whole={clashes.filter(({ channelId }) => channelId === null)} filling={filling} cities={cities} />
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={() => setSumming(false)}>
            Not yet
          </Button>
          <Button onClick={place} disabled={!taken.length}>
            {taken.length === toPlace.length
              ? toPlace.length === 1
                ? 'Place it'
                : `Place all ${toPlace.length}`
              : taken.length === 0
                ? 'Place on none yet'
                : `Place on ${taken.length} of ${toPlace.length}`}
          </Button>
        </Modal.Footer>
      </Modal>
    </section>
  );
}

function placeWords(toPlace: number, placed: number): string {
  const channels = toPlace === 1 ? '1 channel' : `${toPlace} channels`;
  return placed > 0 ? `Place on the missing ${channels}` : `Place on ${channels}`;
}

interface Judged {
  channel: ChannelView;
  facts: ShowFacts;
  findings: Finding[];
  /** What keeps it from being placed there, in words: rules and clashes alike. */
  objections: string[];
  /** What does not, and is good to know before. */
  cautions: string[];
}

/** Everything that is to be said about placing on one channel. */
function judged(channel: ChannelView, show: ShowView, draft: ShowDraft, filling: Filling, clashes: readonly ShowClash[], now: Instant): Judged {
  const facts = factsFor(draft, show, channel, filling);
  const findings = checkShow(facts, channel.rules, now);
  const place = channel.network === 'typed-in' ? channel.name : NETWORK_NAMES[channel.network];
  const own = clashes.filter(({ channelId }) => channelId === channel.id);
  const words = (severity: Finding['severity']) => [
    ...findings.filter((finding) => finding.severity === severity).map((finding) => sayFinding(finding, place, draft.zone)),
    ...own.filter((clash) => clash.severity === severity).map((clash) => clash.words),
  ];
  return { channel, facts, findings, objections: words('objection'), cautions: words('caution') };
}

interface SummaryProps extends Pick<Props, 'draft' | 'filling' | 'cities'> {
  each: readonly Judged[];
  /** What concerns the whole show. */
  whole: readonly ShowClash[];
}

/** Who, where, when there and in the cities, what is against it, and what cannot be changed later. */
function Summary({ draft, each, whole, filling, cities }: SummaryProps) {
  const { startsAt } = filling;
  const fixed = each.some(({ channel, objections }) => !objections.length && channel.rules.lockedAfterPlacing.some((field) => field !== 'account'));
  const some = each.some(({ objections }) => objections.length > 0) && each.some(({ objections }) => !objections.length);
  return (
    <>
      {startsAt !== null && (
        <p className="mb-3">
          <b>{sayWhen(startsAt, draft.zone)}</b>
          {cities.filter(({ zone }) => zone !== draft.zone).length > 0 && (
            <span className="d-block soft small-words">
              {cities
                .filter(({ zone }) => zone !== draft.zone)
                .map(
                  ({ name, zone }) =>
                    `${name} ${sayTime(startsAt, zone, false)}, ${new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'short', day: 'numeric', month: 'short' }).format(startsAt)}`,
                )
                .join(' · ')}
            </span>
          )}
        </p>
      )}
      {whole.map(({ words }) => (
        <Notice key={words} kind="caution" live={false}>
          {words}
        </Notice>
      ))}
      {some && fixed && (
        <Notice kind="caution" live={false}>
          If you place on some now, what cannot be changed there stays as it is, also if the others need another time.
        </Notice>
      )}
      <ul className="summary">
        {each.map(({ channel, facts, findings, objections, cautions }) => {
          const wording = wordingFor(facts, channel.rules);
          const objected = objections.length > 0;
          const waits = !objected && findings.some(({ code }) => code === 'start-too-far');
          const locked = channel.rules.lockedAfterPlacing.filter((field) => field !== 'account');
          return (
            <li key={channel.id}>
              <Identity of={channel}>
                <span className="d-block">
                  {wording.title || wording.text.split('\n')[0]}
                  <span className="soft">, for {facts.visibility}</span>
                </span>
                {waits && <span className="soft small-words d-block">too far ahead for now: placed by itself once it is near enough</span>}
                {objections.map((words) => (
                  <Notice key={words} kind="refusal" live={false}>
                    {words}
                  </Notice>
                ))}
                {!waits &&
                  cautions.map((words) => (
                    <Notice key={words} kind="caution" live={false}>
                      {words}
                    </Notice>
                  ))}
                {!objected && channel.rules.maySchedule && locked.length > 0 && (
                  <Notice kind="caution" live={false}>
                    Cannot be changed there afterwards: {locked.join(', ')}.
                  </Notice>
                )}
              </Identity>
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** What a channel answered and, after placing, what it says itself. */
function Result({ result, zone }: { result: ChannelResult; zone: string }) {
  const { proof } = result;
  return (
    <Notice kind={result.done ? 'done' : 'refusal'}>
      {result.words}
      {proof && (
        <span className="d-block soft">
          Read back: “{proof.title}”, {sayWhen(instant(proof.startsAt), zone)}, for {proof.visibility}
          {proof.same ? '.' : ', which is not what was sent. See beside the sheet.'}{' '}
          {proof.watchUrl && (
            <a href={proof.watchUrl} target="_blank" rel="noreferrer">
              See it there
            </a>
          )}
        </span>
      )}
    </Notice>
  );
}

/** The show as a beginning for others. */
function NextTime({ show, removable }: { show: ShowView; removable: boolean }) {
  const navigate = useNavigate();
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState(show.title);
  const [said, setSaid] = useState<{ kind: 'done' | 'refusal'; words: string } | null>(null);
  const again = async () => {
    try {
      const next = await server.post<ShowView>(`/api/shows/${show.id}/again`);
      await navigate(`/shows/${next.id}`);
    } catch (error) {
      setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  };
  const keep = async () => {
    try {
      await server.post(`/api/shows/${show.id}/template`, { name });
      setNaming(false);
      setSaid({ kind: 'done', words: `Kept as the template “${name}”. New shows can start from it.` });
    } catch (error) {
      setSaid({ kind: 'refusal', words: wordsOf(error) });
    }
  };
  return (
    <div className="next-time small-words">
      <span className="d-flex flex-wrap gap-3 align-items-center">
        <Button variant="quiet" size="sm" onClick={() => void again()}>
          Do it again next time
        </Button>
        {!naming && (
          <Button variant="quiet" size="sm" onClick={() => setNaming(true)}>
            Keep as a template…
          </Button>
        )}
        {removable && <RemoveShow show={show} />}
      </span>
      {naming && (
        <span className="d-flex gap-2 mt-2">
          <Form.Control size="sm" aria-label="Name of the template" value={name} onChange={({ target }) => setName(target.value)} />
          <Button size="sm" variant="outline-primary" onClick={() => void keep()}>
            Keep
          </Button>
        </span>
      )}
      {said && <Notice kind={said.kind}>{said.words}</Notice>}
    </div>
  );
}
