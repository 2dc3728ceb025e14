// Where something of a past show stands, and taking it away: here, there, or everywhere.
import { TAKEN_FROM, type StandingPlace, type TakenFrom } from '@lantern/contract';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { useAskEvery } from '../app/changes';
import { server, wordsOf } from '../app/server';
import { AskedButton } from '../look/AskedButton';
import { Notice } from '../look/Notice';

const STATES: Record<StandingPlace['state'], string> = {
  stands: 'stands',
  asked: 'is being taken away',
  gone: 'gone',
  failed: 'could not be taken away',
  cannot: 'cannot be taken away from here',
};
const FROM: Record<TakenFrom, string> = {
  here: 'from here alone; what stands on channels stays',
  there: 'from the channels alone; the recording and the report stay here',
  everywhere: 'from the channels, and from here once it is gone there',
};

export function StandsWhere({ showId }: { showId: string }) {
  const [open, setOpen] = useState(false);
  return (
    <section className="mb-5">
      <h2>Taking it away</h2>
      {open ? (
        <Places showId={showId} />
      ) : (
        <Button variant="quiet" size="sm" onClick={() => setOpen(true)}>
          What of this show stands where…
        </Button>
      )}
    </section>
  );
}

function Places({ showId }: { showId: string }) {
  const key = ['report', showId, 'places'];
  const queries = useQueryClient();
  const go = useNavigate();
  const askEvery = useAskEvery(10_000);
  const places = useQuery({
    queryKey: key,
    queryFn: () => server.get<StandingPlace[]>(`/api/shows/${showId}/places`),
    refetchInterval: ({ state }) => (state.data?.some((each) => each.state === 'asked') ? 2_000 : askEvery),
  });
  const [from, setFrom] = useState<TakenFrom>('there');
  const take = useMutation({
    mutationFn: () => server.post(`/api/shows/${showId}/places/removal`, { from }),
    onSuccess: () => (from === 'here' ? void go('/') : queries.invalidateQueries({ queryKey: key })),
  });
  // Gone from here as well, as was asked for.
  if (places.error) return <p>{wordsOf(places.error)}</p>;
  if (!places.data) return null;
  return (
    <>
      <div className="overflow-auto" role="region" aria-label="What of this show stands where" tabIndex={0}>
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">Where</th>
              <th scope="col">Now</th>
              <th scope="col">What stands there</th>
              <th scope="col">Taking it away</th>
            </tr>
          </thead>
          <tbody>
            {places.data.map(({ airingId, name, what, does, state, stays, trouble }) => (
              <tr key={airingId ?? 'here'}>
                <th scope="row">{name}</th>
                <td>
                  {stays ? 'withdrawn' : STATES[state]}
                  {stays && <div className="small-words">{stays}</div>}
                  {trouble && <div className="small-words soft">{trouble}</div>}
                </td>
                <td>{what}</td>
                <td>{does}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <fieldset className="my-3">
        <legend className="h3">Take it away</legend>
        {TAKEN_FROM.map((each) => (
          <Form.Check
            key={each}
            type="radio"
            name="taken-from"
            id={`taken-from-${each}`}
            label={FROM[each]}
            checked={from === each}
            onChange={() => setFrom(each)}
          />
        ))}
      </fieldset>
      <AskedButton
        label="Take it away…"
        question={`Take it away ${FROM[from].split(';')[0]!.split(',')[0]}?`}
        yes="Take away"
        onYes={() => take.mutate()}
        disabled={take.isPending}
      />
      {take.error && <Notice kind="refusal">{wordsOf(take.error)}</Notice>}
    </>
  );
}
