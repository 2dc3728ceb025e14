// Telling people: texts with their times and places, filled in, ready to be copied when their time has come.
import type { AnnouncementDraft, ChannelView, PostedView, ShowDraft, ShowView } from '@lantern/contract';
import {
  ANNOUNCEMENT_TIMES,
  announcementsAt,
  countCharacters,
  fillPlaceholders,
  instant,
  sayDistance,
  type AnnouncementStanding,
  type AnnouncementTime,
  type Filling,
} from '@lantern/core';
import { Check, Circle, CircleAlert, CircleDot } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNow } from '../app/clock';
import { server } from '../app/server';
import { CopyButton } from '../look/CopyButton';
import { kindWords } from '../look/Identity';
import { Notice } from '../look/Notice';
import type { Put, Run } from './sheet-acts';

const MARKS = { done: Check, later: Circle, due: CircleDot, late: CircleAlert };
/** What hosts most often say, to begin with. */
const FIRST: Omit<AnnouncementDraft, 'id'>[] = [
  { place: 'Members’ mail', text: 'We are on air on {start}: watch at {house page}', time: 3 * 86_400_000, channelId: null },
  { place: 'Members’ mail', text: 'In an hour: {house page}', time: 3_600_000, channelId: null },
];

interface Props {
  show: ShowView;
  draft: ShowDraft;
  filling: Filling;
  channels: readonly ChannelView[];
  put: Put;
  run: Run;
}

export function AnnouncementsFields({ show, draft, filling, channels, put, run }: Props) {
  const now = useNow(30_000);
  const [open, setOpen] = useState<string | null>(null);
  const announcements = draft.announcements ?? [];
  const standing = announcementsAt(
    announcements,
    draft.said ?? [],
    { startsAt: filling.startsAt ?? instant(show.startsAt), placedAt: show.placedAt === null ? null : instant(show.placedAt) },
    now,
  );
  const add = (texts: readonly Omit<AnnouncementDraft, 'id'>[]) => {
    const made = texts.map((text) => ({ ...text, id: crypto.randomUUID().slice(0, 13) }));
    put({ announcements: [...announcements, ...made] });
    if (made.length === 1) setOpen(made[0]!.id);
  };
  const change = (id: string, words: Partial<AnnouncementDraft>) =>
    put({ announcements: announcements.map((each) => (each.id === id ? { ...each, ...words } : each)) });
  return (
    <>
      {!announcements.length && (
        <p className="mb-2">
          Nothing is prepared.{' '}
          <Button variant="quiet" size="sm" onClick={() => add(FIRST)}>
            Begin with two to the members
          </Button>
        </p>
      )}
      <ul className="start-list mb-2">
        {standing.map((each) => (
          <One
            key={each.announcement.id}
            standing={each}
            channels={channels.filter(({ rules }) => rules.posts)}
            // The right link for each place: the channel's own where the show goes out on it.
            filling={{ ...filling, watchUrl: show.airings.find(({ channel }) => channel.id === each.announcement.channelId)?.watchUrl ?? null }}
            posted={show.posted[each.announcement.id] ?? null}
            onPost={
              show.state === 'placed' || show.state === 'onAir'
                ? () => void run(async () => ({ show: await server.post<ShowView>(`/api/shows/${show.id}/announcements/${each.announcement.id}/post`) }))
                : null
            }
            now={now}
            open={open === each.announcement.id}
            onOpen={(shown) => setOpen(shown ? each.announcement.id : null)}
            onChange={(words) => change(each.announcement.id, words)}
            onSaid={(said) =>
              put({ said: said ? [...(draft.said ?? []), each.announcement.id] : (draft.said ?? []).filter((id) => id !== each.announcement.id) })
            }
            onRemove={() => put({ announcements: announcements.filter(({ id }) => id !== each.announcement.id) })}
          />
        ))}
      </ul>
      <Button variant="quiet" size="sm" onClick={() => add([{ place: '', text: '{start}: {house page}', time: 86_400_000, channelId: null }])}>
        Add an announcement
      </Button>
    </>
  );
}

interface OneProps {
  standing: AnnouncementStanding;
  /** Those on whose pages something can be said. */
  channels: readonly ChannelView[];
  filling: Filling;
  posted: PostedView | null;
  /** Null: the show is not placed. */
  onPost: (() => void) | null;
  now: number;
  open: boolean;
  onOpen: (open: boolean) => void;
  onChange: (words: Partial<AnnouncementDraft>) => void;
  onSaid: (said: boolean) => void;
  onRemove: () => void;
}

function One({ standing, channels, filling, posted, onPost, now, open, onOpen, onChange, onSaid, onRemove }: OneProps) {
  const { announcement, at, state } = standing;
  const { place, text, time, channelId } = announcement;
  const channel = channels.find(({ id }) => id === channelId);
  const limit = channel?.rules.textMax ?? null;
  const Mark = MARKS[state];
  const { text: filled, troubles } = fillPlaceholders(text, filling);
  const when = ANNOUNCEMENT_TIMES.find((each) => each.time === time)?.words ?? 'before the start';
  // By itself only once the show is placed: until then there is nothing to lead to.
  const name = channel?.name ?? (place || 'An announcement');
  const count = channel ? countCharacters(filled, channel.rules.linkCounts) : 0;
  return (
    <li className="announcement small-words">
      <div>
        <b>
          <Mark size={14} aria-label={state} className={state === 'late' ? 'late-word' : ''} /> {name}
        </b>{' '}
        <span className="soft">
          {when}
          {at !== null && state !== 'done' && `, ${sayDistance(at - now)}`}
        </span>
        {!open && <p className="mb-1">{filled}</p>}
        {troubles.length > 0 && <p className="text-danger mb-1">Nothing can be put in place of {troubles.map((trouble) => `{${trouble.name}}`).join(', ')}.</p>}
        {open && (
          <div className="announcement-fields">
            {channels.length > 0 && (
              <Form.Select
                size="sm"
                aria-label="Who says it"
                value={channelId ?? ''}
                onChange={({ target: { value } }) => onChange({ channelId: value || null })}
              >
                <option value="">You say it, somewhere of yours</option>
                {channels.map((each) => (
                  <option key={each.id} value={each.id}>
                    {each.name}, {kindWords(each)}, by itself
                  </option>
                ))}
              </Form.Select>
            )}
            {channelId === null && (
              <Form.Control
                size="sm"
                aria-label="Where it is said"
                placeholder="Where: a mailing list, a board"
                value={place}
                onChange={({ target }) => onChange({ place: target.value })}
              />
            )}
            <Form.Select
              size="sm"
              aria-label="When it is said"
              value={String(time)}
              onChange={({ target }) => onChange({ time: ANNOUNCEMENT_TIMES.find((each) => String(each.time) === target.value)!.time as AnnouncementTime })}
            >
              {ANNOUNCEMENT_TIMES.map((each) => (
                <option key={String(each.time)} value={String(each.time)}>
                  {each.words}
                </option>
              ))}
            </Form.Select>
            <Form.Control as="textarea" size="sm" rows={3} aria-label="What is said" value={text} onChange={({ target }) => onChange({ text: target.value })} />
          </div>
        )}
        {limit !== null && (open || count > limit) && (
          <p className={`mb-1 ${count > limit ? 'text-danger' : 'soft'}`}>
            {count} of {limit} characters there{count > limit && ': shorten it, or it will be refused'}
          </p>
        )}
        {posted?.words && state !== 'done' && <Notice kind="refusal">{posted.words}</Notice>}
        {posted?.url && (
          <p className="mb-1">
            Posted. <a href={posted.url}>See it there</a>
          </p>
        )}
        <span className="button-row">
          {channelId !== null && state !== 'done' && onPost && (
            <Button variant="quiet" size="sm" onClick={onPost}>
              Post now
            </Button>
          )}
          {!posted?.url && (
            <Button variant="quiet" size="sm" onClick={() => onSaid(state !== 'done')}>
              {state === 'done' ? 'Mark as not said' : channelId === null ? 'Mark as said' : 'Do not post it'}
              <span className="visually-hidden">: {name}</span>
            </Button>
          )}
          <Button variant="quiet" size="sm" aria-expanded={open} onClick={() => onOpen(!open)}>
            {open ? 'Close' : 'Edit'}
            <span className="visually-hidden">: {name}</span>
          </Button>
          <Button variant="quiet" size="sm" onClick={onRemove}>
            Take out
            <span className="visually-hidden">: {name}</span>
          </Button>
        </span>
      </div>
      <CopyButton text={filled} what={`the announcement for ${name}`} />
    </li>
  );
}
