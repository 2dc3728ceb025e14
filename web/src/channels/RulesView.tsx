// The rules of a channel in words, made from the very sheet that the checks use.
import { type RuleChangeView } from '@lantern/contract';
import { instant, sayRules, sayWhen } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { useChannel } from './ChannelPage';
import { HERE } from './standing';

export function RulesView() {
  const channel = useChannel();
  const changes = useQuery({
    queryKey: ['rule-changes', channel.id],
    queryFn: () => server.get<RuleChangeView[]>(`/api/channels/${channel.id}/rule-changes`),
  });
  const asOf = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: 'UTC' }).format(new Date(channel.rules.asOf));
  return (
    <>
      {changes.error && <Notice kind="refusal">{wordsOf(changes.error)}</Notice>}
      {changes.data?.map((change) => (
        <RuleChange key={change.id} change={change} />
      ))}
      <section aria-labelledby="rules">
        <h2 id="rules" className="visually-hidden">
          Rules
        </h2>
        <dl className="rules">
          {sayRules(channel.rules).map(({ heading, sentences }) => (
            <div key={heading}>
              <dt>{heading}</dt>
              <dd>
                {sentences.map((sentence) => (
                  <p key={sentence}>{sentence}</p>
                ))}
              </dd>
            </div>
          ))}
        </dl>
        <p className="soft small-words mb-0">
          As known on {asOf}. The network has the last word: a rule that has changed unannounced shows as a refusal when a show is placed.
        </p>
      </section>
    </>
  );
}

function RuleChange({ change }: { change: RuleChangeView }) {
  const now = useNow(60_000);
  return (
    <section aria-label="A rule changes">
      <Notice kind="caution">
        <b>
          {change.from > now ? 'From' : 'Since'} {sayWhen(instant(change.from), HERE)}: {change.words}
        </b>
        <div>
          {change.shows.length === 0
            ? 'No coming show is touched.'
            : change.shows.length === 1
              ? 'One coming show has to be changed:'
              : `${change.shows.length} coming shows have to be changed:`}
        </div>
      </Notice>
      <ul className="touched">
        {change.shows.map((show) => (
          <li key={show.id}>
            <Link to={`/shows/${show.id}`}>{show.title}</Link>, {sayWhen(instant(show.startsAt), show.zone)}
            <div className="small-words">{show.whatToDo}</div>
          </li>
        ))}
      </ul>
    </section>
  );
}
