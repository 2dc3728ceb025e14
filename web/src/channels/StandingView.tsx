// May this channel broadcast at all? Each condition with its state and what helps.
import { NETWORK_NAMES, type ChannelView } from '@lantern/contract';
import { instant, sayCondition, sayDistance, type Condition, type NetworkId } from '@lantern/core';
import { useMutation } from '@tanstack/react-query';
import { Check, Hourglass, OctagonX } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useKeepChannel } from './channel-queries';
import { useChannel } from './ChannelPage';
import { goAndLink } from './ChannelsView';
import { HERE } from './standing';
import { UnlinkChannel } from './UnlinkChannel';

const MARKS = { met: Check, waiting: Hourglass, unmet: OctagonX };
const STATES = { met: 'Met: ', waiting: 'Will be met: ', unmet: 'Missing: ' };

export function StandingView() {
  const channel = useChannel();
  const keep = useKeepChannel();
  const now = useNow(10_000);
  const look = useMutation({ mutationFn: () => server.post<ChannelView>(`/api/channels/${channel.id}/look-again`), onSuccess: keep });
  const request = useMutation({ mutationFn: () => server.post<ChannelView>(`/api/channels/${channel.id}/ask-to-broadcast`), onSuccess: keep });
  const linked = channel.network !== 'typed-in';
  const lost = channel.access !== 'good';
  return (
    <>
      {linked ? (
        <section aria-labelledby="conditions">
          <h2 id="conditions">May it broadcast?</h2>
          {lost && <LinkAgain channel={channel} />}
          {channel.conditionsAt === null && !lost && <p className="soft">Nobody has looked yet.</p>}
          <ul className="conditions">
            {channel.conditions
              .filter(({ code }) => !(lost && code === 'access'))
              .map((condition) => (
                <ConditionRow
                  key={condition.code}
                  condition={condition}
                  network={NETWORK_NAMES[channel.network]}
                  onAsk={() => request.mutate()}
                  asking={request.isPending}
                />
              ))}
          </ul>
          {(look.error ?? request.error) && <Notice kind="refusal">{wordsOf(look.error ?? request.error)}</Notice>}
          <div className="d-flex flex-wrap gap-3 align-items-center">
            <Button variant="outline-primary" disabled={look.isPending || lost} onClick={() => look.mutate()}>
              {look.isPending ? 'Asking…' : 'Look again'}
            </Button>
            {channel.conditionsAt !== null && <span className="soft small-words">Last looked {sayDistance(instant(channel.conditionsAt) - now)}.</span>}
          </div>
        </section>
      ) : (
        <section aria-labelledby="conditions">
          <h2 id="conditions">What it gets</h2>
          <p className="narrow">
            This service gets your picture when a show goes on air, and nothing else: no title, no thumbnail, no start. Its own event page stays yours to look
            after.
          </p>
        </section>
      )}
      <UnlinkChannel channel={channel} />
    </>
  );
}

function LinkAgain({ channel }: { channel: ChannelView }) {
  const [trouble, setTrouble] = useState('');
  const network = channel.network as NetworkId;
  return (
    <div className="mb-3">
      <Notice kind="refusal">
        {channel.access === 'unreadable'
          ? 'The key file beside the data is lost, and with it the access to this account.'
          : `${NETWORK_NAMES[network]} no longer lets the station act for this account: access was withdrawn, or nobody used it for too long.`}{' '}
        Link it again and choose the same account; its shows, lines and settings stay.
      </Notice>
      {trouble && <Notice kind="refusal">{trouble}</Notice>}
      <Button onClick={() => void goAndLink(network).catch((error: unknown) => setTrouble(wordsOf(error)))}>Link again on {NETWORK_NAMES[network]}</Button>
    </div>
  );
}

interface ConditionProps {
  condition: Condition;
  network: string;
  onAsk: () => void;
  asking: boolean;
}

function ConditionRow({ condition, network, onAsk, asking }: ConditionProps) {
  const { what, remedy, askThere } = sayCondition(condition, network, HERE);
  const Mark = MARKS[condition.state];
  return (
    <li className={condition.state}>
      <Mark size={18} aria-hidden="true" />
      <div>
        <span className="visually-hidden">{STATES[condition.state]}</span>
        <b>{what}</b>
        {remedy && <div className="small-words">{remedy}</div>}
        {askThere && (
          <Button size="sm" className="mt-2" disabled={asking} onClick={onAsk}>
            {asking ? 'Asking…' : `Ask ${network} now`}
          </Button>
        )}
      </div>
    </li>
  );
}
