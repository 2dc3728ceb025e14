// The parts of the sheet that are typed or ticked.
import type { ChannelView, ShowDraft, ShowView } from '@lantern/contract';
import { countCharacters, instant, readWallTime, sayWhen } from '@lantern/core';
import { Form } from 'react-bootstrap';
import { Controller, useFormContext, useWatch } from 'react-hook-form';
import { Link } from 'react-router';
import { Field } from '../look/Field';
import { Identity } from '../look/Identity';

export function WhatFields() {
  const { register, formState, control } = useFormContext<ShowDraft>();
  const [title, description] = useWatch({ control, name: ['title', 'description'] });
  const { errors } = formState;
  return (
    <section aria-labelledby="what">
      <h2 id="what">What</h2>
      <Field id="title" label="Title" trouble={errors.title?.message} help={`${countCharacters(title?.trim() ?? '')} characters`}>
        <Form.Control isInvalid={!!errors.title} {...register('title')} />
      </Field>
      <Field
        id="description"
        label="Text"
        trouble={errors.description?.message}
        help={`${countCharacters(description?.trim() ?? '').toLocaleString('en-GB')} characters`}
      >
        <Form.Control as="textarea" rows={6} isInvalid={!!errors.description} {...register('description')} />
      </Field>
    </section>
  );
}

const ZONES = Intl.supportedValuesOf('timeZone');

export function WhenFields({ placed }: { placed: boolean }) {
  const { register, formState, control } = useFormContext<ShowDraft>();
  const [date, time, zone] = useWatch({ control, name: ['date', 'time', 'zone'] });
  const { errors } = formState;
  const reading = readWallTime({ date: date ?? '', time: time ?? '' }, zone ?? '');
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <section aria-labelledby="when">
      <h2 id="when">When</h2>
      <div className="row gx-3">
        <Field id="date" label="Date" className="col-sm-5 mb-3" trouble={errors.date?.message}>
          <Form.Control type="date" isInvalid={!!errors.date} {...register('date', { deps: ['time'] })} />
        </Field>
        <Field id="time" label="Time" className="col-sm-4 col-6 mb-3" trouble={errors.time?.message}>
          <Form.Control type="time" isInvalid={!!errors.time} {...register('time')} />
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
          <Form.Select isInvalid={!!errors.zone} {...register('zone', { deps: ['time'] })}>
            {(ZONES.includes(zone) || !zone ? ZONES : [zone, ...ZONES]).map((name) => (
              <option key={name} value={name}>
                {name.replaceAll('_', ' ')}
              </option>
            ))}
          </Form.Select>
        </Field>
      </div>
      {reading.kind === 'once' && (
        <p className="soft small-words mb-0">
          {sayWhen(instant(reading.instant), zone)}
          {sayWhen(reading.instant, zone, false) !== sayWhen(reading.instant, here, false) && `; for you ${sayWhen(reading.instant, here)}`}.
          {placed && ' It stands on channels already; they are told when you move it.'}
        </p>
      )}
    </section>
  );
}

interface TicksProps {
  channels: ChannelView[];
  show: ShowView | null;
  onLine: (channelId: string, lineId: string) => void;
}

export function ChannelTicks({ channels, show, onLine }: TicksProps) {
  const { register, formState, control } = useFormContext<ShowDraft>();
  const [ticked, lines] = useWatch({ control, name: ['channelIds', 'lines'] });
  const standing = new Set(show?.airings.filter(({ placing }) => placing === 'placed' || placing === 'unsure').map(({ channel }) => channel.id));
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
                onChange={({ target }) => onLine(channel.id, target.value)}
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
