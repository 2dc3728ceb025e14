import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { TypedInChannelRequest, type ChannelView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useForm } from 'react-hook-form';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';

export function TypeInChannel({ onClose }: { onClose: () => void }) {
  const queries = useQueryClient();
  const [refused, setRefused] = useState('');
  const { register, handleSubmit, formState } = useForm<TypedInChannelRequest>({
    resolver: classValidatorResolver(TypedInChannelRequest),
    defaultValues: { name: '', address: '', key: '' },
  });
  const errors = formState.errors;
  const save = handleSubmit(async (form) => {
    setRefused('');
    try {
      await server.post<ChannelView>('/api/channels/typed-in', form);
      await queries.invalidateQueries({ queryKey: ['channels'] });
      onClose();
    } catch (error) {
      setRefused(wordsOf(error));
    }
  });
  return (
    <Modal show onHide={onClose} aria-labelledby="type-in-title">
      <Form noValidate onSubmit={(event) => void save(event)}>
        <Modal.Header closeButton>
          <h2 id="type-in-title" className="mb-0">
            Type in a channel
          </h2>
        </Modal.Header>
        <Modal.Body>
          <p className="small-words">
            The service shows an address and a key where it explains how to connect an encoder. It gets your picture; its own event page stays yours to look
            after.
          </p>
          <Field id="typed-name" label="Your name for it" trouble={errors.name?.message}>
            <Form.Control autoFocus isInvalid={!!errors.name} {...register('name')} />
          </Field>
          <Field id="typed-address" label="Address" help="For example rtmp://live.example.net/app" trouble={errors.address?.message}>
            <Form.Control
              isInvalid={!!errors.address}
              autoComplete="off"
              spellCheck={false}
              {...register('address', { setValueAs: (text: string) => text.trim() })}
            />
          </Field>
          <Field id="typed-key" label="Key" help="Kept sealed, and never shown again." trouble={errors.key?.message}>
            <Form.Control type="password" autoComplete="off" isInvalid={!!errors.key} {...register('key', { setValueAs: (text: string) => text.trim() })} />
          </Field>
          <Field id="typed-watch" label="Watch address, if there is one" help="Where viewers find it." trouble={errors.watchUrl?.message}>
            <Form.Control isInvalid={!!errors.watchUrl} {...register('watchUrl', { setValueAs: (text: string | undefined) => text?.trim() || undefined })} />
          </Field>
          {refused && <Notice kind="refusal">{refused}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={onClose}>
            Leave it
          </Button>
          <Button type="submit" disabled={formState.isSubmitting}>
            Add the channel
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
