// The show's own page: who may see it, whether it reminds people, who is invited, and where it may be shown.
import { HOUSE_VISIBILITIES, type AudienceView, type HouseVisibility, type ShowDraft, type ShowView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Form } from 'react-bootstrap';
import { useFormContext } from 'react-hook-form';
import { useAskEvery } from '../app/changes';
import { server } from '../app/server';
import { Invitations } from './Invitations';
import { TrailerField } from './TrailerField';
import type { Put } from './sheet-acts';

const WORDS: Record<HouseVisibility, string> = {
  everyone: 'Everyone. It is listed on the station’s page.',
  'link holders': 'Whoever has the link. It is listed nowhere.',
  'invited people': 'Those whom you invite, each by a link of their own.',
  supporters: 'Supporters, by the station’s code.',
};

export function HousePageFields({ show, draft, put, onStored }: { show: ShowView; draft: ShowDraft; put: Put; onStored: (show: ShowView) => void }) {
  const { formState } = useFormContext<ShowDraft>();
  const refetchInterval = useAskEvery(30_000);
  const audience = useQuery({
    queryKey: ['audience', show.id],
    queryFn: () => server.get<AudienceView>(`/api/shows/${show.id}/audience`),
    refetchInterval,
  });
  const [sites, setSites] = useState<string | null>(null);
  const { confirmed = 0, asked = 0 } = audience.data ?? {};
  return (
    <>
      <p className="mb-1">Who may see it?</p>
      <div role="radiogroup" aria-label="Who may see the page" className="mb-3">
        {HOUSE_VISIBILITIES.map((visibility) => (
          <Form.Check
            key={visibility}
            type="radio"
            name="houseVisibility"
            id={`house-${visibility.replace(' ', '-')}`}
            checked={draft.houseVisibility === visibility}
            onChange={() => put({ houseVisibility: visibility })}
            label={WORDS[visibility]}
          />
        ))}
      </div>
      {draft.houseVisibility === 'invited people' && <Invitations show={show} invitations={audience.data?.invitations ?? []} />}
      <Form.Check
        id="reminders"
        label="Visitors can ask to be reminded by mail"
        checked={draft.reminders}
        onChange={({ target }) => put({ reminders: target.checked })}
      />
      {asked > 0 && (
        <p className="small-words mb-0 ps-4">
          {confirmed === 1 ? '1 person is' : `${confirmed} people are`} reminded{asked > confirmed && `, ${asked - confirmed} have not confirmed`}.{' '}
          <a href={`/api/shows/${show.id}/audience.csv`} download>
            Their addresses (CSV)
          </a>
        </p>
      )}
      <Form.Check
        id="house-replay"
        label="Afterwards the recording can be watched there"
        checked={draft.houseReplay}
        disabled={draft.pictureFrom === 'encoder'}
        onChange={({ target }) => put({ houseReplay: target.checked })}
      />
      {draft.pictureFrom === 'encoder' && (
        <p className="soft small-words mb-0 ps-4">An outside encoder’s picture does not come by here, so nothing is recorded.</p>
      )}
      <TrailerField show={show} onStored={onStored} />
      {draft.houseVisibility === 'everyone' && (
        <details className="small-words mt-2">
          <summary>
            {draft.embedSites.length
              ? `May be shown within ${draft.embedSites.length === 1 ? '1 other site' : `${draft.embedSites.length} other sites`}`
              : 'Show it within other sites'}
          </summary>
          <Form.Group controlId="embed-sites" className="mt-2">
            <Form.Label>Sites that may, one to a line</Form.Label>
            <Form.Control
              as="textarea"
              rows={2}
              placeholder="https://village.example"
              isInvalid={!!formState.errors.embedSites}
              value={sites ?? draft.embedSites.join('\n')}
              onChange={({ target }) => {
                setSites(target.value);
                put({ embedSites: target.value.split(/\s+/).filter(Boolean) });
              }}
              onBlur={() => setSites(null)}
            />
            {formState.errors.embedSites && (
              <p className="text-danger mb-0">{formState.errors.embedSites.message ?? 'Write a site as https://example.org, without a path.'}</p>
            )}
            {draft.embedSites.length > 0 && (
              <Form.Text as="div">
                Put this into their page:{' '}
                <code>{`<iframe src="${show.houseUrl.replace('/on/', '/embed/')}" width="640" height="400" title="${draft.title.replaceAll('"', '')}"></iframe>`}</code>
              </Form.Text>
            )}
          </Form.Group>
        </details>
      )}
    </>
  );
}
