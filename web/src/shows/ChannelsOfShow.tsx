// How each channel will show it: its card as one types, what the channel objects to, what its lines are
// promised to, what it has answered, and what was changed there since.
import {
  NETWORK_NAMES,
  type AiringView,
  type ChannelView,
  type FoundEvent,
  type PlaceResult,
  type ShowDraft,
  type ShowView,
  type VariantDraft,
} from '@lantern/contract';
import {
  checkAgainstChange,
  checkShow,
  instant,
  mayBroadcast,
  MINUTE_MS,
  rulesFor,
  sayDistance,
  sayFinding,
  sayTime,
  sayWhen,
  sayWithdrawing,
  factsToCheck,
  settingsFor,
  wordingFor,
  type Filling,
  type Finding,
  type Instant,
  type ShowFacts,
  startOf,
  whenOf,
} from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { memo, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { standingOf } from '../channels/standing';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { Drift } from './Drift';
import { clashesOfSheet, usePlan, type ShowClash } from './show-clashes';
import { blankVariant, variantOf } from './sheet-draft';
import type { Put, Run } from './sheet-acts';

interface Props {
  channels: ChannelView[];
  show: ShowView;
  draft: ShowDraft;
  filling: Filling;
  busy: boolean;
  editable: boolean;
  /** On air: words alone may be put right. */
  onAir: boolean;
  put: Put;
  run: Run;
  onFix: (finding: Finding, channelId: string) => void;
}

export function ChannelsOfShow(props: Props) {
  const { channels, show, draft, put } = props;
  const now = useNow(15_000);
  const plan = usePlan();
  const startsAt = startOf(draft);
  const clashes = plan.data ? clashesOfSheet(plan.data, draft, show, startsAt, channels, now) : [];
  const chooseLine = (channelId: string, lineId: string) =>
    put({ lines: [...draft.lines.filter((line) => line.channelId !== channelId), { channelId, lineId }] });
  return (
    <aside aria-labelledby="channel-answers">
      <h2 id="channel-answers" className="mb-3">
        On each channel
      </h2>
      {!channels.length && <p className="soft small-words">Tick a channel, and how it will show this appears here.</p>}
      {clashes
        .filter(({ channelId }) => channelId === null)
        .map((clash) => (
          <ClashNotice key={clash.words} clash={clash} zone={draft.zone} onLine={chooseLine} onStart={(at) => put(whenOf(at, draft.zone))} />
        ))}
      {channels.map((channel) => (
        <ChannelCard
          key={channel.id}
          {...props}
          channel={channel}
          now={now}
          clashes={clashes.filter(({ channelId }) => channelId === channel.id)}
          onLine={chooseLine}
        />
      ))}
    </aside>
  );
}

/** The facts of the show as one channel's rules look at them. */
export function factsFor(draft: ShowDraft, show: ShowView, channel: ChannelView, filling: Filling): ShowFacts {
  const variant = variantOf(draft, channel.id);
  const airing = show.airings.find((each) => each.channel.id === channel.id);
  const { visibility, audience, messages } = settingsFor(variant.choices, channel.defaults, channel.rules);
  return factsToCheck({
    ...{ title: draft.title ?? '', description: draft.description ?? '', thumbnailAlternative: draft.thumbnailAlternative ?? '', variant },
    filling: { ...filling, watchUrl: airing?.watchUrl ?? null },
    startsAt: filling.startsAt,
    lengthMs: (draft.lengthMin || 0) * MINUTE_MS,
    thumbnail: show.thumbnail,
    settings: { visibility, audience, messages },
    stands: airing ?? null,
  });
}

interface CardProps extends Props {
  channel: ChannelView;
  now: Instant;
  clashes: ShowClash[];
  onLine: (channelId: string, lineId: string) => void;
}

function ChannelCard({ channel, now, clashes, show, draft, filling, busy, editable, onAir, put, run, onFix, onLine }: CardProps) {
  const airing = show.airings.find((each) => each.channel.id === channel.id) ?? null;
  const facts = factsFor(draft, show, channel, filling);
  // Of what is over nobody asks any more whether it could begin; on air only words can still be wrong.
  const all = editable || onAir ? checkShow(facts, channel.rules, now) : [];
  const findings = onAir ? all.filter(({ subject }) => subject === 'title' || subject === 'description') : all;
  const place = channel.network === 'typed-in' ? channel.name : NETWORK_NAMES[channel.network];
  const objected = [...findings, ...clashes].some(({ severity }) => severity === 'objection');
  const about = (subjects: Finding['subject'][]) =>
    findings
      .filter(({ subject }) => subjects.includes(subject))
      .map((finding) => (
        <Objection
          key={finding.code}
          finding={finding}
          words={sayFinding(finding, place, draft.zone)}
          onFix={editable ? (each) => onFix(each, channel.id) : null}
        />
      ));
  return (
    <article className="channel-answer" aria-label={`${channel.name}, ${place}`}>
      <Identity of={channel} small />
      <Answer airing={airing} channel={channel} quiet={objected} />
      <StandingTrouble channel={channel} />
      {airing?.drift && <Drift show={show} airing={airing} zone={draft.zone} busy={busy} editable={editable} run={run} />}
      <AsShownThere channel={channel} facts={facts} thumbnailUrl={show.thumbnail?.url ?? null} zone={draft.zone} />
      {about(['title', 'description'])}
      <OwnWords channel={channel} draft={draft} put={put} editable={editable || onAir} />
      {about(['startsAt', 'length', 'channels', 'visibility', 'thumbnail'])}
      {editable && airing?.placing === 'placed' && (
        <OnlyByReplacing airing={airing} channel={channel} findings={findings} busy={busy} showId={show.id} run={run} />
      )}
      {clashes.map((clash) => (
        <ClashNotice key={clash.words} clash={clash} zone={draft.zone} onLine={onLine} onStart={(at) => put(whenOf(at, draft.zone))} />
      ))}
      <ComingRules channel={channel} facts={facts} now={now} zone={draft.zone} />
      {editable && channel.rules.maySchedule && channel.network !== 'typed-in' && (airing?.placing ?? 'none') !== 'placed' && (
        <AttachTo channel={channel} show={show} busy={busy} run={run} />
      )}
    </article>
  );
}

/** Picture, title and text as this channel cuts them, and when and for whom. */
const AsShownThere = memo(function AsShownThere({
  channel,
  facts,
  thumbnailUrl,
  zone,
}: {
  channel: ChannelView;
  facts: ShowFacts;
  thumbnailUrl: string | null;
  zone: string;
}) {
  const { rules } = channel;
  const { title, text } = wordingFor(facts, rules);
  const shape = rules.thumbnail?.shape ?? 16 / 9;
  return (
    <div className="as-there">
      {rules.thumbnail && thumbnailUrl && <img src={thumbnailUrl} alt="" style={{ aspectRatio: shape }} />}
      {title && <b className="title">{title}</b>}
      {text && <p className="text">{text}</p>}
      <p className="soft mb-0">
        {facts.startsAt === null ? 'No time yet' : rules.maySchedule ? sayWhen(facts.startsAt, zone) : 'from the moment you go on air'}, for {facts.visibility}
      </p>
    </div>
  );
});

/** The variant of this channel, plainly marked, with the way back. */
function OwnWords({ channel, draft, put, editable }: { channel: ChannelView; draft: ShowDraft; put: Put; editable: boolean }) {
  const variant = variantOf(draft, channel.id);
  const own = variant.title !== null || variant.description !== null;
  const [open, setOpen] = useState(false);
  const change = (words: Partial<VariantDraft>) => put({ variants: [{ ...variant, ...words }] });
  if (!editable) return own ? <p className="differs small-words">Differs from the common text</p> : null;
  return (
    <div className="own-words small-words">
      {own && (
        <p className="differs mb-1">
          Differs from the common {[variant.title !== null && 'title', variant.description !== null && 'text'].filter(Boolean).join(' and ')}
        </p>
      )}
      {open && (
        <>
          {channel.rules.takesTitle && (
            <Form.Control
              size="sm"
              aria-label={`Title on ${channel.name} only`}
              value={variant.title ?? draft.title}
              onChange={({ target }) => change({ title: target.value === draft.title ? null : target.value })}
            />
          )}
          <Form.Control
            as="textarea"
            size="sm"
            rows={4}
            className="mt-1"
            aria-label={`Text on ${channel.name} only`}
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

/** What the channel itself has said so far. */
function Answer({ airing, channel, quiet }: { airing: AiringView | null; channel: ChannelView; quiet: boolean }) {
  const say = (kind: 'done' | 'caution' | 'refusal', words: string) => (
    <Notice kind={kind} live={false}>
      {words}
    </Notice>
  );
  // What is not there any more is told beneath, with the way out.
  if (airing?.drift?.gone) return null;
  if (airing?.refusal) return say(airing.placing === 'placed' ? 'caution' : 'refusal', airing.refusal);
  if (airing?.placing === 'placed') return say('done', airing.visibility === 'everyone' ? 'Stands there.' : `Stands there, for ${airing.visibility}.`);
  if (airing?.placing === 'awaits air') return say('done', 'Ready: it begins there when you go on air.');
  if (airing?.placing === 'awaits reach') return say('done', 'Placed by itself once it is near enough.');
  if (airing?.placing === 'withdrawn') return say('caution', 'Withdrawn from there.');
  return quiet ? null : (
    <p className="soft small-words mt-2 mb-1">{channel.rules.maySchedule ? 'Ready to be placed.' : 'Goes out there from the first moment on air.'}</p>
  );
}

/** Whether the channel may broadcast at all, where it may not. */
function StandingTrouble({ channel }: { channel: ChannelView }) {
  if (channel.access === 'good' && (channel.network === 'typed-in' || mayBroadcast(channel.conditions))) return null;
  return (
    <Notice kind="refusal" live={false}>
      {standingOf(channel).words} <Link to={`/channels/${channel.id}`}>See its standing</Link>
    </Notice>
  );
}

const FIX_WORDS: Partial<Record<Finding['subject'], string>> = {
  title: 'Shorten the title here to fit',
  description: 'Shorten the text here to fit',
  startsAt: 'Move the start to that time',
  length: 'Shorten the show to fit',
};

function fixWords({ code, subject, fix }: Finding): string {
  if (code.startsWith('placeholder-') || code === 'private-in-text') return 'Take it out';
  if (fix && 'visibility' in fix) return code === 'visibility-locked' ? `Leave it for ${fix.visibility}` : `Make it for ${fix.visibility}`;
  return code === 'start-locked' ? 'Leave the start as it stands there' : (FIX_WORDS[subject] ?? 'Put it right');
}

function Objection({ finding, words, onFix }: { finding: Finding; words: string; onFix: ((finding: Finding) => void) | null }) {
  return (
    <Notice kind={finding.severity === 'objection' ? 'refusal' : 'caution'} live={false}>
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
  if (!findings.some(({ code }) => code === 'start-locked' || code === 'visibility-locked')) return null;
  const replace = () => {
    setAsking(false);
    void run(() => server.post<PlaceResult>(`/api/shows/${showId}/airings/${airing.id}/replace`));
  };
  return (
    <>
      <Button variant="quiet" size="sm" disabled={busy} onClick={() => setAsking(true)}>
        Withdraw and place again there…
      </Button>
      <Modal show={asking} onHide={() => setAsking(false)} aria-labelledby="replace-title">
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

interface ClashProps {
  clash: ShowClash;
  zone: string;
  onLine: (channelId: string, lineId: string) => void;
  onStart: (startsAt: Instant) => void;
}

function ClashNotice({ clash, zone, onLine, onStart }: ClashProps) {
  const { lineIds, startsAt } = clash.ways;
  return (
    <Notice kind={clash.severity === 'objection' ? 'refusal' : 'caution'} live={false}>
      {clash.words}{' '}
      <Link to={`/shows/${clash.rivalId}`} className="d-block">
        Open {clash.rivalTitle}
      </Link>
      {lineIds.slice(0, 3).map((lineId) => (
        <Button key={lineId} variant="quiet" size="sm" className="d-block" onClick={() => onLine(clash.channelId!, lineId)}>
          Use the line “{clash.lineNames.get(lineId)}”
        </Button>
      ))}
      {startsAt !== null && (
        <Button variant="quiet" size="sm" className="d-block" onClick={() => onStart(startsAt)}>
          Move the start to {sayTime(startsAt, zone)}
        </Button>
      )}
    </Notice>
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
