// The summary before placing: who, where, when there and in the cities, what is against it, and what cannot be changed later.
import type { PlaceResult, ShowDraft, ShowView } from '@lantern/contract';
import { sayChoices, sayTime, sayWhen, settingsFor, wordingFor, type City, type Filling } from '@lantern/core';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { server } from '../app/server';
import { Explained } from '../look/Explained';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import type { Judged } from './judged';
import type { Run } from './sheet-acts';
import { variantOf } from './sheet-draft';
import type { ShowClash } from './show-clashes';

interface Props {
  show: ShowView;
  draft: ShowDraft;
  /** The channels on which the show is to be placed. */
  each: readonly Judged[];
  clashes: readonly ShowClash[];
  filling: Filling;
  cities: readonly City[];
  open: boolean;
  onClose: () => void;
  run: Run;
}

export function placeWords(toPlace: number, placed: number): string {
  const channels = toPlace === 1 ? '1 channel' : `${toPlace} channels`;
  return placed > 0 ? `Place on the missing ${channels}` : `Place on ${channels}`;
}

export function PlaceSummary({ show, draft, each, clashes, filling, cities, open, onClose, run }: Props) {
  const taken = each.filter(({ objections }) => objections.length === 0);
  /** What the channels answer takes the focus then, and not the button that was pressed before. */
  const [placed, setPlaced] = useState(false);
  const place = () => {
    onClose();
    setPlaced(true);
    // Only those are named that were shown as being taken: what has become wrong meanwhile is not placed by the way.
    const airingIds = taken.flatMap(({ airing }) => airing?.id ?? []);
    const all = taken.length === each.length || airingIds.length !== taken.length;
    void run(() => server.post<PlaceResult>(`/api/shows/${show.id}/place`, all ? {} : { airingIds }));
  };
  return (
    <Modal show={open} onHide={onClose} onShow={() => setPlaced(false)} restoreFocus={!placed} size="lg" scrollable aria-labelledby="summary-title">
      <Modal.Header closeButton>
        <h2 id="summary-title" className="mb-0">
          This goes out
        </h2>
      </Modal.Header>
      <Modal.Body>
        <p className="small-words">
          <Explained word="placing">What placing does</Explained>
        </p>
        <Summary draft={draft} each={each} whole={clashes.filter(({ channelId }) => channelId === null)} filling={filling} cities={cities} />
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onClose}>
          Not yet
        </Button>
        <Button onClick={place} disabled={!taken.length}>
          {taken.length === each.length
            ? each.length === 1
              ? 'Place it'
              : `Place all ${each.length}`
            : taken.length === 0
              ? 'Place on none yet'
              : `Place on ${taken.length} of ${each.length}`}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** What else is asked of a channel; nothing where it is asked nothing. */
function Chosen({ channel, draft }: { channel: Judged['channel']; draft: ShowDraft }) {
  const said = sayChoices(settingsFor(variantOf(draft, channel.id).choices, channel.defaults, channel.rules));
  return said.length > 0 && <span className="soft small-words d-block">{said.join(', ')}</span>;
}

interface SummaryProps extends Pick<Props, 'draft' | 'filling' | 'cities' | 'each'> {
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
                <Chosen channel={channel} draft={draft} />
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
