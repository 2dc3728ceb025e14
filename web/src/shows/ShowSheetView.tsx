// The show sheet: everything about one show, in the order of the work. It is kept while it is typed.
import { ShowDraft, type PlaceResult, type ShowView } from '@lantern/contract';
import { MINUTE_MS, type Filling, type Finding, startOf, whenOf } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Form } from 'react-bootstrap';
import { FormProvider, useForm, useWatch } from 'react-hook-form';
import { Link, useLocation, useParams } from 'react-router';
import { useAskEvery } from '../app/changes';
import { server, wordsOf } from '../app/server';
import { useChannels } from '../channels/channel-queries';
import { EncoderSets } from '../lines/EncoderSets';
import { Notice } from '../look/Notice';
import { useStation } from '../station/station-queries';
import { AnnouncementsFields } from './AnnouncementsFields';
import { AudienceFields } from './AudienceFields';
import { ChannelsOfShow } from './ChannelsOfShow';
import { Checks } from './Checks';
import { HousePageFields } from './HousePageFields';
import { KeepingLine } from './KeepingLine';
import { LeaveUnkept } from './LeaveUnkept';
import { LinksOfShow } from './LinksOfShow';
import { Milestones } from './Milestones';
import { PeopleFields } from './PeopleFields';
import { RepeatSection } from './RepeatSection';
import { draftOf, variantOf } from './sheet-draft';
import { useSheetKeeping } from './sheet-keeping';
import type { Outcome } from './sheet-acts';
import { ChannelTicks, PictureFromField, ToLook, WhatFields, WhenFields } from './SheetFields';
import { ThumbnailPicker } from './ThumbnailPicker';
import { PageTitle } from '../app/PageTitle';

/** How often the sheet asks whether somebody else changed it where it does not hear of it, and how often the channels are looked at. */
const ASK_EVERY_MS = 4_000;
const LOOK_EVERY_MS = 5 * MINUTE_MS;
/** How long what was linked to is kept in sight while the rest of the page comes in. */
const SETTLES_MS = 2_000;

export function ShowSheetView() {
  const { id } = useParams();
  const refetchInterval = useAskEvery(ASK_EVERY_MS);
  const show = useQuery({ queryKey: ['show', id], queryFn: () => server.get<ShowView>(`/api/shows/${id}`), refetchInterval });
  if (!show.data && show.error) {
    return (
      <div className="narrow">
        <PageTitle of="No such show" />
        <h1>No such show</h1>
        <Notice kind="refusal">{wordsOf(show.error)}</Notice>
        <Link to="/">To the almanac</Link>
      </div>
    );
  }
  if (!show.data) return null;
  return <Sheet key={id} show={show.data} />;
}

export const NO_OUTCOME: Outcome = { refused: '', results: [] };

function Sheet({ show }: { show: ShowView }) {
  const queries = useQueryClient();
  const channels = useChannels();
  const station = useStation();
  const { hash } = useLocation();
  const form = useForm<ShowDraft>({ mode: 'onChange', defaultValues: useMemo(() => draftOf(show), []) }); // eslint-disable-line react-hooks/exhaustive-deps -- later states are taken in field by field
  const editable = show.state === 'draft' || show.state === 'placed' || show.state === 'withdrawn';
  // On air the words may still be put right, where the channels take that.
  const onAir = show.state === 'onAir' || show.state === 'interrupted';
  const keeping = useSheetKeeping(form, show, editable || onAir);
  const [outcome, setOutcome] = useState<Outcome>(NO_OUTCOME);
  const [busy, setBusy] = useState(false);
  const draft = useWatch({ control: form.control }) as ShowDraft;
  const chosen = useMemo(() => channels.data?.filter(({ id }) => draft.channelIds?.includes(id)) ?? [], [channels.data, draft.channelIds]);
  const startsAt = startOf(draft);
  const cities = station.data?.cities ?? [];
  const stands = show.airings.filter(({ placing }) => placing === 'placed').length;
  const filling: Filling = {
    startsAt,
    zone: draft.zone,
    cities,
    watchUrl: null,
    houseUrl: show.houseUrl,
    episode: draft.episode ?? null,
    guests: (draft.people ?? []).filter(({ role, name }) => role === 'guest' && name.trim()).map(({ name }) => name.trim()),
  };

  /** Keeps everything first, then asks the server and the channels; what they say stands on the sheet. */
  const run = async (work: () => Promise<Partial<PlaceResult>>): Promise<void> => {
    setBusy(true);
    setOutcome(NO_OUTCOME);
    try {
      if ((editable || onAir) && !(await keeping.keepNow())) throw new Error('not kept');
      const { show: after, results = [] } = await work();
      if (after) {
        keeping.takeIn(after);
        queries.setQueryData(['show', after.id], after);
      }
      setOutcome({ refused: '', results });
    } catch (error) {
      const unkept = error instanceof Error && error.message === 'not kept';
      setOutcome({ refused: unkept ? 'Something on the sheet could not be kept. Put it right first; it is marked.' : wordsOf(error), results: [] });
    } finally {
      setBusy(false);
      await Promise.all(['shows', 'plan'].map((queryKey) => queries.invalidateQueries({ queryKey: [queryKey] })));
      await queries.invalidateQueries({ queryKey: ['show', show.id] });
    }
  };

  // Channels are looked at when the sheet is opened and every few minutes: somebody may have changed the event there.
  const standing = stands > 0 && editable;
  useEffect(() => {
    if (!standing) return;
    const look = async () => {
      const { show: after } = await server.post<PlaceResult>(`/api/shows/${show.id}/look`);
      queries.setQueryData(['show', show.id], after);
    };
    const quietly = () => void look().catch(() => undefined); // Asked for by nobody: a channel that does not answer is no news.
    quietly();
    const timer = setInterval(quietly, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [queries, show.id, standing]);

  // A link of the almanac may lead to the very field.
  useEffect(() => {
    if (!hash) return;
    const field = document.getElementById(hash.slice(1));
    if (!field) return;
    // What is taller than the window is read from its beginning.
    const show = () => field.scrollIntoView({ block: field.offsetHeight > window.innerHeight * 0.7 ? 'start' : 'center' });
    show();
    field.querySelector<HTMLElement>('input, textarea, select, button')?.focus({ preventScroll: true });
    // Pictures and channels that come in later push it away again, until somebody moves the page.
    const settling = new ResizeObserver(show);
    settling.observe(document.body);
    const stop = () => settling.disconnect();
    const timer = setTimeout(stop, SETTLES_MS);
    for (const sign of ['wheel', 'touchstart', 'keydown', 'pointerdown']) window.addEventListener(sign, stop, { once: true });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, [hash]);

  const applyFix = (finding: Finding, channelId: string) => {
    const { subject, fix } = finding;
    if (!fix) return;
    if ('startsAt' in fix) return keeping.put(whenOf(fix.startsAt, draft.zone));
    if ('lengthMs' in fix) return keeping.put({ lengthMin: fix.lengthMs / MINUTE_MS });
    const variant = variantOf(draft, channelId);
    if ('visibility' in fix) return keeping.put({ variants: [{ ...variant, choices: { ...variant.choices, visibility: fix.visibility } }] });
    // A placeholder that means nothing is wrong everywhere; a text that is too long only where it is.
    const everywhere = finding.code.startsWith('placeholder-') || finding.code === 'private-in-text';
    const field = subject === 'title' ? 'title' : 'description';
    if (everywhere && variant[field] === null) return keeping.put({ [field]: fix.text });
    keeping.put({ variants: [{ ...variant, [field]: fix.text }] });
  };

  return (
    <FormProvider {...form}>
      <div className="sheet">
        <Milestones show={show} draft={draft} times={station.data?.milestoneTimes ?? null} channels={chosen} put={keeping.put} editable={editable} />
        <Form noValidate onSubmit={(event) => event.preventDefault()}>
          <div className="sheet-head">
            <PageTitle of={draft.title?.trim() || 'Untitled show'} />
            <h1>{draft.title?.trim() || 'Untitled show'}</h1>
            <KeepingLine show={show} keeping={keeping} editable={editable || onAir} />
          </div>
          {onAir && (
            <Notice kind="caution" live={false}>
              The show is on air. Its title and text can still be put right, here and where the channels take that; the rest stays as it is.
            </Notice>
          )}
          <fieldset disabled={!(editable || onAir) || busy}>
            <legend className="visually-hidden">What is said</legend>
            <ToLook draft={draft} put={keeping.put} />
            <WhatFields filling={filling} />
          </fieldset>
          <fieldset disabled={!editable || busy}>
            <legend className="visually-hidden">The show</legend>
            <WhenFields show={show} draft={draft} startsAt={startsAt} cities={cities} channels={chosen} put={keeping.put} />
            <RepeatSection show={show} draft={draft} cities={cities} run={run} busy={busy} />
            <ChannelTicks channels={channels.data ?? []} show={show} put={keeping.put} />
            <PictureFromField />
            <AudienceFields channels={chosen} draft={draft} show={show} put={keeping.put} />
            <HousePageFields show={show} draft={draft} put={keeping.put} onStored={(after) => queries.setQueryData(['show', show.id], after)} />
            <ThumbnailPicker show={show} onStored={(after) => queries.setQueryData(['show', show.id], after)} />
            <PeopleFields />
            <AnnouncementsFields show={show} draft={draft} filling={filling} channels={channels.data ?? []} put={keeping.put} run={run} />
          </fieldset>
          <LinksOfShow show={show} station={station.data ?? null} />
          {show.pictureFrom === 'encoder' && (editable || show.state === 'onAir') && <EncoderSets show={show} />}
          <Checks
            show={show}
            draft={draft}
            channels={chosen}
            filling={filling}
            cities={cities}
            outcome={outcome}
            run={run}
            busy={busy}
            editable={editable}
            onAir={onAir}
          />
        </Form>
        <LeaveUnkept keeping={keeping} />
        <ChannelsOfShow
          channels={chosen}
          show={show}
          draft={draft}
          filling={filling}
          busy={busy}
          editable={editable}
          onAir={onAir}
          put={keeping.put}
          run={run}
          onFix={applyFix}
        />
      </div>
    </FormProvider>
  );
}
