// The parts of the sheet that are typed or ticked: what, when, where.
import type { ChannelView, ShowDraft, ShowView } from '@lantern/contract';
import {
  countCharacters,
  fillPlaceholders,
  isZone,
  PICTURES_FROM,
  PLACEHOLDERS,
  readWallTime,
  sayWhen,
  wallTimeOf,
  whenOf,
  type City,
  type DateOrder,
  type Filling,
  type Instant,
  type PictureFrom,
  WAYS_IN,
} from '@lantern/core';
import { useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Controller, useFormContext, useWatch } from 'react-hook-form';
import { Link } from 'react-router';
import { useNow } from '../app/clock';
import { DateField } from '../look/DateField';
import { Explained } from '../look/Explained';
import { Field } from '../look/Field';
import { inFull } from '../look/channel-words';
import { Identity } from '../look/Identity';
import { TimeField } from '../look/TimeField';
import { ZoneOptions } from '../look/ZoneOptions';
import { useOutsideLines } from '../outside/outside-queries';
import type { Put } from './sheet-acts';
import { usePlan } from '../station/station-queries';
import { soonestStart } from './soonest';
import { TimeStrip } from './TimeStrip';

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
    <>
      <div className="field-row">
        <Field id="title" label="Title" className="wide" trouble={errors.title?.message} help={counted(filledTitle.text, title)}>
          <Form.Control isInvalid={!!errors.title} {...register('title')} />
        </Field>
        <Field id="episode" label="Episode" className="few" trouble={errors.episode?.message}>
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
          rows={4}
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
    </>
  );
}

interface WhenProps {
  show: ShowView;
  draft: ShowDraft;
  startsAt: Instant | null;
  cities: readonly City[];
  channels: readonly ChannelView[];
  /** In which order the parts of a date are shown and read. */
  order: DateOrder;
  put: Put;
}

export function WhenFields({ show, draft, startsAt, cities, channels, order, put }: WhenProps) {
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
    <>
      <div className="field-row">
        <DateField
          id="date"
          label="Date"
          className="wide"
          value={date ?? ''}
          today={wallTimeOf(now, isZone(zone ?? '') ? zone : 'UTC').date}
          order={order}
          onChange={(typed) => put({ date: typed })}
          trouble={errors.date?.message}
        />
        <TimeField
          id="time"
          label="Time"
          className="few"
          value={time ?? ''}
          onChange={(typed) => put({ time: typed })}
          trouble={reading.kind === 'twice' ? undefined : errors.time?.message}
        />
        <Field id="lengthMin" label="Minutes" className="few" trouble={errors.lengthMin?.message}>
          <Form.Control
            type="number"
            min={1}
            max={2880}
            inputMode="numeric"
            isInvalid={!!errors.lengthMin}
            {...register('lengthMin', { valueAsNumber: true })}
          />
        </Field>
        <Field id="zone" label="Zone" className="wide" trouble={errors.zone?.message}>
          <Form.Select isInvalid={!!errors.zone} {...register('zone')}>
            <ZoneOptions chosen={zone} />
          </Form.Select>
        </Field>
        <div className="few d-flex align-items-end">
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
    </>
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
    <>
      {!channels.length && (
        <p>
          No channel is linked yet. <Link to="/channels">Link one</Link>, then come back.
        </p>
      )}
      {channels.some(({ lines }) => lines.length > 1) && (
        <p className="soft small-words mb-1">
          <Explained word="line">Where a channel has several lines, choose one.</Explained>
        </p>
      )}
      <div className="channel-choices">
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
                  aria-label={`Line of ${inFull(channel.name, channel.network)}`}
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
      </div>
      {formState.errors.channelIds?.message && <p className="text-danger">{formState.errors.channelIds.message}</p>}
    </>
  );
}

const FROM: Record<PictureFrom, string> = {
  stage: 'From the stage here',
  'outside line': 'From an outside line',
  encoder: 'From an outside encoder, straight to the channels',
};

export function PictureFromField() {
  const { control, watch, setValue } = useFormContext<ShowDraft>();
  const lines = useOutsideLines();
  const outsideLineId = watch('outsideLineId');
  const first = lines.data?.[0]?.id ?? null;
  return (
    <Controller
      control={control}
      name="pictureFrom"
      render={({ field }) => (
        <div role="radiogroup" aria-labelledby="picture-from-heading">
          {PICTURES_FROM.map((value) => (
            <div key={value} className="mb-2">
              <Form.Check
                type="radio"
                id={`from-${value.replace(' ', '-')}`}
                name="pictureFrom"
                checked={field.value === value}
                disabled={value === 'outside line' && !lines.data?.length}
                onChange={() => {
                  field.onChange(value);
                  setValue('outsideLineId', value === 'outside line' ? (outsideLineId ?? first) : null, { shouldDirty: true });
                }}
                label={
                  <>
                    {FROM[value]} <span className="soft small-words d-block">{WAYS_IN[value]}</span>
                  </>
                }
              />
              {value === 'outside line' && lines.data?.length === 0 && (
                <span className="small-words ms-4">
                  There is none yet: <Link to="/channels/outside-lines">add an outside line</Link>.
                </span>
              )}
              {value === 'outside line' && field.value === value && !!lines.data?.length && (
                <Form.Group controlId="outside-line" className="ms-4 mt-1">
                  <Form.Label>Which line</Form.Label>
                  <Form.Select
                    style={{ maxWidth: '20rem' }}
                    value={outsideLineId ?? ''}
                    onChange={({ target }) => setValue('outsideLineId', target.value || null, { shouldDirty: true })}
                  >
                    {!lines.data.some(({ id }) => id === outsideLineId) && <option value="">Choose one</option>}
                    {lines.data.map(({ id, name }) => (
                      <option key={id} value={id}>
                        {name}
                      </option>
                    ))}
                  </Form.Select>
                  <Form.Text>
                    Its address and key are on <Link to="/channels/outside-lines">Outside lines</Link>.
                  </Form.Text>
                </Form.Group>
              )}
            </div>
          ))}
        </div>
      )}
    />
  );
}

/** What "as soon as possible" took into account. */
function soonestWords(past: readonly string[], channels: number): string {
  const takes =
    channels === 0 ? 'No channel is ticked yet.' : channels === 1 ? 'The soonest that this channel takes.' : 'The soonest that all these channels take.';
  return past.length ? `${takes} Before it their lines belong to ${past.map((title) => `“${title}”`).join(', ')}.` : takes;
}
