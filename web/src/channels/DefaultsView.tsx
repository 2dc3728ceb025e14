// What shows start with on this channel: only what its network lets one choose. For a typed-in channel
// its name, watch address and limits stand here instead.
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { TypedInChannelChange, type ChannelView } from '@lantern/contract';
import {
  CATEGORIES,
  languageName,
  LICENCE_WORDS,
  MESSAGE_WORDS,
  MINUTE_MS,
  sayListing,
  type ChannelDefaults,
  type Licence,
  type MessageRule,
} from '@lantern/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { FormProvider, useForm } from 'react-hook-form';
import { server, ServerError, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { LANGUAGES } from './choice-words';
import { useKeepChannel } from './channel-queries';
import { useChannel } from './ChannelPage';
import { LimitFields, NO_LIMITS } from './LimitFields';

export function DefaultsView() {
  const channel = useChannel();
  return channel.network === 'typed-in' ? <TypedIn key={channel.id} channel={channel} /> : <Defaults key={channel.id} channel={channel} />;
}

function Defaults({ channel }: { channel: ChannelView }) {
  const keep = useKeepChannel();
  const { rules } = channel;
  const [defaults, setDefaults] = useState<ChannelDefaults>(channel.defaults);
  const save = useMutation({ mutationFn: () => server.put<ChannelView>(`/api/channels/${channel.id}/defaults`, defaults), onSuccess: keep });
  const set = (change: Partial<ChannelDefaults>) => setDefaults((before) => ({ ...before, ...change }));
  const changed = JSON.stringify(defaults) !== JSON.stringify(channel.defaults);
  const trouble = save.error instanceof ServerError ? save.error.fields : {};
  const fixed = [
    rules.visibilities.length === 1 && `Shows are for ${rules.visibilities[0]}.`,
    rules.messages.length === 1 && `Messages come ${MESSAGE_WORDS[rules.messages[0]!]}.`,
    rules.delaysS.length === 1 && `Viewers see it ${rules.delaysS[0]} s late.`,
  ].filter(Boolean);
  const choices = rules.visibilities.length > 1 || rules.messages.length > 1 || rules.delaysS.length > 1 || rules.categories;
  return (
    <Form
      noValidate
      className="narrow"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <p>The network’s own settings are rarely right for a station. Every show that you place here starts with these.</p>
      {rules.visibilities.length > 1 && (
        <Field id="default-visibility" label="Who may see shows" trouble={trouble.visibility}>
          <Form.Select value={defaults.visibility} onChange={({ target }) => set({ visibility: target.value as ChannelDefaults['visibility'] })}>
            {rules.visibilities.map((visibility) => (
              <option key={visibility}>{visibility}</option>
            ))}
          </Form.Select>
        </Field>
      )}
      {rules.categories && (
        <Field id="default-category" label="Category" trouble={trouble.category}>
          <Form.Select value={defaults.category ?? ''} onChange={({ target }) => set({ category: target.value as ChannelDefaults['category'] })}>
            {CATEGORIES.map((category) => (
              <option key={category}>{category}</option>
            ))}
          </Form.Select>
        </Field>
      )}
      {rules.languages && (
        <Field id="default-language" label="Language spoken" trouble={trouble.language}>
          <Form.Select value={defaults.language ?? ''} onChange={({ target }) => set({ language: target.value })}>
            {[...new Set([...LANGUAGES, defaults.language ?? 'en'])].map((tag) => (
              <option key={tag} value={tag}>
                {languageName(tag)}
              </option>
            ))}
          </Form.Select>
        </Field>
      )}
      {rules.messages.length > 1 && (
        <Field id="default-messages" label="Messages" trouble={trouble.messages}>
          <Form.Select value={defaults.messages ?? ''} onChange={({ target }) => set({ messages: target.value as MessageRule })}>
            {rules.messages.map((who) => (
              <option key={who} value={who}>
                {MESSAGE_WORDS[who]}
              </option>
            ))}
          </Form.Select>
        </Field>
      )}
      {rules.delaysS.length > 1 && (
        <Field id="default-delay" label="How late viewers see it" help="A longer delay holds better on weak connections." trouble={trouble.delayS}>
          <Form.Select value={defaults.delayS ?? ''} onChange={({ target }) => set({ delayS: Number(target.value) })}>
            {rules.delaysS.map((seconds) => (
              <option key={seconds} value={seconds}>
                {seconds} seconds
              </option>
            ))}
          </Form.Select>
        </Field>
      )}
      {rules.listingDays.length > 1 && (
        <Field
          id="default-listed"
          label="When a coming show is listed on the channel’s page"
          help="By itself the network lists it at its start, when nobody can plan for it any more."
          trouble={trouble.listedDays}
        >
          <Form.Select value={defaults.listedDays ?? ''} onChange={({ target }) => set({ listedDays: Number(target.value) })}>
            {rules.listingDays.map((days) => (
              <option key={days} value={days}>
                {sayListing(days)}
              </option>
            ))}
          </Form.Select>
        </Field>
      )}
      {rules.licences.length > 1 && (
        <Field id="default-licence" label="How others may use the recording" trouble={trouble.licence}>
          <Form.Select value={defaults.licence ?? ''} onChange={({ target }) => set({ licence: target.value as Licence })}>
            {rules.licences.map((licence) => (
              <option key={licence} value={licence}>
                {LICENCE_WORDS[licence]}
              </option>
            ))}
          </Form.Select>
        </Field>
      )}
      {defaults.adverts !== null && (
        <Form.Check
          id="default-adverts"
          className="mb-2"
          label="The network may put adverts into a show"
          checked={defaults.adverts}
          onChange={({ target }) => set({ adverts: target.checked })}
        />
      )}
      {defaults.keepsMessages !== null && (
        <Form.Check
          id="default-keeps-messages"
          className="mb-2"
          label="Messages stay beneath the recording"
          checked={defaults.keepsMessages}
          onChange={({ target }) => set({ keepsMessages: target.checked })}
        />
      )}
      {defaults.rewind !== null && (
        <Form.Check
          id="default-rewind"
          className="mb-2"
          label="Viewers may go back in a show while it runs"
          checked={defaults.rewind}
          onChange={({ target }) => set({ rewind: target.checked })}
        />
      )}
      {defaults.replay !== null && (
        <Form.Check
          id="default-replay"
          className="mb-3"
          label="The recording may be watched there afterwards"
          checked={defaults.replay}
          onChange={({ target }) => set({ replay: target.checked })}
        />
      )}
      {fixed.length > 0 && (
        <p className="soft small-words">
          {choices ? 'Not to be chosen here: ' : 'This network leaves nothing to choose: '}
          {fixed.join(' ')}
        </p>
      )}
      {save.error && !Object.keys(trouble).length && <Notice kind="refusal">{wordsOf(save.error)}</Notice>}
      {choices && (
        <Button type="submit" disabled={!changed || save.isPending}>
          {changed ? 'Keep for coming shows' : 'Kept'}
        </Button>
      )}
    </Form>
  );
}

function TypedIn({ channel }: { channel: ChannelView }) {
  const keep = useKeepChannel();
  const { longestMs = null, ...limits } = channel.limits ?? { ...NO_LIMITS, longestMs: null };
  const form = useForm<TypedInChannelChange>({
    resolver: classValidatorResolver(TypedInChannelChange),
    defaultValues: {
      name: channel.name,
      watchUrl: channel.watchUrl ?? '',
      limits: { titleMax: limits.titleMax, textMax: limits.textMax, maxKbps: limits.maxKbps, longestMin: longestMs === null ? null : longestMs / MINUTE_MS },
    },
  });
  const { errors, isDirty } = form.formState;
  const save = useMutation({
    mutationFn: (values: TypedInChannelChange) => server.put<ChannelView>(`/api/channels/${channel.id}`, values),
    onSuccess: (saved, values) => {
      keep(saved);
      form.reset(values);
    },
  });
  return (
    <FormProvider {...form}>
      <Form noValidate className="narrow" onSubmit={(event) => void form.handleSubmit((values) => save.mutate(values))(event)}>
        <p>Nothing is known about this service but what you tell. Shows are checked against these limits; leave empty what you do not know.</p>
        <Field id="typed-name" label="Your name for it" trouble={errors.name?.message}>
          <Form.Control isInvalid={!!errors.name} {...form.register('name')} />
        </Field>
        <Field id="typed-watch" label="Watch address" help="Where viewers find it." trouble={errors.watchUrl?.message}>
          <Form.Control isInvalid={!!errors.watchUrl} {...form.register('watchUrl', { setValueAs: (text: string | undefined) => text?.trim() || undefined })} />
        </Field>
        <LimitFields />
        {save.error && <Notice kind="refusal">{wordsOf(save.error)}</Notice>}
        <Button type="submit" disabled={save.isPending || !isDirty}>
          {isDirty ? 'Keep' : 'Kept'}
        </Button>
      </Form>
    </FormProvider>
  );
}
