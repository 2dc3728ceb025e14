// How viewers will meet the show on each channel: all of them small, as in a list, or one large, as its own page there; and what
// the channel has answered, and what was changed there since.
import {
  NETWORK_NAMES,
  type AiringView,
  type ChannelView,
  type FoundEvent,
  type PlaceResult,
  type RenditionView,
  type ShowDraft,
  type ShowView,
  type VariantDraft,
} from '@lantern/contract';
import {
  checkAgainstChange,
  instant,
  rulesFor,
  sayDistance,
  sayFinding,
  sayNear,
  sayWhen,
  sayWithdrawing,
  wordingFor,
  type Finding,
  type Instant,
  type ShowFacts,
} from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { Check, OctagonX, TriangleAlert } from 'lucide-react';
import { memo, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { serverNow, useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { inFull } from '../look/channel-words';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { Drift } from './Drift';
import { fixWords } from './fixes';
import { placeOf, type Judged } from './judged';
import { useRenditions } from './picture-queries';
import { blankVariant, variantOf } from './sheet-draft';
import type { Put, Run } from './sheet-acts';
import { useReachable } from './reachable';

interface Props {
  judged: readonly Judged[];
  show: ShowView;
  draft: ShowDraft;
  now: Instant;
  busy: boolean;
  editable: boolean;
  /** On air: words alone may be put right. */
  onAir: boolean;
  put: Put;
  run: Run;
  onFix: (finding: Finding, channelId: string) => void;
}

export function ChannelsOfShow(props: Props) {
  const { judged, show } = props;
  const [address, setAddress] = useSearchParams();
  const renditions = useRenditions(show);
  const aside = useReachable();
  // One that is objected to is shown large by itself; otherwise all fit beside the sheet.
  const [first] = useState(() => judged.find(({ objections }) => objections.length > 0)?.channel.id ?? '');
  const large = address.get('channel') ?? first;
  const choose = (id: string) =>
    setAddress(
      (before) => {
        before.set('channel', id);
        return before;
      },
      { replace: true, preventScrollReset: true },
    );
  return (
    <aside ref={aside} aria-labelledby="channel-answers" className="as-met">
      <h2 id="channel-answers">As viewers meet it</h2>
      {!judged.length && <p className="soft small-words">Tick a channel, and how it will show this appears here.</p>}
      {judged.map((each) => (
        <ChannelCard
          key={each.channel.id}
          {...props}
          judged={each}
          rendition={renditions.find(({ channelId }) => channelId === each.channel.id) ?? null}
          large={large === each.channel.id}
          onLarge={(wanted) => choose(wanted ? each.channel.id : '')}
        />
      ))}
    </aside>
  );
}

interface CardProps extends Omit<Props, 'judged'> {
  judged: Judged;
  /** The picture as this channel gets it; null: not known yet, or it takes none. */
  rendition: RenditionView | null;
  large: boolean;
  onLarge: (large: boolean) => void;
}

function ChannelCard({ judged, rendition, large, onLarge, show, draft, now, busy, editable, onAir, put, run, onFix }: CardProps) {
  const { channel, airing, facts, findings, objections, cautions } = judged;
  const place = placeOf(channel);
  const pictureUrl = channel.rules.thumbnail ? (rendition?.url ?? show.thumbnail?.url ?? null) : null;
  const words = findings.filter(({ severity }) => severity === 'caution');
  return (
    <article className={`channel-answer ${large ? 'large' : 'small'}`} aria-label={`${channel.name}, ${place}`}>
      <button type="button" className="met-card" aria-expanded={large} onClick={() => onLarge(!large)}>
        <Identity of={channel} small>
          <span className="visually-hidden">{large ? ': show it small again' : ': show it large'}</span>
        </Identity>
        {!large && <ListCard channel={channel} facts={facts} pictureUrl={pictureUrl} zone={draft.zone} />}
      </button>
      <Answer airing={airing} channel={channel} objections={objections.length} cautions={large ? 0 : cautions.length} />
      {airing?.drift && (large || airing.drift.gone || airing.drift.differences.length > 0) && (
        <Drift show={show} airing={airing} zone={draft.zone} busy={busy} editable={editable} run={run} />
      )}
      {large && (
        <>
          <EventPage channel={channel} facts={facts} pictureUrl={pictureUrl} zone={draft.zone} />
          {objections.map((said) => (
            <Notice key={said} kind="refusal" live={false}>
              {said}
            </Notice>
          ))}
          {words.map((finding) => (
            <Caution
              key={finding.code}
              finding={finding}
              words={sayFinding(finding, place, draft.zone)}
              onFix={editable ? (each) => onFix(each, channel.id) : null}
            />
          ))}
          <OwnWords channel={channel} draft={draft} put={put} editable={editable || onAir} />
          <ComingRules channel={channel} facts={facts} now={now} zone={draft.zone} />
          {editable && channel.rules.maySchedule && channel.network !== 'typed-in' && (airing?.placing ?? 'none') !== 'placed' && (
            <AttachTo channel={channel} show={show} busy={busy} run={run} />
          )}
        </>
      )}
      {!large && <Differs from={variantOf(draft, channel.id)} />}
      {editable && airing?.placing === 'placed' && (
        <OnlyByReplacing airing={airing} channel={channel} findings={findings} busy={busy} showId={show.id} run={run} />
      )}
    </article>
  );
}

interface ShownProps {
  channel: ChannelView;
  facts: ShowFacts;
  pictureUrl: string | null;
  zone: string;
}

const whenThere = ({ channel, facts, zone }: ShownProps, say: (at: Instant, zone: string) => string) =>
  facts.startsAt === null ? 'No time yet' : channel.rules.maySchedule ? say(facts.startsAt, zone) : 'from the moment you go on air';

/** One among others in the channel's list: picture, the beginning of its title, when. */
const ListCard = memo(function ListCard(props: ShownProps) {
  const { channel, facts, pictureUrl } = props;
  const { title, text } = wordingFor(facts, channel.rules);
  return (
    <span className="list-card">
      {pictureUrl && <img src={pictureUrl} alt="" style={{ aspectRatio: channel.rules.thumbnail!.shape }} />}
      <span>
        <b className="title">{title || text || 'No words yet'}</b>
        <span className="soft d-block">{whenThere(props, (at, zone) => sayNear(at, zone, serverNow()))}</span>
      </span>
    </span>
  );
});

/** The event's own page there: picture, title and text as this channel cuts them, when and for whom. */
const EventPage = memo(function EventPage(props: ShownProps) {
  const { channel, facts, pictureUrl } = props;
  const { title, text } = wordingFor(facts, channel.rules);
  return (
    <div className="event-page">
      {pictureUrl && <img src={pictureUrl} alt="" style={{ aspectRatio: channel.rules.thumbnail!.shape }} />}
      {title && <b className="title">{title}</b>}
      <p className="soft mb-1">
        {whenThere(props, sayWhen)}, for {facts.visibility}
      </p>
      {text && <p className="text">{text}</p>}
    </div>
  );
});

/** Where a channel has words of its own. */
function Differs({ from: { title, description } }: { from: VariantDraft }) {
  if (title === null && description === null) return null;
  return (
    <p className="differs small-words mb-1">
      Differs from the common {[title !== null && 'title', description !== null && 'text'].filter(Boolean).join(' and ')}
    </p>
  );
}

/** The variant of this channel, plainly marked, with the way back. */
function OwnWords({ channel, draft, put, editable }: { channel: ChannelView; draft: ShowDraft; put: Put; editable: boolean }) {
  const variant = variantOf(draft, channel.id);
  const own = variant.title !== null || variant.description !== null;
  const [open, setOpen] = useState(false);
  const change = (words: Partial<VariantDraft>) => put({ variants: [{ ...variant, ...words }] });
  if (!editable) return <Differs from={variant} />;
  return (
    <div className="own-words small-words">
      <Differs from={variant} />
      {open && (
        <>
          {channel.rules.takesTitle && (
            <Form.Control
              size="sm"
              aria-label={`Title on ${inFull(channel.name, channel.network)} only`}
              value={variant.title ?? draft.title}
              onChange={({ target }) => change({ title: target.value === draft.title ? null : target.value })}
            />
          )}
          <Form.Control
            as="textarea"
            size="sm"
            rows={4}
            className="mt-1"
            aria-label={`Text on ${inFull(channel.name, channel.network)} only`}
            value={variant.description ?? draft.description}
            onChange={({ target }) => change({ description: target.value === draft.description ? null : target.value })}
          />
        </>
      )}
      <span className="button-row">
        <Button variant="quiet" size="sm" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Close' : own ? 'Edit the words for here' : 'Write it differently here'}
        </Button>
        {own && (
          <Button variant="quiet" size="sm" onClick={() => put({ variants: [{ ...blankVariant(channel.id), choices: variant.choices }] })}>
            Return to the common text
          </Button>
        )}
      </span>
    </div>
  );
}

/** How the show stands on the channel, in a line each. */
function Answer({ airing, channel, objections, cautions }: { airing: AiringView | null; channel: ChannelView; objections: number; cautions: number }) {
  const say = (kind: 'done' | 'caution' | 'refusal', words: string) => (
    <Notice kind={kind} live={false}>
      {words}
    </Notice>
  );
  const counted = (
    <p className="counted small-words">
      {objections > 0 && (
        <span className="refusal">
          <OctagonX size={15} aria-hidden="true" /> {objections === 1 ? '1 objection' : `${objections} objections`}
        </span>
      )}
      {cautions > 0 && (
        <span className="caution">
          <TriangleAlert size={15} aria-hidden="true" /> {cautions === 1 ? '1 thing to mind' : `${cautions} things to mind`}
        </span>
      )}
      {standingWords(airing, channel, objections)}
    </p>
  );
  // What is not there any more is told beneath, with the way out.
  if (airing?.drift?.gone) return null;
  if (airing?.refusal) {
    return (
      <>
        {say(airing.placing === 'placed' ? 'caution' : 'refusal', airing.refusal)}
        {counted}
      </>
    );
  }
  return counted;
}

/** Nothing where objections say enough. */
function standingWords(airing: AiringView | null, channel: ChannelView, objections: number) {
  const done = (words: string) => (
    <span className="done">
      <Check size={15} aria-hidden="true" /> {words}
    </span>
  );
  switch (airing?.refusal ? 'refused' : airing?.placing) {
    case 'placed':
      return done(airing!.visibility === 'everyone' ? 'Stands there.' : `Stands there, for ${airing!.visibility}.`);
    case 'awaits air':
      return done('Ready: it begins there when you go on air.');
    case 'awaits reach':
      return done('Placed by itself once it is near enough.');
    case 'refused':
      return null;
    case 'withdrawn':
      return (
        <span className="caution">
          <TriangleAlert size={15} aria-hidden="true" /> Withdrawn from there.
        </span>
      );
    default:
      if (objections) return null;
      return <span className="soft">{channel.rules.maySchedule ? 'Ready to be placed.' : 'Goes out there from the first moment on air.'}</span>;
  }
}

function Caution({ finding, words, onFix }: { finding: Finding; words: string; onFix: ((finding: Finding) => void) | null }) {
  return (
    <Notice kind="caution" live={false}>
      {words}{' '}
      {finding.fix && onFix && (
        <Button variant="quiet" size="sm" className="d-block" onClick={() => onFix(finding)}>
          {fixWords(finding)}
        </Button>
      )}
    </Notice>
  );
}

/** A change that the channel does not take: only by withdrawing and placing anew, with what is lost by it. */
function OnlyByReplacing({
  airing,
  channel,
  findings,
  busy,
  showId,
  run,
}: {
  airing: AiringView;
  channel: ChannelView;
  findings: Finding[];
  busy: boolean;
  showId: string;
  run: Run;
}) {
  const [asking, setAsking] = useState(false);
  const [answered, setAnswered] = useState(false);
  if (!findings.some(({ code }) => code === 'start-locked' || code === 'visibility-locked')) return null;
  const replace = () => {
    setAsking(false);
    setAnswered(true);
    void run(() => server.post<PlaceResult>(`/api/shows/${showId}/airings/${airing.id}/replace`));
  };
  return (
    <>
      <Button variant="quiet" size="sm" disabled={busy} onClick={() => setAsking(true)}>
        Withdraw and place again there…
      </Button>
      <Modal show={asking} onHide={() => setAsking(false)} onShow={() => setAnswered(false)} restoreFocus={!answered} aria-labelledby="replace-title">
        <Modal.Header closeButton>
          <h2 id="replace-title" className="mb-0">
            Place it anew on {channel.name}?
          </h2>
        </Modal.Header>
        <Modal.Body>
          <p>{sayWithdrawing(rulesFor(channel.network, channel.kind))}</p>
          <p className="mb-0">It gets another watch address there, and people who were reminded there are not reminded again.</p>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={() => setAsking(false)}>
            Leave it as it is
          </Button>
          <Button variant="danger" onClick={replace}>
            Withdraw and place again
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}

/** What the show will meet under rules that have been announced and are not in force yet. */
function ComingRules({ channel, facts, now, zone }: { channel: ChannelView; facts: ShowFacts; now: Instant; zone: string }) {
  if (channel.network === 'typed-in') return null;
  const { network, kind, notices } = channel;
  return notices.flatMap((notice) => {
    const then = rulesFor(network, kind, notices, notice.from);
    return checkAgainstChange(facts, channel.rules, then, notice.from, now).map((finding) => (
      <Notice key={`${notice.id}${finding.code}`} kind="caution" live={false}>
        From {sayWhen(notice.from, zone)}: {sayFinding(finding, NETWORK_NAMES[network], zone)} <Link to={`/channels/${channel.id}/rules`}>The new rule</Link>
      </Notice>
    ));
  });
}

/** Makes the show stand for an event that somebody made on the channel itself. */
function AttachTo({ channel, show, busy, run }: { channel: ChannelView; show: ShowView; busy: boolean; run: Run }) {
  const [open, setOpen] = useState(false);
  const now = useNow(60_000);
  const found = useQuery({
    queryKey: ['found', channel.id],
    queryFn: () => server.get<FoundEvent[]>(`/api/shows/${show.id}/found?channel=${channel.id}`),
    enabled: open,
    staleTime: 0,
  });
  const attach = (remoteId: string) => {
    setOpen(false);
    void run(async () => ({ show: await server.post<ShowView>(`/api/shows/${show.id}/attach`, { channelId: channel.id, remoteId }) }));
  };
  return (
    <>
      <Button variant="quiet" size="sm" disabled={busy} onClick={() => setOpen(true)}>
        It exists there already…
      </Button>
      <Modal show={open} onHide={() => setOpen(false)} aria-labelledby="attach-title">
        <Modal.Header closeButton>
          <h2 id="attach-title" className="mb-0">
            Which event on {channel.name}?
          </h2>
        </Modal.Header>
        <Modal.Body>
          <p>The show then stands for that event, and takes over what it says.</p>
          {found.error && <Notice kind="refusal">{wordsOf(found.error)}</Notice>}
          {found.isFetching && <p className="soft">Asking…</p>}
          {found.data?.length === 0 && !found.isFetching && <p>There is no event to come on this channel that is not known here already.</p>}
          <ul className="list-unstyled mb-0">
            {found.data?.map((event) => (
              <li key={event.remoteId} className="d-flex gap-3 justify-content-between align-items-start mb-3">
                <span>
                  <b>{event.title}</b>
                  <span className="d-block soft small-words">
                    {sayWhen(instant(event.startsAt), show.zone)}, {sayDistance(event.startsAt - now)}
                  </span>
                </span>
                <Button variant="outline-primary" size="sm" onClick={() => attach(event.remoteId)}>
                  This one
                </Button>
              </li>
            ))}
          </ul>
        </Modal.Body>
      </Modal>
    </>
  );
}
