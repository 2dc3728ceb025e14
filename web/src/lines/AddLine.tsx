import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { LineRequest, type ChannelView, type LineView } from '@lantern/contract';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { FormProvider, useForm } from 'react-hook-form';
import { server, wordsOf } from '../app/server';
import { Field } from '../look/Field';
import { Notice } from '../look/Notice';
import { AddressAndKey } from '../channels/AddressAndKey';

/** A further line of a channel. The network issues its key; where the channel is typed in, so is the line. */
export function AddLine({ channel, onClose }: { channel: ChannelView; onClose: () => void }) {
  const queries = useQueryClient();
  const [refused, setRefused] = useState('');
  const typedIn = channel.network === 'typed-in';
  const form = useForm<LineRequest>({
    resolver: classValidatorResolver(LineRequest),
    defaultValues: typedIn ? { name: '', heldBy: '', address: '', key: '' } : { name: '', heldBy: '' },
  });
  const { register, handleSubmit, formState } = form;
  const save = handleSubmit(async (values) => {
    setRefused('');
    try {
      await server.post<LineView>(`/api/channels/${channel.id}/lines`, values);
      await queries.invalidateQueries({ queryKey: ['lines', channel.id] });
      await queries.invalidateQueries({ queryKey: ['channels'] });
      onClose();
    } catch (error) {
      setRefused(wordsOf(error));
    }
  });
  return (
    <Modal show onHide={onClose} aria-labelledby="add-line-title">
      <FormProvider {...form}>
        <Form noValidate onSubmit={(event) => void save(event)}>
          <Modal.Header closeButton>
            <h2 id="add-line-title" className="mb-0">
              Add a line
            </h2>
          </Modal.Header>
          <Modal.Body>
            <Field id="line-name" label="What is it for?" help="Such as “Encoder in the hall”." trouble={formState.errors.name?.message}>
              <Form.Control autoFocus isInvalid={!!formState.errors.name} {...register('name')} />
            </Field>
            {typedIn && <AddressAndKey />}
            <Field id="line-held" label="Who is given the key" help="Nobody, if only this product sends on it." className="mb-0">
              <Form.Control {...register('heldBy')} />
            </Field>
            {refused && <Notice kind="refusal">{refused}</Notice>}
          </Modal.Body>
          <Modal.Footer>
            <Button variant="outline-primary" onClick={onClose}>
              Leave it
            </Button>
            <Button type="submit" disabled={formState.isSubmitting}>
              Add the line
            </Button>
          </Modal.Footer>
        </Form>
      </FormProvider>
    </Modal>
  );
}
