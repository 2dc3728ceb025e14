// The show sheet: everything about one show, in the order of the work.
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { ShowDraft, type ChannelResult, type PlaceResult, type ShowView } from '@lantern/contract';
import { HOUR_MS, instant, MINUTE_MS, readWallTime, wallTimeOf, type Finding, type ShowFacts } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { FormProvider, useForm, useWatch } from 'react-hook-form';
import { Link, useNavigate, useParams } from 'react-router';
import { serverNow } from '../app/clock';
import { server, ServerError, wordsOf } from '../app/server';
import { useChannels } from '../channels/ChannelsView';
import { Notice } from '../look/Notice';
import { ChannelsOfShow } from './ChannelsOfShow';
import { LinksOfShow } from './LinksOfShow';
import { Milestones } from './Milestones';
import { ThumbnailPicker } from './ThumbnailPicker';
import { ChannelTicks, WhatFields, WhenFields } from './SheetFields';
import { WithdrawShow } from './WithdrawShow';

export function ShowSheetView() {
  const { id } = useParams();
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`), enabled: id !== undefined });
  if (id !== undefined && show.error) {
    return (
      <div className="narrow">
        <h1>No such show</h1>
        <Notice kind="refusal">{wordsOf(show.error)}</Notice>
        <Link to="/">To the almanac</Link>
      </div>
    );
  }
  if (id !== undefined && !show.data) return null;
  return <Sheet key={id ?? 'new'} show={show.data ?? null} />;
}

function blankDraft(): ShowDraft {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const tomorrow = instant(Math.ceil((serverNow() + 24 * HOUR_MS) / HOUR_MS) * HOUR_MS);
  return { title: '', description: '', ...wallTimeOf(tomorrow, zone), zone, lengthMin: 60, channelIds: [] };
}

function draftOf(show: ShowView): ShowDraft {
  const { title, description, zone, lengthMs, channelIds } = show;
  const wall = wallTimeOf(instant(show.startsAt), zone);
  return { title, description, ...wall, zone, lengthMin: Math.round(lengthMs / MINUTE_MS), channelIds };
}

function Sheet({ show }: { show: ShowView | null }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const channels = useChannels();
  const form = useForm<ShowDraft>({
    resolver: classValidatorResolver(ShowDraft),
    mode: 'onChange',
    defaultValues: useMemo(() => (show ? draftOf(show) : blankDraft()), [show]),
  });
  const [refused, setRefused] = useState('');
  const [results, setResults] = useState<ChannelResult[]>([]);
  const [busy, setBusy] = useState<'save' | 'place' | null>(null);
  const [newPicture, setNewPicture] = useState<{ file: File; width: number; height: number } | null>(null);
  const { reset } = form;
  useEffect(() => {
    if (show) reset(draftOf(show));
  }, [show, reset]);

  const draft = useWatch({ control: form.control }) as ShowDraft;
  const changed = form.formState.isDirty || newPicture !== null || show === null;
  const editable = !show || show.state === 'draft' || show.state === 'placed';
  const chosen = channels.data?.filter(({ id }) => draft.channelIds?.includes(id)) ?? [];
  const placed = show?.airings.filter(({ placing }) => placing === 'placed').length ?? 0;
  const toPlace = chosen.filter((channel) => show?.airings.find((airing) => airing.channel.id === channel.id)?.placing !== 'placed').length;

  /** Saves what has changed; answers with the saved show, or null after saying why it could not be saved. */
  const save = async (): Promise<ShowView | null> => {
    let saved = show;
    let ok = false;
    await form.handleSubmit(async (values) => {
      if (!saved) saved = await server.post<ShowView>('/api/shows', values);
      else if (form.formState.isDirty) {
        const moved = await server.put<PlaceResult>(`/api/shows/${saved.id}`, values);
        saved = moved.show;
        setResults(moved.results);
      }
      if (newPicture) saved = await server.put<ShowView>(`/api/shows/${saved.id}/thumbnail`, newPicture.file);
      setNewPicture(null);
      ok = true;
    })();
    return ok ? saved : null;
  };

  const run = async (what: 'save' | 'place') => {
    setBusy(what);
    setRefused('');
    setResults([]);
    let saved: ShowView | null = null;
    try {
      saved = await save();
      if (saved && what === 'place') {
        const placing = await server.post<PlaceResult>(`/api/shows/${saved.id}/place`);
        saved = placing.show;
        setResults(placing.results);
      }
    } catch (error) {
      setRefused(wordsOf(error));
      if (error instanceof ServerError) {
        for (const [field, words] of Object.entries(error.fields)) form.setError(field as keyof ShowDraft, { message: words });
      }
    } finally {
      setBusy(null);
    }
    if (saved) {
      queries.setQueryData(['show', saved.id], saved);
      if (!show) await navigate(`/shows/${saved.id}`, { replace: true });
    }
    await queries.invalidateQueries({ queryKey: ['shows'] });
    if (show) await queries.invalidateQueries({ queryKey: ['show', show.id] });
  };

  return (
    <FormProvider {...form}>
      <div className="sheet">
        <Milestones show={show} startsAt={startOf(draft)} lengthMin={draft.lengthMin} zone={draft.zone} />
        <Form
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            void run('save');
          }}
        >
          <h1 className="mb-4">{draft.title?.trim() || 'New show'}</h1>
          <fieldset disabled={!editable || busy !== null}>
            <legend className="visually-hidden">The show</legend>
            <WhatFields />
            <WhenFields placed={placed > 0} />
            <ThumbnailPicker current={show?.thumbnail ?? null} chosen={newPicture} onChoose={setNewPicture} />
            <ChannelTicks channels={channels.data ?? []} show={show} />
          </fieldset>
          {show && placed > 0 && <LinksOfShow show={show} />}
          <section>
            {refused && <Notice kind="refusal">{refused}</Notice>}
            {results.map((result) => (
              <Notice key={result.airingId} kind={result.done ? 'done' : 'refusal'}>
                {result.words}
              </Notice>
            ))}
            <div className="d-flex flex-wrap gap-3 align-items-center mt-2">
              {editable && (
                <>
                  {toPlace > 0 && (
                    <Button onClick={() => void run('place')} disabled={busy !== null}>
                      {busy === 'place' ? 'Asking the channels…' : placeWords(toPlace, placed)}
                    </Button>
                  )}
                  <Button type="submit" variant="outline-primary" disabled={busy !== null || !changed}>
                    {placed > 0 && form.formState.isDirty
                      ? `Move on ${placed === 1 ? 'its channel' : `${placed} channels`}`
                      : changed
                        ? 'Keep as draft'
                        : 'Kept'}
                  </Button>
                </>
              )}
              {show && (show.state === 'placed' || show.state === 'onAir' || show.state === 'interrupted') && (
                <Link to={`/shows/${show.id}/stage`} className="btn btn-outline-primary">
                  Open the stage
                </Link>
              )}
              {show?.state === 'over' && <Link to={`/shows/${show.id}/report`}>Read the report</Link>}
              {show && editable && placed > 0 && <WithdrawShow show={show} onDone={setResults} />}
            </div>
          </section>
        </Form>
        <ChannelsOfShow channels={chosen} show={show} facts={factsOf(draft, show, newPicture)} zone={draft.zone} onFix={(finding) => applyFix(finding)} />
      </div>
    </FormProvider>
  );

  function applyFix({ subject, fix }: Finding): void {
    const set = <K extends keyof ShowDraft>(name: K, value: ShowDraft[K]) =>
      form.setValue(name as never, value as never, { shouldDirty: true, shouldValidate: true });
    if (fix && 'text' in fix) set(subject === 'title' ? 'title' : 'description', fix.text);
    if (fix && 'lengthMs' in fix) set('lengthMin', fix.lengthMs / MINUTE_MS);
    if (fix && 'startsAt' in fix) {
      const wall = wallTimeOf(instant(fix.startsAt), draft.zone);
      set('date', wall.date);
      set('time', wall.time);
    }
  }
}

/** The start that date, time and zone stand for, rounded to nothing; null while they cannot be read. */
function startOf({ date, time, zone }: ShowDraft) {
  const reading = readWallTime({ date: date ?? '', time: time ?? '' }, zone ?? '');
  return reading.kind === 'once' ? reading.instant : null;
}

function factsOf(draft: ShowDraft, show: ShowView | null, picture: { width: number; height: number } | null): ShowFacts {
  const sent = show?.thumbnail?.sent ?? null;
  const title = draft.title ?? '';
  const description = draft.description ?? '';
  return {
    title,
    description,
    startsAt: startOf(draft),
    lengthMs: (draft.lengthMin || 0) * MINUTE_MS,
    // A new picture is brought to 1280×720 when it is saved, if it is large enough; its weight is known then.
    thumbnail: picture
      ? picture.width >= 1280 && picture.height >= 720
        ? { width: 1280, height: 720, bytes: 0, type: 'image/jpeg' }
        : { width: picture.width, height: picture.height, bytes: 0, type: 'image/jpeg' }
      : sent,
  };
}

function placeWords(toPlace: number, placed: number): string {
  const channels = toPlace === 1 ? '1 channel' : `${toPlace} channels`;
  return placed > 0 ? `Place on the missing ${channels}` : `Place on ${channels}`;
}
