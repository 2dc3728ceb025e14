// Who is on the picture, and where the cameras stand: the almanac sees when either is wanted twice.
import type { KnownWords, PieceView, ShowDraft } from '@lantern/contract';
import { may } from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import { Button, Form } from 'react-bootstrap';
import { useFieldArray, useFormContext, useWatch } from 'react-hook-form';
import { server } from '../app/server';
import { useArtwork } from '../app/artwork';
import { useMe } from '../people/me';
import { useContacts } from '../contacts/contact-queries';
import { Field } from '../look/Field';
import { ZoneOptions } from '../look/ZoneOptions';

export function PeopleFields() {
  const { control, register, formState, getValues, setValue } = useFormContext<ShowDraft>();
  const me = useMe().data;
  const contacts = useContacts(me !== undefined && may(me.role, 'write to people'));
  const { fields, append, remove } = useFieldArray({ control, name: 'people' });
  const known = useQuery({ queryKey: ['shows', 'known'], queryFn: () => server.get<KnownWords>('/api/shows/known') });
  const artwork = useArtwork();
  const people = useWatch({ control, name: 'people' }) ?? [];
  const hasGuests = people.some(({ role }) => role === 'guest');
  const ownSounds = useWatch({ control, name: 'ownSounds' });
  const { people: names, rooms } = known.data ?? { people: [], rooms: [] };
  const { errors } = formState;
  const called = (index: number) => people[index]?.name?.trim() || `person ${index + 1}`;
  /** Whoever is known brings along where they are and what stands beneath their name; what was typed already stays. */
  const bring = (index: number, typed: string) => {
    const contact = contacts.data?.find(({ name }) => name.trim().toLowerCase() === typed.trim().toLowerCase());
    const { caption, zone } = getValues(`people.${index}`);
    if (contact?.caption && !caption) setValue(`people.${index}.caption`, contact.caption, { shouldDirty: true });
    if (contact?.zone && !zone) setValue(`people.${index}.zone`, contact.zone, { shouldDirty: true });
  };
  return (
    <>
      {fields.map((person, index) => (
        <div key={person.id} className="person-row">
          <PortraitOf name={people[index]?.name ?? ''} pieces={artwork.data?.pieces ?? []} />
          <Form.Control
            aria-label={`Name of person ${index + 1}`}
            list="known-people"
            placeholder="Name"
            {...register(`people.${index}.name`, { onBlur: ({ target }: { target: { value: string } }) => bring(index, target.value) })}
          />
          <Form.Select aria-label={`Role of ${called(index)}`} {...register(`people.${index}.role`)}>
            <option value="host">host</option>
            <option value="guest">guest</option>
          </Form.Select>
          <Form.Select aria-label={`Where ${called(index)} is`} {...register(`people.${index}.zone`, { setValueAs: (zone: string) => zone || null })}>
            <option value="">with the show</option>
            <ZoneOptions chosen={person.zone} />
          </Form.Select>
          <Form.Control
            className="person-caption"
            aria-label={`Beneath the name of ${called(index)}`}
            placeholder="Beneath the name: who they are, pronouns"
            maxLength={80}
            {...register(`people.${index}.caption`, { setValueAs: (caption: string) => caption || undefined })}
          />
          <Button variant="quiet" size="sm" onClick={() => remove(index)}>
            Take out <span className="visually-hidden">{called(index)}</span>
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
      {(hasGuests || ownSounds) && (
        <Form.Group className="mb-3">
          <Form.Check id="own-sounds" label="Keep each guest’s own sound too, of those who agree" {...register('ownSounds')} />
          <p className="soft small-words mb-0 ps-4">
            Their browsers send their voices apart from everybody else’s while viewers hear them. Afterwards there is a file of each, as long as the recording,
            so that they lie beside each other.
          </p>
        </Form.Group>
      )}
      <Field id="room" label="Camera room" className="mb-0 narrow" help="Two shows at once want two rooms." trouble={errors.room?.message}>
        <Form.Control list="known-rooms" {...register('room')} />
      </Field>
      <datalist id="known-rooms">
        {rooms.map((room) => (
          <option key={room} value={room} />
        ))}
      </datalist>
    </>
  );
}

/** The portrait of a person, where the library has one by their name; their first letter otherwise. */
function PortraitOf({ name, pieces }: { name: string; pieces: readonly PieceView[] }) {
  const wanted = name.trim().toLowerCase();
  const piece = wanted ? pieces.find((each) => each.kind === 'portrait' && each.name.trim().toLowerCase() === wanted) : undefined;
  return (
    <span className="portrait round small" aria-hidden="true">
      {piece ? <img src={piece.url} alt="" /> : name.trim().slice(0, 1)}
    </span>
  );
}
