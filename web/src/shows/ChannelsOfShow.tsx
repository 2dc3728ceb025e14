// How each channel will take the show: its objections as one types, and what it has answered.
import { NETWORK_NAMES, type AiringView, type ChannelView, type ShowView } from '@lantern/contract';
import { checkShow, rulesFor, sayFinding, type Finding, type ShowFacts } from '@lantern/core';
import { Button } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { Notice } from '../look/Notice';
import { Portrait } from '../look/Portrait';

interface Props {
  channels: ChannelView[];
  show: ShowView | null;
  facts: ShowFacts;
  zone: string;
  onFix: (finding: Finding) => void;
}

export function ChannelsOfShow({ channels, show, facts, zone, onFix }: Props) {
  const now = useNow(15_000);
  return (
    <aside aria-labelledby="channel-answers">
      <h2 id="channel-answers" className="mb-3">
        On each channel
      </h2>
      {!channels.length && <p className="soft small-words">Tick a channel, and what it thinks of the show appears here.</p>}
      {channels.map((channel) => {
        const airing = show?.airings.find((each) => each.channel.id === channel.id) ?? null;
        const placed = airing?.placing === 'placed';
        const findings = checkShow(facts, rulesFor(channel.network, channel.kind), now).filter(
          // Once it stands there, the lead time has been kept.
          ({ code }) => !(placed && (code === 'start-too-soon' || code === 'start-past')),
        );
        return (
          <article key={channel.id} className="pb-3 mb-3 border-bottom">
            <div className="d-flex gap-3 align-items-center mb-2">
              <Portrait channel={channel} />
              <div>
                <b>{channel.name}</b>
                <div className="soft small-words">{channel.network === 'typed-in' ? 'typed in' : `${channel.kind} on ${NETWORK_NAMES[channel.network]}`}</div>
              </div>
            </div>
            <Answer airing={airing} quiet={findings.some(({ severity }) => severity === 'objection')} />
            {findings.map((finding) => (
              <Objection
                key={finding.code}
                finding={finding}
                words={sayFinding(finding, channel.network === 'typed-in' ? channel.name : NETWORK_NAMES[channel.network], zone)}
                onFix={onFix}
              />
            ))}
          </article>
        );
      })}
    </aside>
  );
}

/** What the channel itself has said so far. */
function Answer({ airing, quiet }: { airing: AiringView | null; quiet: boolean }) {
  if (airing?.refusal) {
    return (
      <Notice kind={airing.placing === 'placed' ? 'caution' : 'refusal'} live={false}>
        {airing.refusal}
      </Notice>
    );
  }
  if (airing?.placing === 'placed')
    return (
      <Notice kind="done" live={false}>
        Stands there.
      </Notice>
    );
  if (airing?.placing === 'withdrawn')
    return (
      <Notice kind="caution" live={false}>
        Withdrawn from there.
      </Notice>
    );
  if (quiet) return null;
  return <p className="soft small-words mb-1">Ready to be placed.</p>;
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
