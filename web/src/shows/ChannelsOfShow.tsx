// How each channel will take the show: its objections as one types, what its lines are promised to, and
// what it has answered.
import { NETWORK_NAMES, type AiringView, type ChannelView, type ShowDraft, type ShowView } from '@lantern/contract';
import {
  checkAgainstChange,
  checkShow,
  instant,
  mayBroadcast,
  rulesFor,
  sayFinding,
  sayTime,
  sayWhen,
  type Finding,
  type Instant,
  type ShowFacts,
} from '@lantern/core';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { standingOf } from '../channels/standing';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { clashesOfSheet, usePlan, type ShowClash } from './show-clashes';

interface Props {
  channels: ChannelView[];
  show: ShowView | null;
  draft: ShowDraft;
  facts: ShowFacts;
  onFix: (finding: Finding) => void;
  onLine: (channelId: string, lineId: string) => void;
  onStart: (startsAt: Instant) => void;
}

export function ChannelsOfShow({ channels, show, draft, facts, onFix, onLine, onStart }: Props) {
  const now = useNow(15_000);
  const plan = usePlan();
  const clashes = plan.data ? clashesOfSheet(plan.data, draft, show, facts.startsAt, channels, now) : [];
  return (
    <aside aria-labelledby="channel-answers">
      <h2 id="channel-answers" className="mb-3">
        On each channel
      </h2>
      {!channels.length && <p className="soft small-words">Tick a channel, and what it thinks of the show appears here.</p>}
      {channels.map((channel) => {
        const airing = show?.airings.find((each) => each.channel.id === channel.id) ?? null;
        const placedAt = airing?.placing === 'placed' && airing.placedAt !== null ? instant(airing.placedAt) : null;
        const own = { ...facts, placedAt };
        const findings = checkShow(own, channel.rules, now);
        const mine = clashes.filter(({ channelId }) => channelId === channel.id);
        const place = channel.network === 'typed-in' ? channel.name : NETWORK_NAMES[channel.network];
        const objected = [...findings, ...mine].some(({ severity }) => severity === 'objection');
        return (
          <article key={channel.id} className="channel-answer">
            <Identity of={channel} />
            <Answer airing={airing} channel={channel} quiet={objected} />
            <StandingTrouble channel={channel} />
            {findings.map((finding) => (
              <Objection key={finding.code} finding={finding} words={sayFinding(finding, place, draft.zone)} onFix={onFix} />
            ))}
            {mine.map((clash) => (
              <ClashNotice key={clash.words} clash={clash} zone={draft.zone} onLine={onLine} onStart={onStart} />
            ))}
            <ComingRules channel={channel} facts={own} now={now} zone={draft.zone} />
          </article>
        );
      })}
    </aside>
  );
}

/** What the channel itself has said so far. */
function Answer({ airing, channel, quiet }: { airing: AiringView | null; channel: ChannelView; quiet: boolean }) {
  const say = (kind: 'done' | 'caution' | 'refusal', words: string) => (
    <Notice kind={kind} live={false}>
      {words}
    </Notice>
  );
  if (airing?.refusal) return say(airing.placing === 'placed' ? 'caution' : 'refusal', airing.refusal);
  if (airing?.placing === 'placed') return say('done', airing.visibility === 'everyone' ? 'Stands there.' : `Stands there, for ${airing.visibility}.`);
  if (airing?.placing === 'awaits air') return say('done', 'Ready: it begins there when you go on air.');
  if (airing?.placing === 'withdrawn') return say('caution', 'Withdrawn from there.');
  return quiet ? null : <p className="soft small-words mt-2 mb-1">Ready to be placed, for {channel.defaults.visibility}.</p>;
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
  title: 'Shorten the title to fit',
  description: 'Shorten the text to fit',
  startsAt: 'Move the start to that time',
  length: 'Shorten the show to fit',
};

function Objection({ finding, words, onFix }: { finding: Finding; words: string; onFix: (finding: Finding) => void }) {
  return (
    <Notice kind={finding.severity === 'objection' ? 'refusal' : 'caution'} live={false}>
      {words}{' '}
      {finding.fix && (
        <Button variant="quiet" size="sm" className="d-block" onClick={() => onFix(finding)}>
          {FIX_WORDS[finding.subject]}
        </Button>
      )}
    </Notice>
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
      {clash.rivalId !== 'new' && (
        <Link to={`/shows/${clash.rivalId}`} className="d-block">
          Open {clash.rivalTitle}
        </Link>
      )}
      {lineIds.slice(0, 3).map((lineId) => (
        <Button key={lineId} variant="quiet" size="sm" className="d-block" onClick={() => onLine(clash.channelId, lineId)}>
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
