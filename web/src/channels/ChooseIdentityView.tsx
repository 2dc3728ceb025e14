// After consent: which of the accounts that the sign-in may speak for becomes the channel.
import { NETWORK_NAMES, type ChannelView, type LinkChoices } from '@lantern/contract';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate, useParams } from 'react-router';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { Identity } from '../look/Identity';
import { PageTitle } from '../app/PageTitle';

export function ChooseIdentityView() {
  const { linkId } = useParams();
  const choices = useQuery({ queryKey: ['link', linkId], queryFn: () => server.get<LinkChoices>(`/api/channels/links/${linkId}`) });
  const [chosen, setChosen] = useState('');
  const [refused, setRefused] = useState('');
  const queries = useQueryClient();
  const navigate = useNavigate();
  if (choices.error) {
    return (
      <div className="narrow">
        <PageTitle of="The link could not be finished" />
        <h1>The link could not be finished</h1>
        <Notice kind="refusal">{wordsOf(choices.error)}</Notice>
        <Link to="/channels">Back to the channels</Link>
      </div>
    );
  }
  if (!choices.data) return null;
  const { network, identities } = choices.data;
  const finish = async () => {
    setRefused('');
    try {
      const channel = await server.post<ChannelView>(`/api/channels/links/${linkId}`, { identityId: chosen });
      await queries.invalidateQueries({ queryKey: ['channels'] });
      // Whether it may broadcast is the first thing to know about a channel.
      const ready = channel.conditions.every(({ state }) => state === 'met');
      await navigate(ready ? '/channels' : `/channels/${channel.id}`);
    } catch (error) {
      setRefused(wordsOf(error));
    }
  };
  return (
    <div className="narrow">
      <PageTitle of={`Who speaks on ${NETWORK_NAMES[network]}?`} />
      <h1>Who speaks on {NETWORK_NAMES[network]}?</h1>
      <p>Shows will be published under this name and picture. You can link the others afterwards.</p>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          void finish();
        }}
      >
        <fieldset>
          <legend className="visually-hidden">Account</legend>
          {identities.map((identity) => (
            <label key={identity.id} className="channel-tick border-bottom">
              <Form.Check.Input type="radio" name="identity" value={identity.id} checked={chosen === identity.id} onChange={() => setChosen(identity.id)} />
              <Identity of={{ ...identity, network }}>{identity.alreadyLinked && <span className="soft small-words">linked already</span>}</Identity>
            </label>
          ))}
        </fieldset>
        {refused && <Notice kind="refusal">{refused}</Notice>}
        <Button type="submit" className="mt-4" disabled={!chosen}>
          Make it a channel
        </Button>
      </Form>
    </div>
  );
}
