// Who is on the picture, and where the cameras stand: the almanac sees when either is wanted twice.
import type { KnownWords, ShowDraft } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { Button, Form } from 'react-bootstrap';
import { useFieldArray, useFormContext } from 'react-hook-form';
import { server } from '../app/server';
import { Field } from '../look/Field';
import { ZoneOptions } from '../look/ZoneOptions';

export function PeopleFields() {
  const { control, register, formState } = useFormContext<ShowDraft>();
  const { fields, append, remove } = useFieldArray({ control, name: 'people' });
  const known = useQuery({ queryKey: ['shows', 'known'], queryFn: () => server.get<KnownWords>('/api/shows/known') });
  const { people: names, rooms } = known.data ?? { people: [], rooms: [] };
  const { errors } = formState;
  return (
    <section aria-labelledby="people-heading" id="people">
      <h2 id="people-heading">People</h2>
      {fields.map((person, index) => (
        <div key={person.id} className="person-row">
          <Form.Control aria-label="Name" list="known-people" placeholder="Name" {...register(`people.${index}.name`)} />
          <Form.Select aria-label="Role" {...register(`people.${index}.role`)}>
            <option value="host">host</option>
            <option value="guest">guest</option>
          </Form.Select>
          <Form.Select aria-label="Where they are" {...register(`people.${index}.zone`, { setValueAs: (zone: string) => zone || null })}>
            <option value="">with the show</option>
            <ZoneOptions chosen={person.zone} />
          </Form.Select>
          <Button variant="quiet" size="sm" onClick={() => remove(index)}>
            Take out
          </Button>
        </div>
      ))}
      {errors.people && <p className="text-danger small-words">{errors.people.message ?? 'Give each person a name, or take the line out.'}</p>}
      <datalist id="known-people">
        {names.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <Button variant="quiet" size="sm" className="mb-3" onClick={() => append({ name: '', role: fields.length ? 'guest' : 'host', zone: null })}>
        Add a person
      </Button>
      <Field id="room" label="Camera room" className="mb-0 narrow" help="Two shows at once want two rooms." trouble={errors.room?.message}>
        <Form.Control list="known-rooms" {...register('room')} />
      </Field>
      <datalist id="known-rooms">
        {rooms.map((room) => (
          <option key={room} value={room} />
        ))}
      </datalist>
    </section>
  );
}
