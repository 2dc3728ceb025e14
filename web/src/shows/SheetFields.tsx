// The parts of the sheet that are typed or ticked: what, when, where.
import type { ChannelView, FieldToLook, ShowDraft, ShowView } from '@lantern/contract';
import {
  countCharacters,
  datedWords,
  PLACEHOLDERS,
  readWallTime,
  sayWhen,
  fillPlaceholders,
  type City,
  type Filling,
  type Instant,
  whenOf,
} from '@lantern/core';
import { useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Controller, useFormContext, useWatch } from 'react-hook-form';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { Field } from '../look/Field';
import { Identity } from '../look/Identity';
import { Notice } from '../look/Notice';
import { ZoneOptions } from '../look/ZoneOptions';
import type { Put } from './sheet-acts';
import { usePlan } from './show-clashes';
import { soonestStart } from './soonest';
import { TimeStrip } from './TimeStrip';

const LOOK_WORDS: Record<FieldToLook, string> = {
  title: 'the title',
  description: 'the text',
  people: 'the guests',
  picture: 'the picture',
  time: 'the time: clocks are changed over it',
};

/** What was carried over from another date and may not be right for this one. */
export function ToLook({ draft, put }: { draft: ShowDraft; put: Put }) {
  if (!draft.toLook?.length) return null;
  return (
    <div className="to-look">
      {draft.toLook.map((field) => {
        const words = field === 'title' || field === 'description' ? datedWords(draft[field] ?? '') : [];
        return (
          <Notice key={field} kind="caution" live={false}>
            Look at {LOOK_WORDS[field]}
            {words.length > 0 && `: “${words.slice(0, 3).join('”, “')}” may be about another date`}.{' '}
            <Button variant="quiet" size="sm" onClick={() => put({ toLook: draft.toLook.filter((each) => each !== field) })}>
              It is right
            </Button>
          </Notice>
        );
      })}
    </div>
  );
}

/** Counted as the channels’ limits are: with what placeholders stand for. */
const counted = (filled: string, typed: string): string =>
  `${countCharacters(filled.trim()).toLocaleString('en-GB')} characters${filled === typed ? '' : ' when filled in'}`;

export function WhatFields({ filling }: { filling: Filling }) {
  const { register, formState, control, getValues, setValue } = useFormContext<ShowDraft>();
  const [title = '', description = ''] = useWatch({ control, name: ['title', 'description'] });
  const { errors } = formState;
  const text = useRef<HTMLTextAreaElement | null>(null);
  const filled = fillPlaceholders(description, filling);
  const filledTitle = fillPlaceholders(title, filling);
  const { ref, ...field } = register('description');
  const insert = (name: string) => {
    const at = text.current?.selectionStart ?? description.length;
    const written = `{${name === 'start in …' ? `start in ${filling.cities[0]?.name ?? filling.zone}` : name}}`;
    setValue('description', `${getValues('description').slice(0, at)}${written}${getValues('description').slice(at)}`, { shouldDirty: true });
  };
  return (
    <section aria-labelledby="what">
      <h2 id="what">What</h2>
      <div className="row gx-3">
        <Field id="title" label="Title" className="col mb-3" trouble={errors.title?.message} help={counted(filledTitle.text, title)}>
          <Form.Control isInvalid={!!errors.title} {...register('title')} />
        </Field>
        <Field id="episode" label="Episode" className="col-3 mb-3" trouble={errors.episode?.message}>
          <Form.Control
            type="number"
            min={1}
            inputMode="numeric"
            isInvalid={!!errors.episode}
            {...register('episode', { setValueAs: (value: string) => (value === '' || value === null ? null : Number(value)) })}
          />
        </Field>
      </div>
      <Field id="description" label="Text" className="mb-2" trouble={errors.description?.message} help={counted(filled.text, description)}>
        <Form.Control
          as="textarea"
          rows={6}
          isInvalid={!!errors.description}
          {...field}
          ref={(element: HTMLTextAreaElement | null) => {
            ref(element);
            text.current = element;
          }}
        />
      </Field>
      <details className="small-words">
        <summary>Words that fill themselves in</summary>
        <p className="soft mb-2">Write them in a title or text; each date and each channel gets its own.</p>
        <ul className="placeholder-list">
          {PLACEHOLDERS.map(({ name, words }) => (
            <li key={name}>
              <Button variant="quiet" size="sm" onClick={() => insert(name)}>
                {`{${name}}`}
              </Button>{' '}
              <span className="soft">{words}</span>
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}

interface WhenProps {
  show: ShowView;
  draft: ShowDraft;
  startsAt: Instant | null;
  cities: readonly City[];
  channels: readonly ChannelView[];
  put: Put;
}

export function WhenFields({ show, draft, startsAt, cities, channels, put }: WhenProps) {
  const { register, formState } = useFormContext<ShowDraft>();
  const now = useNow(30_000);
  const plan = usePlan();
  const [soonest, setSoonest] = useState<ReturnType<typeof soonestStart> | 'none'>(null);
  const { errors } = formState;
  const { date, time, zone, fold } = draft;
  const reading = readWallTime({ date: date ?? '', time: time ?? '' }, zone ?? '');
  const lockers = channels.filter(({ rules }) => rules.lockedAfterPlacing.includes('start time'));
  const stands = show.airings.some(({ placing }) => placing === 'placed');
  return (
    <section aria-labelledby="when">
      <h2 id="when">When</h2>
      <div className="row gx-3">
        <Field id="date" label="Date" className="col-sm-5 mb-3" trouble={errors.date?.message}>
          <Form.Control type="date" isInvalid={!!errors.date} {...register('date')} />
        </Field>
        <Field id="time" label="Time" className="col-sm-4 col-6 mb-3" trouble={reading.kind === 'twice' ? undefined : errors.time?.message}>
          <Form.Control type="time" isInvalid={!!errors.time && reading.kind !== 'twice'} {...register('time')} />
        </Field>
        <Field id="lengthMin" label="Minutes" className="col-sm-3 col-6 mb-3" trouble={errors.lengthMin?.message}>
          <Form.Control
            type="number"
            min={1}
            max={2880}
            inputMode="numeric"
            isInvalid={!!errors.lengthMin}
            {...register('lengthMin', { valueAsNumber: true })}
          />
        </Field>
        <Field id="zone" label="Zone" className="col-sm-8 mb-2" trouble={errors.zone?.message}>
          <Form.Select isInvalid={!!errors.zone} {...register('zone')}>
            <ZoneOptions chosen={zone} />
          </Form.Select>
        </Field>
        <div className="col-sm-4 mb-2 d-flex align-items-end">
          <Button
            variant="quiet"
            size="sm"
            className="pb-2"
            onClick={() => {
              const found = soonestStart(channels, plan.data, draft, show, now);
              if (found) put(whenOf(found.startsAt, zone));
              setSoonest(found ?? 'none');
            }}
          >
            As soon as possible
          </Button>
        </div>
      </div>
      {soonest && (
        <p className="soft small-words" role="status">
          {soonest === 'none'
            ? 'No start within reach is free on all these channels. Take one off, or choose another line.'
            : startsAt === soonest.startsAt && soonestWords(soonest.past, channels.length)}
        </p>
      )}
      {reading.kind === 'twice' && (
        <div role="radiogroup" aria-label="Which of the two" className="mb-2">
          <p className="mb-1">Clocks are put back that night and show {time} twice. Which is meant?</p>
          {(['earlier', 'later'] as const).map((which) => (
            <Form.Check
              key={which}
              type="radio"
              id={`fold-${which}`}
              name="fold"
              checked={fold === which}
              onChange={() => put({ fold: which })}
              label={`The ${which === 'earlier' ? 'first' : 'second'}: ${sayWhen(which === 'earlier' ? reading.instant : reading.later, zone)}`}
            />
          ))}
        </div>
      )}
      {reading.kind === 'skipped' && (
        <p className="small-words">
          That night clocks go from the hour before straight to {sayWhen(reading.instant, zone)}.{' '}
          <Button variant="quiet" size="sm" onClick={() => put(whenOf(reading.instant, zone))}>
            Take that
          </Button>
        </p>
      )}
      {startsAt !== null && <TimeStrip startsAt={startsAt} lengthMin={draft.lengthMin || 0} zone={zone} cities={cities} people={draft.people ?? []} />}
      {lockers.length > 0 && !stands && (
        <p className="soft small-words mb-0 mt-2">Look twice: once placed, the start cannot be moved on {lockers.map(({ name }) => name).join(', ')}.</p>
      )}
    </section>
  );
}

interface TicksProps {
  channels: ChannelView[];
  show: ShowView;
  put: Put;
}

export function ChannelTicks({ channels, show, put }: TicksProps) {
  const { register, formState, control, getValues } = useFormContext<ShowDraft>();
  const [ticked, lines] = useWatch({ control, name: ['channelIds', 'lines'] });
  const standing = new Set(show.airings.filter(({ placing }) => placing === 'placed' || placing === 'unsure').map(({ channel }) => channel.id));
  const chooseLine = (channelId: string, lineId: string) =>
    put({ lines: [...getValues('lines').filter((line) => line.channelId !== channelId), { channelId, lineId }] });
  return (
    <section aria-labelledby="where">
      <h2 id="where">Where</h2>
      {!channels.length && (
        <p>
          No channel is linked yet. <Link to="/channels">Link one</Link>, then come back.
        </p>
      )}
      {channels.map((channel) => (
        <div key={channel.id} className="channel-choice">
          <label className="channel-tick">
            <Form.Check.Input type="checkbox" value={channel.id} aria-disabled={standing.has(channel.id)} {...register('channelIds')} />
            <Identity of={channel} />
          </label>
          {channel.lines.length > 1 && ticked?.includes(channel.id) && (
            <label className="line-choice small-words">
              on the line{' '}
              <Form.Select
                size="sm"
                aria-label={`Line of ${channel.name}`}
                value={lines?.find(({ channelId }) => channelId === channel.id)?.lineId ?? channel.lines[0]!.id}
                onChange={({ target }) => chooseLine(channel.id, target.value)}
              >
                {channel.lines.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Form.Select>
            </label>
          )}
        </div>
      ))}
      {formState.errors.channelIds?.message && <p className="text-danger">{formState.errors.channelIds.message}</p>}
    </section>
  );
}

const FROM = [
  { value: 'stage', words: 'From the stage here', help: 'camera and microphone of this browser' },
  { value: 'encoder', words: 'From an outside encoder', help: 'it sends straight to each channel, by a key that you hand over' },
] as const;

export function PictureFromField() {
  const { control } = useFormContext<ShowDraft>();
  return (
    <section aria-labelledby="picture-from">
      <h2 id="picture-from">Where the picture comes from</h2>
      <Controller
        control={control}
        name="pictureFrom"
        render={({ field }) => (
          <div role="radiogroup" aria-labelledby="picture-from">
            {FROM.map(({ value, words, help }) => (
              <Form.Check
                key={value}
                type="radio"
                id={`from-${value}`}
                name="pictureFrom"
                checked={field.value === value}
                onChange={() => field.onChange(value)}
                label={
                  <>
                    {words} <span className="soft small-words">· {help}</span>
                  </>
                }
              />
            ))}
          </div>
        )}
      />
    </section>
  );
}

/** What "as soon as possible" took into account. */
function soonestWords(past: readonly string[], channels: number): string {
  const takes =
    channels === 0 ? 'No channel is ticked yet.' : channels === 1 ? 'The soonest that this channel takes.' : 'The soonest that all these channels take.';
  return past.length ? `${takes} Before it their lines belong to ${past.map((title) => `“${title}”`).join(', ')}.` : takes;
}
