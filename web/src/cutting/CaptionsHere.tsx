// Captions of a recording: read from a file, corrected beside the picture, and checked for whoever has to read them.
import type { CaptionsDraft, CaptionsView, CutsView } from '@lantern/contract';
import { sayClock, writeVtt, type Caption } from '@lantern/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { FileInput } from '../look/FileInput';
import { Notice } from '../look/Notice';
import { CutTime } from './CutTime';
import { cutsKey } from './use-cut';

const NEW_MS = 3_000;
/** So many are drawn around the one that is heard; the others come as one goes on. */
const AROUND = 60;

export const captionsKey = (showId: string) => [...cutsKey(showId), 'captions'] as const;

export const useCaptions = (showId: string) =>
  useQuery({ queryKey: captionsKey(showId), queryFn: () => server.get<CaptionsView>(`/api/shows/${showId}/captions`) });

interface Props {
  view: CutsView;
  atMs: number;
  onGo: (ms: number) => void;
}

export function CaptionsHere({ view: { showId, cuts, lengthMs }, atMs, onGo }: Props) {
  const queries = useQueryClient();
  const captions = useCaptions(showId);
  const [of, setOf] = useState('');
  const [refused, setRefused] = useState<CaptionsDraft | null>(null);
  const keep = useMutation({
    mutationFn: (draft: Omit<CaptionsDraft, 'base'>) => server.put<CaptionsView>(`/api/shows/${showId}/captions`, { ...draft, base: captions.data!.revision }),
    onSuccess: (after) => {
      setRefused(null);
      queries.setQueryData(captionsKey(showId), after);
    },
    onError: (_, draft) => setRefused({ ...draft, base: 0 }),
  });
  if (captions.error) return <Notice kind="refusal">{wordsOf(captions.error)}</Notice>;
  if (!captions.data) return null;
  const { captions: all, language, troubles, unread, notes } = captions.data;
  const write = (next: readonly Caption[]) =>
    keep.mutate({ text: next.length ? writeVtt([...next].sort((a, b) => a.fromMs - b.fromMs)) : '', language, take: 'strict' });
  const set = (index: number, part: Partial<Caption>) => write(all.map((each, at) => (at === index ? { ...each, ...part } : each)));
  const read = async (file: File) => keep.mutate({ text: await file.text(), language, take: 'strict', ...(of && { cutId: of }) });
  const made = cuts.filter((cut) => cut.made);
  const here = all.findLastIndex(({ fromMs }) => fromMs <= atMs + 1);
  const from = Math.max(0, here - AROUND / 2);
  const wrong = new Map(troubles.map((each) => [each.at, each.words]));
  return (
    <>
      <h2 className="h3">Captions</h2>
      <div className="d-flex flex-wrap gap-2 align-items-center mb-2">
        <FileInput accept=".vtt,.srt,text/vtt" onFile={(file) => void read(file)}>
          Read a file (WebVTT, SubRip)
        </FileInput>
        {made.length > 0 && (
          <Form.Select size="sm" className="w-auto" aria-label="Whose times the file has" value={of} onChange={({ target }) => setOf(target.value)}>
            <option value="">with the times of the recording</option>
            {made.map(({ id, name }) => (
              <option key={id} value={id}>
                with the times of “{name}”
              </option>
            ))}
          </Form.Select>
        )}
      </div>
      {keep.error && (
        <Notice kind="refusal">
          {wordsOf(keep.error)}
          {refused?.take === 'strict' && wordsOf(keep.error).startsWith('Line') && (
            <Button variant="quiet" size="sm" onClick={() => keep.mutate({ ...refused, take: 'what can be read' })}>
              Take what can be read
            </Button>
          )}
        </Notice>
      )}
      {unread.length > 0 && (
        <Notice kind="caution">
          {unread.map(({ line, words }) => (
            <div key={line}>
              {line ? `Line ${line}: ` : ''}
              {words} {line ? 'It was left out.' : ''}
            </div>
          ))}
        </Notice>
      )}
      {notes.length > 0 && !all.length && (
        <p className="small-words">
          While it was on, {notes.length === 1 ? 'a line was' : `${notes.length} lines were`} written down.{' '}
          <Button variant="outline-primary" size="sm" disabled={keep.isPending} onClick={() => write(notes)}>
            Take what was written down
          </Button>
        </p>
      )}
      {!all.length && <p className="soft">There are none yet. Read a file that a person or a service has written, or type them beside the picture.</p>}
      {all.length > 0 && (
        <p className="small-words">
          {all.length} captions{troubles.length ? `, ${troubles.length} of them hard to read` : ', all easy to read'}.{' '}
          {troubles[0] && (
            <Button
              variant="quiet"
              size="sm"
              onClick={() => onGo((all.find(({ fromMs }, at) => wrong.has(at) && fromMs > atMs + 1) ?? all[troubles[0]!.at]!).fromMs)}
            >
              Go to the next of those
            </Button>
          )}
        </p>
      )}
      <ol className="cut-list captions" aria-label="Captions">
        {all.slice(from, from + AROUND).map((caption, offset) => {
          const index = from + offset;
          return (
            <CaptionHere
              key={`${caption.fromMs} ${caption.toMs} ${caption.text}`}
              caption={caption}
              here={index === here && atMs < caption.toMs}
              wrong={wrong.get(index)}
              onGo={onGo}
              onChange={(part) => set(index, part)}
              onOut={() => write(all.filter((_, at) => at !== index))}
            />
          );
        })}
      </ol>
      <div className="button-row small-words">
        <Button
          variant="outline-primary"
          size="sm"
          disabled={keep.isPending || atMs >= lengthMs - 100}
          onClick={() => write([...all, { fromMs: Math.round(atMs), toMs: Math.min(Math.round(lengthMs), Math.round(atMs) + NEW_MS), text: 'What is said' }])}
        >
          Write one at {sayClock(atMs)}
        </Button>
        {all.length > 0 && (
          <>
            <a href={`/api/shows/${showId}/captions.vtt`} download="captions.vtt">
              As WebVTT
            </a>
            <a href={`/api/shows/${showId}/captions.srt`} download="captions.srt">
              As SubRip
            </a>
          </>
        )}
        <Form.Control
          size="sm"
          className="w-auto"
          style={{ maxWidth: '6rem' }}
          aria-label="Language of the captions, as en or en-IE"
          defaultValue={language}
          key={language}
          onBlur={({ target }) => target.value.trim() !== language && keep.mutate({ text: writeVtt(all), language: target.value.trim(), take: 'strict' })}
        />
      </div>
    </>
  );
}

interface CaptionProps {
  caption: Caption;
  here: boolean;
  wrong: string | undefined;
  onGo: (ms: number) => void;
  onChange: (part: Partial<Caption>) => void;
  onOut: () => void;
}

function CaptionHere({ caption: { fromMs, toMs, text }, here, wrong, onGo, onChange, onOut }: CaptionProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const leave = () => {
    const words = typed?.trim();
    // What was typed stays until it is kept: then this is another caption.
    if (words && words !== text) onChange({ text: words });
    else setTyped(null);
  };
  return (
    <li className={here ? 'here' : ''}>
      <Button variant="quiet" size="sm" onClick={() => onGo(fromMs)} aria-label={`Go to ${sayClock(fromMs)}`}>
        {sayClock(fromMs)}
      </Button>
      <div className="flex-grow-1">
        <Form.Control
          as="textarea"
          rows={2}
          size="sm"
          aria-label={`Words at ${sayClock(fromMs)}`}
          value={typed ?? text}
          onChange={({ target }) => setTyped(target.value)}
          onBlur={leave}
        />
        <div className="d-flex gap-2 align-items-center mt-1">
          <CutTime label={`Begin of the words at ${sayClock(fromMs)}`} ms={fromMs} onMs={(ms) => onChange({ fromMs: ms })} />
          <span className="soft">to</span>
          <CutTime label={`End of the words at ${sayClock(fromMs)}`} ms={toMs} onMs={(ms) => onChange({ toMs: ms })} />
          <Button variant="quiet" size="sm" onClick={onOut}>
            Take out<span className="visually-hidden"> the words at {sayClock(fromMs)}</span>
          </Button>
        </div>
        {wrong && (
          <Notice kind="caution" live={false}>
            {wrong}
          </Notice>
        )}
      </div>
    </li>
  );
}
