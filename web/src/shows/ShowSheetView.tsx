// The show sheet: everything about one show, in the order of the work.
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { ShowDraft, type ChannelResult, type ChannelView, type PlaceResult, type ShowView } from '@lantern/contract';
import { HOUR_MS, instant, MINUTE_MS, readWallTime, wallTimeOf, type Finding, type ShowFacts } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { FormProvider, useForm, useWatch } from 'react-hook-form';
import { Link, useLocation, useNavigate, useParams } from 'react-router';
import { serverNow } from '../app/clock';
import { server, ServerError, wordsOf } from '../app/server';
import { useChannels } from '../channels/channel-queries';
import { EncoderSets } from '../lines/EncoderSets';
import { kindWords, Portrait } from '../look/Identity';
import { Notice } from '../look/Notice';
import { ChannelsOfShow } from './ChannelsOfShow';
import { LinksOfShow } from './LinksOfShow';
import { Milestones } from './Milestones';
import { ThumbnailPicker } from './ThumbnailPicker';
import { ChannelTicks, PictureFromField, WhatFields, WhenFields } from './SheetFields';
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
  const wall = wallTimeOf(tomorrow, zone);
  return { title: '', description: '', ...wall, zone, lengthMin: 60, channelIds: [], lines: [], pictureFrom: 'stage', thumbnailAlternative: '' };
}

function draftOf(show: ShowView): ShowDraft {
  const { title, description, zone, lengthMs, channelIds, pictureFrom, thumbnailAlternative, airings } = show;
  const wall = wallTimeOf(instant(show.startsAt), zone);
  const lines = airings.flatMap(({ channel, lineId }) => (lineId === null ? [] : [{ channelId: channel.id, lineId }]));
  return { title, description, ...wall, zone, lengthMin: Math.round(lengthMs / MINUTE_MS), channelIds, lines, pictureFrom, thumbnailAlternative };
}

/** What the server and the channels answered to the last press of a button. */
interface Outcome {
  refused: string;
  results: ChannelResult[];
}
const NO_OUTCOME: Outcome = { refused: '', results: [] };

function Sheet({ show }: { show: ShowView | null }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const channels = useChannels();
  const form = useForm<ShowDraft>({
    resolver: classValidatorResolver(ShowDraft),
    mode: 'onChange',
    defaultValues: useMemo(() => (show ? draftOf(show) : blankDraft()), [show]),
  });
  // A new show's first answers come along when the sheet moves to the show's own address.
  const arrivedWith = useLocation().state as Outcome | null;
  const [{ refused, results }, setOutcome] = useState<Outcome>(arrivedWith ?? NO_OUTCOME);
  const latest = useRef<ShowView | null>(null);
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
  const toPlace = chosen.filter((channel) => {
    const placing = show?.airings.find((airing) => airing.channel.id === channel.id)?.placing;
    return placing !== 'placed' && placing !== 'awaits air';
  });

  /** Saves what has changed; answers with the saved show and what the channels said, or null while the form is not right. */
  const save = async (): Promise<{ saved: ShowView; results: ChannelResult[] } | null> => {
    let saved = show;
    let results: ChannelResult[] = [];
    let ok = false;
    await form.handleSubmit(async (values) => {
      if (!saved) saved = await server.post<ShowView>('/api/shows', values);
      else if (form.formState.isDirty) ({ show: saved, results } = await server.put<PlaceResult>(`/api/shows/${saved.id}`, values));
      // From here on the show has an address, whatever becomes of its picture.
      latest.current = saved;
      if (newPicture) saved = await server.put<ShowView>(`/api/shows/${saved.id}/thumbnail`, newPicture.file);
      setNewPicture(null);
      ok = true;
    })();
    return ok && saved ? { saved, results } : null;
  };

  const run = async (what: 'save' | 'place') => {
    setBusy(what);
    setOutcome(NO_OUTCOME);
    const outcome: Outcome = { refused: '', results: [] };
    latest.current = null;
    try {
      const done = await save();
      if (done) {
        latest.current = done.saved;
        outcome.results = done.results;
        if (what === 'place') {
          const placing = await server.post<PlaceResult>(`/api/shows/${done.saved.id}/place`);
          latest.current = placing.show;
          outcome.results = placing.results;
        }
      }
    } catch (error) {
      outcome.refused = wordsOf(error);
      if (error instanceof ServerError) {
        for (const [field, words] of Object.entries(error.fields)) form.setError(field as keyof ShowDraft, { message: words });
      }
    }
    const saved: ShowView | null = latest.current;
    if (saved) queries.setQueryData(['show', saved.id], saved);
    setOutcome(outcome);
    setBusy(null);
    if (saved && !show) await navigate(`/shows/${saved.id}`, { replace: true, state: outcome });
    await queries.invalidateQueries({ queryKey: ['shows'] });
    await queries.invalidateQueries({ queryKey: ['plan'] });
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
            <PictureFromField />
            <ChannelTicks channels={channels.data ?? []} show={show} onLine={chooseLine} />
          </fieldset>
          {show && placed > 0 && <LinksOfShow show={show} />}
          {show?.pictureFrom === 'encoder' && (show.state === 'draft' || show.state === 'placed' || show.state === 'onAir') && <EncoderSets show={show} />}
          <section>
            {refused && <Notice kind="refusal">{refused}</Notice>}
            {results.map((result) => (
              <Notice key={result.airingId} kind={result.done ? 'done' : 'refusal'}>
                {result.words}
              </Notice>
            ))}
            {editable && toPlace.length > 0 && <GoesOutAs channels={toPlace} />}
            <div className="d-flex flex-wrap gap-3 align-items-center mt-2">
              {editable && (
                <>
                  {toPlace.length > 0 && (
                    <Button onClick={() => void run('place')} disabled={busy !== null}>
                      {busy === 'place' ? 'Asking the channels…' : placeWords(toPlace.length, placed)}
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
              {show && editable && placed > 0 && <WithdrawShow show={show} onDone={(answers) => setOutcome({ refused: '', results: answers })} />}
            </div>
          </section>
        </Form>
        <ChannelsOfShow
          channels={chosen}
          show={show}
          draft={draft}
          facts={factsOf(draft, show, newPicture)}
          onFix={applyFix}
          onLine={chooseLine}
          onStart={moveStart}
        />
      </div>
    </FormProvider>
  );

  function chooseLine(channelId: string, lineId: string): void {
    const others = form.getValues('lines').filter((line) => line.channelId !== channelId);
    form.setValue('lines', [...others, { channelId, lineId }], { shouldDirty: true, shouldValidate: true });
  }

  function moveStart(startsAt: number): void {
    const wall = wallTimeOf(instant(startsAt), draft.zone);
    form.setValue('date', wall.date, { shouldDirty: true, shouldValidate: true });
    form.setValue('time', wall.time, { shouldDirty: true, shouldValidate: true });
  }

  function applyFix({ subject, fix }: Finding): void {
    const set = <K extends keyof ShowDraft>(name: K, value: ShowDraft[K]) =>
      form.setValue(name as never, value as never, { shouldDirty: true, shouldValidate: true });
    if (fix && 'text' in fix) set(subject === 'title' ? 'title' : 'description', fix.text);
    if (fix && 'lengthMs' in fix) set('lengthMin', fix.lengthMs / MINUTE_MS);
    if (fix && 'startsAt' in fix) moveStart(fix.startsAt);
  }
}

/** The start that date, time and zone stand for, rounded to nothing; null while they cannot be read. */
function startOf({ date, time, zone }: ShowDraft) {
  const reading = readWallTime({ date: date ?? '', time: time ?? '' }, zone ?? '');
  return reading.kind === 'once' ? reading.instant : null;
}

function factsOf(draft: ShowDraft, show: ShowView | null, picture: { width: number; height: number } | null): ShowFacts {
  const { title = '', description = '', thumbnailAlternative = '' } = draft;
  return {
    title,
    description,
    startsAt: startOf(draft),
    lengthMs: (draft.lengthMin || 0) * MINUTE_MS,
    thumbnail: picture ?? show?.thumbnail ?? null,
    thumbnailAlternative,
    placedAt: null, // differs from channel to channel
  };
}

/** Under whose names the next press publishes. */
function GoesOutAs({ channels }: { channels: ChannelView[] }) {
  return (
    <div className="goes-out-as">
      <span className="soft small-words">Goes out as</span>
      <ul>
        {channels.map((channel) => (
          <li key={channel.id}>
            <Portrait of={channel} small />
            <span>
              {channel.name} <span className="soft small-words">{kindWords(channel)}</span>
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function placeWords(toPlace: number, placed: number): string {
  const channels = toPlace === 1 ? '1 channel' : `${toPlace} channels`;
  return placed > 0 ? `Place on the missing ${channels}` : `Place on ${channels}`;
}
