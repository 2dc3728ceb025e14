// The show sheet: everything about one show, in the order of the work, as a letter whose lines open into forms. It is kept while it
// is typed.
import { ShowDraft, type ChannelView, type PlaceResult, type ShowView, type UntoldField } from '@lantern/contract';
import { MINUTE_MS, type Filling, type Finding, startOf, whenOf, sayReady } from '@lantern/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { Form } from 'react-bootstrap';
import { FormProvider, useForm, useWatch } from 'react-hook-form';
import { Link, Navigate, useLocation, useParams } from 'react-router';
import { useAskEvery } from '../app/changes';
import { useNow } from '../app/clock';
import { PageTitle } from '../app/PageTitle';
import { server, wordsOf } from '../app/server';
import { CANNOT_RUN_STAGE, canRunStage } from '../app/stage-support';
import { useChannels } from '../channels/channel-queries';
import { BreakMusicField } from '../clips/BreakMusicField';
import { EncoderSets } from '../lines/EncoderSets';
import { LessonsBefore } from '../lessons/LessonsBefore';
import { Notice } from '../look/Notice';
import { usePlan, useStation } from '../station/station-queries';
import { AnnouncementsFields } from './AnnouncementsFields';
import { Answers } from './Answers';
import { AudienceFields } from './AudienceFields';
import { ChannelsOfShow } from './ChannelsOfShow';
import { FirstShowGuide } from './FirstShowGuide';
import { HousePageFields } from './HousePageFields';
import { judgedOn, needsOf, type Changeable, type Need } from './judged';
import { LeaveUnkept } from './LeaveUnkept';
import { LinksOfShow } from './LinksOfShow';
import { Milestones } from './Milestones';
import { Polls } from '../polls/Polls';
import { GuestsOfShow } from './GuestsOfShow';
import { PeopleFields } from './PeopleFields';
import { RepeatSection } from './RepeatSection';
import { needId, Section, type NeedActs } from './Section';
import * as say from './section-words';
import { sectionOf, SectionsContext, useSections, type SectionId } from './sections';
import type { Outcome } from './sheet-acts';
import { draftOf, variantOf } from './sheet-draft';
import { ChannelTicks, PictureFromField, WhatFields, WhenFields } from './SheetFields';
import { ClipsFields } from './ClipsFields';
import { GraphicsFields } from './GraphicsFields';
import { ReadyList, useReadyPoints } from './readiness';
import { RehearsalFields } from './RehearsalFields';
import { RunningOrderFields } from './RunningOrderFields';
import { SheetEnd } from './SheetEnd';
import { SheetHead } from './SheetHead';
import { useSheetKeeping } from './sheet-keeping';
import { clashesOfSheet, type ShowClash } from './show-clashes';
import { ThumbnailPicker } from './ThumbnailPicker';

/** How often the sheet asks whether somebody else changed it where it does not hear of it, and how often the channels are looked at. */
const ASK_EVERY_MS = 4_000;
const LOOK_EVERY_MS = 5 * MINUTE_MS;
/** How long what was linked to is kept in sight while the rest of the page comes in. */
const SETTLES_MS = 2_000;

export function ShowSheetView() {
  const { id } = useParams();
  const refetchInterval = useAskEvery(ASK_EVERY_MS);
  const channels = useChannels();
  const plan = usePlan();
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
  // A rehearsal has no sheet of its own.
  if (show.data?.rehearsal) return <Navigate to={`/shows/${show.data.rehearsal.of}#rehearsal`} replace />;
  // Which sections are open at first follows from what the channels object to.
  if (!show.data || channels.isPending || plan.isPending) return null;
  return <Sheet key={id} show={show.data} channels={channels.data ?? NO_CHANNELS} />;
}

const NO_CHANNELS: ChannelView[] = [];
const NO_CLASHES: readonly ShowClash[] = [];
const NO_OUTCOME: Outcome = { refused: '', results: [] };
/** What a new show wants to be told first. */
const TOLD_FIRST: readonly SectionId[] = ['what', 'when', 'where', 'picture'];

function Sheet({ show, channels }: { show: ShowView; channels: ChannelView[] }) {
  const queries = useQueryClient();
  const station = useStation();
  const plan = usePlan();
  const now = useNow(15_000);
  const ready = useReadyPoints(show, now, null);
  const { hash } = useLocation();
  const form = useForm<ShowDraft>({ mode: 'onChange', defaultValues: useMemo(() => draftOf(show), []) }); // eslint-disable-line react-hooks/exhaustive-deps -- later states are taken in field by field
  const editable = show.state === 'draft' || show.state === 'placed' || show.state === 'withdrawn';
  // On air the words may still be put right, where the channels take that.
  const onAir = show.state === 'onAir' || show.state === 'interrupted';
  const changeable: Changeable = editable ? 'all' : onAir ? 'words' : 'nothing';
  const keeping = useSheetKeeping(form, show, changeable !== 'nothing');
  const [outcome, setOutcome] = useState<Outcome>(NO_OUTCOME);
  const [busy, setBusy] = useState(false);
  const draft = useWatch({ control: form.control }) as ShowDraft;
  const chosen = useMemo(() => channels.filter(({ id }) => draft.channelIds?.includes(id)), [channels, draft.channelIds]);
  const startsAt = startOf(draft);
  const cities = station.data?.cities ?? [];
  const order = station.data?.dateOrder ?? 'day first';
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
  const clashes = plan.data ? clashesOfSheet(plan.data, draft, show, startsAt, chosen, now) : NO_CLASHES;
  const judged = judgedOn({ show, draft, channels: chosen, filling, clashes, changeable, now });
  const needs = needsOf(judged, clashes, draft, changeable);
  const sections = useSections(() => {
    if (!editable) return [];
    if (show.state === 'draft' && !show.channelIds.length) return TOLD_FIRST;
    return needs.filter(({ kind }) => kind === 'refusal').map(({ section }) => section);
  });

  /** Keeps everything first, then asks the server and the channels; what they say stands on the sheet. */
  const run = async (work: () => Promise<Partial<PlaceResult>>): Promise<void> => {
    setBusy(true);
    setOutcome(NO_OUTCOME);
    try {
      if (changeable !== 'nothing' && !(await keeping.keepNow())) throw new Error('not kept');
      const { show: after, results = [] } = await work();
      if (after) {
        keeping.takeIn(after);
        queries.setQueryData(['show', after.id], after);
      }
      setOutcome({ refused: '', results });
      // What was placed is settled, and is shared next.
      if (!show.placedAt && after?.placedAt && results.every(({ done }) => done)) sections.openOnly('links');
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
  const linked = hash.slice(1);
  const linkedSection = sectionOf(linked);
  const reached = linked !== '' && (linkedSection === null || sections.isOpen(linkedSection));
  useEffect(() => {
    if (!reached) return;
    const field = document.getElementById(linked);
    if (!field) return;
    // What is taller than the window is read from its beginning.
    const show = () => field.scrollIntoView({ block: field.offsetHeight > window.innerHeight * 0.6 ? 'start' : 'center' });
    show();
    const first = field.matches('input, textarea, select') ? field : field.querySelector<HTMLElement>('.part-form :is(input, textarea, select, button, a)');
    (first ?? field.querySelector<HTMLElement>('button, a'))?.focus({ preventScroll: true });
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
  }, [linked, reached]);

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

  const jump = (need: Need) => {
    sections.setOpen(need.section, true);
    // Once it is drawn.
    setTimeout(() => {
      const place = document.getElementById(needId(need));
      place?.scrollIntoView({ block: 'center' });
      (place?.querySelector<HTMLElement>('button, a') ?? place)?.focus({ preventScroll: true });
    }, 50);
  };
  const { put } = keeping;
  const acts: NeedActs = {
    zone: draft.zone,
    onFix: ({ finding, channel }) => applyFix(finding!, channel!.id),
    onLine: (channelId, lineId) => put({ lines: [...draft.lines.filter((line) => line.channelId !== channelId), { channelId, lineId }] }),
    onStart: (at) => put(whenOf(at, draft.zone)),
    onLooked: ({ toLook }) => put({ toLook: draft.toLook.filter((each) => each !== toLook) }),
  };
  const stored = (after: ShowView) => queries.setQueryData(['show', show.id], after);
  const still = !editable || busy;
  const when = say.sayStart(draft, startsAt, station.data ?? null, now);
  const own = { needs, acts, still };
  return (
    <FormProvider {...form}>
      <SectionsContext value={sections}>
        <div className="sheet">
          <div className="sheet-columns">
            <SheetHead
              {...{ show, draft, startsAt, judged, clashes, needs, filling, changeable, keeping, now, busy, run }}
              station={station.data ?? null}
              channels={chosen}
              onJump={jump}
            />
            <Milestones show={show} draft={draft} times={station.data?.milestoneTimes ?? null} channels={chosen} put={put} editable={editable} />
            <Form noValidate onSubmit={(event) => event.preventDefault()}>
              <Answers outcome={outcome} zone={draft.zone} />
              <FirstShowGuide show={show} draft={draft} startsAt={startsAt} now={now} />
              {onAir && (
                <Notice kind="caution" live={false}>
                  The show is on air. Its title and text can still be put right, here and where the channels take that; the rest stays as it is.
                </Notice>
              )}
              {(show.state === 'placed' || onAir) && !canRunStage() && (
                <Notice kind="caution" live={false}>
                  {CANNOT_RUN_STAGE}
                </Notice>
              )}
              {changeable !== 'nothing' && <LessonsBefore showId={show.id} />}
              {changeable !== 'nothing' && <Untold show={show} />}
              <Section id="what" name="What" facts={say.sayWhat(draft, filling)} {...own} still={!(editable || onAir) || busy}>
                <WhatFields filling={filling} />
              </Section>
              <Section
                id="when"
                name="When"
                facts={
                  <>
                    {when.when}
                    {when.elsewhere && <span className="d-block soft">{when.elsewhere}</span>}
                  </>
                }
                {...own}
              >
                <WhenFields show={show} draft={draft} startsAt={startsAt} cities={cities} channels={chosen} order={order} put={put} />
              </Section>
              <Section id="repeat" name="Repeats" facts={say.sayRepeats(show.series)} {...own}>
                <RepeatSection show={show} draft={draft} cities={cities} order={order} run={run} busy={busy} />
              </Section>
              <Section id="where" name="Where" facts={say.sayWhere(chosen, draft)} {...own}>
                <ChannelTicks channels={channels} show={show} put={put} />
              </Section>
              <Section id="audience" name="Who sees it" facts={say.sayAudience(chosen, draft)} {...own} still={!(editable || onAir) || busy}>
                <AudienceFields channels={chosen} draft={draft} show={show} put={put} />
              </Section>
              <Section
                id="picture"
                name="Thumbnail"
                facts={
                  <span className="picture-facts">
                    {show.thumbnail && <img src={show.thumbnail.url} alt="" width={80} height={45} />}
                    <span>{say.sayPicture(show, draft)}</span>
                  </span>
                }
                {...own}
                still={!(editable || onAir) || busy}
              >
                <ThumbnailPicker show={show} onStored={stored} />
              </Section>
              <Section id="people" name="People" facts={say.sayPeople(draft)} beside={<GuestsOfShow show={show} people={draft.people} />} {...own}>
                <PeopleFields />
              </Section>
              <Section id="running-order" name="Running order" facts={say.sayOrder(draft, startsAt)} {...own}>
                <RunningOrderFields draft={draft} startsAt={startsAt} put={put} />
              </Section>
              <Section id="graphics" name="On the picture" facts={say.sayOnPicture(draft, startsAt)} beside={<Polls show={show} />} {...own}>
                <GraphicsFields draft={draft} startsAt={startsAt} put={put} />
                <h3 className="part-of-section" id="clips">
                  Clips
                </h3>
                <ClipsFields draft={draft} show={show} put={put} />
                <h3 className="part-of-section">Scenes</h3>
                <p className="mb-0">
                  {draft.scenes?.length ? `Other than the station’s: ${draft.scenes.map(({ name }) => `“${name}”`).join(', ')}. ` : 'As at the station. '}
                  <Link to={`/shows/${show.id}/scenes`}>{draft.scenes?.length ? 'See them' : 'Make one other for this show'}</Link>
                </p>
              </Section>
              <Section id="picture-from" name="Camera" facts={say.sayPictureFrom(draft)} {...own}>
                <PictureFromField />
                {draft.pictureFrom !== 'encoder' && <BreakMusicField chosen={draft.breakMusicId ?? null} put={put} />}
              </Section>
              <Section id="house" name="House page" facts={say.sayHouse(show, draft)} {...own}>
                <HousePageFields show={show} draft={draft} put={put} onStored={stored} />
              </Section>
              <Section id="announcements" name="Announcements" facts={say.sayAnnouncements(show, draft, startsAt, now)} {...own}>
                <AnnouncementsFields show={show} draft={draft} filling={filling} channels={channels} put={put} run={run} />
              </Section>
              <Section id="links" name="Links" facts={say.sayLinks(show)}>
                <LinksOfShow show={show} station={station.data ?? null} />
              </Section>
              {show.state === 'placed' && (
                <Section id="ready" name="Readiness" facts={sayReady(ready)} {...own}>
                  <ReadyList points={ready} sheet={`/shows/${show.id}`} />
                  {show.pictureFrom !== 'encoder' && (
                    <>
                      <h3 className="part-of-section" id="rehearsal">
                        Rehearsal
                      </h3>
                      <RehearsalFields show={show} />
                    </>
                  )}
                </Section>
              )}
              {show.pictureFrom === 'encoder' && (editable || show.state === 'onAir') && (
                <Section id="encoder" name="For the encoder" facts="Address and key for each channel, to be handed over.">
                  <EncoderSets show={show} />
                </Section>
              )}
              <SheetEnd show={show} editable={editable} busy={busy} run={run} />
            </Form>
            <LeaveUnkept keeping={keeping} />
            <ChannelsOfShow {...{ judged, show, draft, now, busy, editable, onAir, put, run }} onFix={applyFix} />
          </div>
        </div>
      </SectionsContext>
    </FormProvider>
  );
}

const UNTOLD_WORDS: Record<UntoldField, string> = {
  title: 'the title',
  text: 'the text',
  startsAt: 'the start',
  lengthMs: 'the length',
  visibility: 'who may see it',
  picture: 'the picture',
  choices: 'what was chosen for it, such as its line',
};

/** What the sheet says by now and channels were not told. */
function Untold({ show }: { show: ShowView }) {
  const untold = show.airings.filter((airing) => airing.untold.length > 0);
  if (!untold.length) return null;
  const fields = [...new Set(untold.flatMap((airing) => airing.untold))].map((field) => UNTOLD_WORDS[field]);
  return (
    <Notice kind="caution" live={false}>
      {say.sayChannels(untold.map(({ channel }) => channel))} {untold.length === 1 ? 'has' : 'have'} not been told of {say.listed(fields)}. Move them when it is
      right.
    </Notice>
  );
}
