// Where a show begins: a title, and from nothing, a template or an earlier show.
import type { EarlierShow, RemovedView, ShowView, TemplateView } from '@lantern/contract';
import { instant, sayWhen } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { offerUndo } from '../app/removed';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { PageTitle } from '../app/PageTitle';

export function NewShowView() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const templates = useQuery({ queryKey: ['templates'], queryFn: () => server.get<TemplateView[]>('/api/templates') });
  const shows = useQuery({ queryKey: ['shows', 'earlier'], queryFn: () => server.get<EarlierShow[]>('/api/shows/earlier') });
  const [title, setTitle] = useState('');
  const [refused, setRefused] = useState('');
  const earlier = shows.data ?? [];
  /** `first`: the field where the work on the sheet goes on; none: what was taken over is looked at first. */
  const begin = async (work: () => Promise<ShowView>, first = '') => {
    try {
      const show = await work();
      queries.setQueryData(['show', show.id], show);
      await queries.invalidateQueries({ queryKey: ['shows'] });
      await navigate(`/shows/${show.id}${first}`, { replace: true });
    } catch (error) {
      setRefused(wordsOf(error));
    }
  };
  const forget = async (id: string) => {
    try {
      offerUndo(await server.delete<RemovedView>(`/api/templates/${id}`));
      await queries.invalidateQueries({ queryKey: ['templates'] });
    } catch (error) {
      setRefused(wordsOf(error));
    }
  };
  return (
    <div className="narrow">
      <PageTitle of="New show" />
      <h1 className="mb-4">New show</h1>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          void begin(() => server.post<ShowView>('/api/shows/new', { title }), title.trim() ? '#description' : '#title');
        }}
      >
        <Field id="new-title" label="What is it called?" help="It can be changed later, like everything on its sheet.">
          <Form.Control autoFocus value={title} maxLength={300} onChange={({ target }) => setTitle(target.value)} />
        </Field>
        <Button type="submit">Begin the sheet</Button>
      </Form>
      {refused && <Notice kind="refusal">{refused}</Notice>}
      {templates.data && templates.data.length > 0 && (
        <section className="mt-5" aria-labelledby="templates">
          <h2 id="templates">Or from a template</h2>
          <ul className="start-list">
            {templates.data.map((template) => (
              <li key={template.id}>
                <span>
                  <b>{template.name}</b>
                  <span className="soft small-words d-block">
                    {template.lengthMin} min{template.channelNames.length > 0 && `, ${template.channelNames.join(', ')}`}
                  </span>
                </span>
                <span className="d-flex gap-3">
                  <Button
                    variant="quiet"
                    size="sm"
                    aria-label={`Start from ${template.name}`}
                    onClick={() => void begin(() => server.post<ShowView>('/api/shows/new', { title: '', templateId: template.id }))}
                  >
                    Start from it
                  </Button>
                  <Button variant="quiet" size="sm" aria-label={`Remove ${template.name}`} onClick={() => void forget(template.id)}>
                    Remove it
                  </Button>
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {earlier.length > 0 && (
        <section className="mt-5" aria-labelledby="earlier">
          <h2 id="earlier">Or one of your shows once more</h2>
          <ul className="start-list">
            {earlier.map((show) => (
              <li key={show.id}>
                <span className="pictured">
                  {show.pictureUrl ? <img src={show.pictureUrl} alt="" width={80} height={45} loading="lazy" /> : <span className="no-picture" />}
                  <span>
                    <b>{show.title || 'Untitled show'}</b>
                    <span className="soft small-words d-block">{sayWhen(instant(show.startsAt), show.zone)}</span>
                  </span>
                </span>
                <Button
                  variant="quiet"
                  size="sm"
                  aria-label={`${show.title} again`}
                  onClick={() => void begin(() => server.post<ShowView>(`/api/shows/${show.id}/again`))}
                >
                  Again
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
