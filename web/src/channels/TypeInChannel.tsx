import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { TypedInChannelRequest, type ChannelView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { FormProvider, useForm } from 'react-hook-form';
import { server, wordsOf } from '../app/server';
import { AddressAndKey } from './AddressAndKey';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { LimitFields, NO_LIMITS } from './LimitFields';

export function TypeInChannel({ onClose }: { onClose: () => void }) {
  const queries = useQueryClient();
  const [refused, setRefused] = useState('');
  const form = useForm<TypedInChannelRequest>({
    resolver: classValidatorResolver(TypedInChannelRequest),
    defaultValues: { name: '', address: '', key: '', limits: NO_LIMITS },
  });
  const { register, handleSubmit, formState } = form;
  const errors = formState.errors;
  const save = handleSubmit(async (values) => {
    setRefused('');
    try {
      await server.post<ChannelView>('/api/channels/typed-in', values);
      await queries.invalidateQueries({ queryKey: ['channels'] });
      onClose();
    } catch (error) {
      setRefused(wordsOf(error));
    }
  });
  return (
    <Modal show onHide={onClose} aria-labelledby="type-in-title">
      <FormProvider {...form}>
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
            <AddressAndKey />
            <Field id="typed-watch" label="Watch address, if there is one" help="Where viewers find it." trouble={errors.watchUrl?.message}>
              <Form.Control isInvalid={!!errors.watchUrl} {...register('watchUrl', { setValueAs: (text: string | undefined) => text?.trim() || undefined })} />
            </Field>
            <details>
              <summary className="small-words">Limits of the service, if you know them</summary>
              <div className="pt-3">
                <LimitFields />
              </div>
            </details>
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
      </FormProvider>
    </Modal>
  );
}
