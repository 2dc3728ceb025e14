// Cutting a recording: the picture, what is kept beside it, and the whole evening as a strip beneath.
import type { CutDraft, CutsView, CutView } from '@lantern/contract';
import { sayCutTime, without, type Passage } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Pause, Play } from 'lucide-react';
import { useState, type KeyboardEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useParams } from 'react-router';
import { useAskEvery } from '../app/changes';
import { useAskOnClose } from '../app/stay';
import { PageTitle } from '../app/PageTitle';
import { server, wordsOf } from '../app/server';
import { Notice } from '../look/Notice';
import { CaptionsHere, useCaptions } from './CaptionsHere';
import { ChaptersHere } from './ChaptersHere';
import { CutStrip } from './CutStrip';
import './cutting.scss';
import { KeptHere } from './KeptHere';
import { ShowHere } from './ShowHere';
import { cutsKey, useCut } from './use-cut';
import { usePlayer } from './use-player';

export function CutPage() {
  return <CutsOf id={useParams().id ?? ''} />;
}

export function CutsOf({ id }: { id: string }) {
  const askEvery = useAskEvery(5_000);
  const cuts = useQuery({
    queryKey: cutsKey(id),
    queryFn: () => server.get<CutsView>(`/api/shows/${id}/cuts`),
    refetchInterval: ({ state }) => (state.data && (!state.data.survey || state.data.cuts.some((cut) => cut.state === 'making')) ? 1_500 : askEvery),
  });
  const [chosen, setChosen] = useState<string | null>(null);
  if (cuts.error)
    return (
      <>
        <PageTitle of="Cut" />
        <h1>Cut</h1>
        <Notice kind="refusal">{wordsOf(cuts.error)}</Notice>
        <Link to={`/shows/${id}/report`}>To the report</Link>
      </>
    );
  if (!cuts.data) return null;
  const view = cuts.data;
  const cut = view.cuts.find((each) => each.id === chosen) ?? view.cuts[0];
  return (
    <div className="cut-page">
      <PageTitle of={`Cut: ${view.title}`} />
      <div className="d-flex flex-wrap align-items-baseline gap-3 mb-2">
        <h1 className="h2 mb-0">{view.title}: cut</h1>
        <Link to={`/shows/${id}/report`}>Report</Link>
        {cut && <Choose view={view} cut={cut} onChosen={setChosen} />}
      </div>
      {cut ? <Cutting key={cut.id} view={view} cut={cut} onRemoved={() => setChosen(null)} /> : <Beginning view={view} onBegun={setChosen} />}
    </div>
  );
}

/** What all the suggestions but those of silences leave. */
const asSuggested = ({ suggestions, lengthMs }: CutsView): Passage[] =>
  suggestions
    .filter(({ kind }) => kind !== 'silence')
    .reduce<Passage[]>((kept, out) => without(kept, out, lengthMs), [{ fromMs: 0, toMs: Math.floor(lengthMs) }]);

function useBegin({ showId, cuts }: CutsView, onBegun: (id: string) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (draft: CutDraft) => server.post<CutsView>(`/api/shows/${showId}/cuts`, draft),
    onSuccess: (after) => {
      queries.setQueryData(cutsKey(showId), after);
      const known = new Set(cuts.map(({ id }) => id));
      const begun = after.cuts.find(({ id }) => !known.has(id));
      if (begun) onBegun(begun.id);
    },
  });
}

/** A name that no other cut of the recording has. */
function freeName(cuts: readonly CutView[], name: string): string {
  const taken = new Set(cuts.map((cut) => cut.name));
  for (let number = 1; ; number += 1) {
    const each = number === 1 ? name : `${name} ${number}`;
    if (!taken.has(each)) return each;
  }
}

function Beginning({ view, onBegun }: { view: CutsView; onBegun: (id: string) => void }) {
  const begin = useBegin(view, onBegun);
  const suggested = asSuggested(view);
  const from = (kept: Passage[]) => begin.mutate({ name: 'The evening', kept, levelled: false, cardMs: 0 });
  return (
    <div className="narrow">
      <p>The recording stays as it is. A cut keeps parts of it, is watched before anybody else sees it, and can take its place on the house page.</p>
      {!view.survey && <p className="soft">{view.surveyTrouble || 'The recording is being looked through. This takes some seconds for each hour.'}</p>}
      <div className="button-row">
        {view.survey && view.suggestions.length > 0 && suggested.length > 0 && (
          <Button disabled={begin.isPending} onClick={() => from(suggested)}>
            Begin as suggested
          </Button>
        )}
        <Button
          variant={view.suggestions.length ? 'quiet' : 'primary'}
          disabled={begin.isPending || !view.survey}
          onClick={() => from([{ fromMs: 0, toMs: Math.floor(view.lengthMs) }])}
        >
          Begin with all of it
        </Button>
      </div>
      <ul className="soft small-words mt-3">
        {view.suggestions
          .filter(({ kind }) => kind !== 'silence')
          .map(({ fromMs, toMs, why }) => (
            <li key={fromMs}>
              Left out from {sayCutTime(fromMs)} to {sayCutTime(toMs)}: {why}
            </li>
          ))}
      </ul>
      {begin.error && <Notice kind="refusal">{wordsOf(begin.error)}</Notice>}
    </div>
  );
}

function Choose({ view, cut, onChosen }: { view: CutsView; cut: CutView; onChosen: (id: string) => void }) {
  const begin = useBegin(view, onChosen);
  return (
    <div className="d-flex gap-2 align-items-center ms-auto">
      {view.cuts.length > 1 && (
        <Form.Select size="sm" className="w-auto" aria-label="Which cut" value={cut.id} onChange={({ target }) => onChosen(target.value)}>
          {view.cuts.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
      )}
      <Button
        variant="quiet"
        size="sm"
        disabled={begin.isPending}
        onClick={() =>
          begin.mutate({ name: freeName(view.cuts, 'A short piece'), kept: [{ fromMs: 0, toMs: Math.floor(view.lengthMs) }], levelled: false, cardMs: 0 })
        }
      >
        Begin another cut
      </Button>
      {begin.error && <Notice kind="refusal">{wordsOf(begin.error)}</Notice>}
    </div>
  );
}

const PANELS = ['Kept', 'Chapters', 'Captions', 'Make and show'] as const;

function Cutting({ view, cut, onRemoved }: { view: CutsView; cut: CutView; onRemoved: () => void }) {
  const { showId, lengthMs, ran, recordingUrl } = view;
  const editing = useCut(showId, cut, lengthMs);
  useAskOnClose(!editing.kept);
  const { video, atMs, playing, go, step, toggle, pictureAt, heard } = usePlayer(showId, lengthMs);
  const captions = useCaptions(showId);
  const [panel, setPanel] = useState<(typeof PANELS)[number]>('Kept');
  const [selected, setSelected] = useState<Passage | null>(null);
  const { draft, change } = editing;
  const { kept } = draft;

  const nudge = (index: number, end: 'fromMs' | 'toMs', pictures: number, ms: number) => {
    const now = kept[index]![end];
    const put = (to: number) => {
      change({ kept: kept.map((each, at) => (at === index ? { ...each, [end]: to } : each)) });
      go(to);
    };
    if (!pictures) return put(Math.max(0, now + ms));
    // The picture on that side of the edge.
    void pictureAt(pictures < 0 ? now - 3 : now + 40).then(put);
  };
  const cue = (way: 1 | -1) => {
    const to = way > 0 ? ran.find((each) => each.atMs > atMs + 50) : ran.findLast((each) => each.atMs < atMs - 500);
    if (to) go(to.atMs);
  };
  const mark = async (end: 'fromMs' | 'toMs') => {
    const ms = await pictureAt(atMs);
    const other = selected ?? { fromMs: 0, toMs: Math.floor(lengthMs) };
    // An end before the begin begins anew.
    if (end === 'fromMs') setSelected({ fromMs: ms, toMs: other.toMs > ms ? other.toMs : Math.floor(lengthMs) });
    else setSelected({ fromMs: other.fromMs < ms ? other.fromMs : 0, toMs: ms });
  };
  const leaveOut = () => selected && change({ kept: without(kept, selected, lengthMs) });
  const keys = (event: KeyboardEvent) => {
    const { target, key, shiftKey, ctrlKey, metaKey, altKey } = event;
    if (ctrlKey || metaKey || altKey || /^(INPUT|TEXTAREA|SELECT|BUTTON)$/.test((target as HTMLElement).tagName)) return;
    const acts: Record<string, () => void> = {
      ' ': () => toggle(null),
      i: () => void mark('fromMs'),
      o: () => void mark('toMs'),
      Delete: () => void leaveOut(),
      ArrowLeft: () => (shiftKey ? go(atMs - 1_000) : void step(-1)),
      ArrowRight: () => (shiftKey ? go(atMs + 1_000) : void step(1)),
      ArrowUp: () => cue(-1),
      ArrowDown: () => cue(1),
    };
    const act = acts[key.length === 1 ? key.toLowerCase() : key];
    if (!act) return;
    event.preventDefault();
    act();
  };

  return (
    <>
      <div className="cut-desk">
        <div className="cut-picture" role="group" aria-label="The picture, with keys" tabIndex={0} onKeyDown={keys}>
          <video ref={video} src={recordingUrl} playsInline preload="auto" aria-label="The recording" {...heard} onClick={() => toggle(null)}>
            {(captions.data?.captions.length ?? 0) > 0 && (
              <track kind="captions" src={`/api/shows/${showId}/captions.vtt?v=${captions.data!.revision}`} srcLang={captions.data!.language} default />
            )}
          </video>
          <div className="cut-transport">
            <Button size="sm" aria-label={playing ? 'Pause' : 'Play'} onClick={() => toggle(null)}>
              {playing ? <Pause size={16} aria-hidden="true" /> : <Play size={16} aria-hidden="true" />}
            </Button>
            <Button variant="quiet" size="sm" onClick={() => toggle(kept)}>
              Play as cut
            </Button>
            <output aria-label="Where it stands">{sayCutTime(atMs)}</output>
          </div>
          <div className="cut-transport">
            <Button variant="quiet" size="sm" onClick={() => go(atMs - 1_000)} aria-label="A second back">
              −1 s
            </Button>
            <Button variant="quiet" size="sm" onClick={() => void step(-1)}>
              Picture back
            </Button>
            <Button variant="quiet" size="sm" onClick={() => void step(1)}>
              Picture on
            </Button>
            <Button variant="quiet" size="sm" onClick={() => go(atMs + 1_000)} aria-label="A second on">
              +1 s
            </Button>
            {ran.length > 1 && (
              <>
                <Button variant="quiet" size="sm" onClick={() => cue(-1)}>
                  Cue before
                </Button>
                <Button variant="quiet" size="sm" onClick={() => cue(1)}>
                  Next cue
                </Button>
              </>
            )}
          </div>
          <div className="cut-transport">
            <Button variant="outline-primary" size="sm" onClick={() => void mark('fromMs')}>
              From here
            </Button>
            <Button variant="outline-primary" size="sm" onClick={() => void mark('toMs')}>
              To here
            </Button>
            {selected ? (
              <>
                <span className="small-words">
                  {sayCutTime(selected.fromMs)} to {sayCutTime(selected.toMs)}:
                </span>
                <Button size="sm" onClick={leaveOut}>
                  Leave it out
                </Button>
                <Button variant="quiet" size="sm" onClick={() => change({ kept: [...kept, selected] })}>
                  Keep it
                </Button>
                <Button variant="quiet" size="sm" onClick={() => change({ kept: [selected] })}>
                  Keep only it
                </Button>
              </>
            ) : (
              <span className="soft small-words">choose a part, as a drag does.</span>
            )}
            {editing.back && (
              <Button variant="quiet" size="sm" className="ms-auto" onClick={editing.back}>
                Take the last step back
              </Button>
            )}
          </div>
        </div>
        <div className="cut-panel">
          <nav className="sub-nav" aria-label="Parts of the cut">
            {PANELS.map((name) => (
              <button key={name} type="button" className={name === panel ? 'active' : ''} aria-pressed={name === panel} onClick={() => setPanel(name)}>
                {name}
              </button>
            ))}
          </nav>
          {editing.trouble && (
            <Notice kind="refusal">
              {editing.trouble.words} What you chose is still here.{' '}
              {editing.trouble.theirs ? (
                <>
                  <Button variant="quiet" size="sm" onClick={() => void editing.over()}>
                    Keep mine over theirs
                  </Button>
                  <Button variant="quiet" size="sm" onClick={() => void editing.theirs()}>
                    Take theirs
                  </Button>
                </>
              ) : (
                <Button variant="quiet" size="sm" onClick={editing.again}>
                  Keep it now
                </Button>
              )}
            </Notice>
          )}
          {panel === 'Kept' && (
            <>
              <CutName key={draft.name} name={draft.name} onName={(name) => change({ name })} />
              <KeptHere view={view} draft={draft} onChange={change} onGo={go} />
            </>
          )}
          {panel === 'Chapters' && <ChaptersHere view={view} kept={kept} cardMs={draft.cardMs} atMs={atMs} onGo={go} />}
          {panel === 'Captions' && <CaptionsHere view={view} atMs={atMs} onGo={go} />}
          {panel === 'Make and show' && <ShowHere view={view} cut={cut} kept={editing.kept} onRemoved={onRemoved} />}
        </div>
      </div>
      <CutStrip
        view={view}
        kept={kept}
        onKept={(next) => change({ kept: next })}
        onNudge={nudge}
        atMs={atMs}
        onGo={go}
        selected={selected}
        onSelect={setSelected}
      />
      <p className="soft small-words mt-3">
        By keys, with the picture in focus: space plays; ← and → go by pictures, with Shift by seconds; ↑ and ↓ by cues; I is from here, O to here, and Delete
        leaves it out.
      </p>
    </>
  );
}

function CutName({ name, onName }: { name: string; onName: (name: string) => void }) {
  const [typed, setTyped] = useState(name);
  return (
    <Form.Group controlId="cut-name" className="mb-3">
      <Form.Label>Name of this cut</Form.Label>
      <Form.Control
        size="sm"
        value={typed}
        maxLength={80}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={() => typed.trim() !== name && onName(typed)}
      />
    </Form.Group>
  );
}
