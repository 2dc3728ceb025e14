// What else a channel's network asks about a show, in three groups: whom it is for, what it is, how it runs there and stays. Nothing
// where it asks nothing.
import { PLAYLIST_MAX, type ChannelView, type ChoicesDraft, type PartnerView } from '@lantern/contract';
import {
  allCountries,
  AUDIENCE_WORDS,
  CATEGORIES,
  countryName,
  EVERYWHERE,
  languageName,
  LICENCE_WORDS,
  MESSAGE_WORDS,
  sayChoices,
  sayFixedOnAir,
  sayListing,
  WRITING_LIMIT_WORDS,
  WRITING_LIMITS,
  writingOffered,
  type AiringSettings,
  type CountryLimit,
  type FixedChoice,
  type Sharing,
} from '@lantern/core';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Button, Form } from 'react-bootstrap';
import { server, wordsOf } from '../app/server';
import { LANGUAGES } from '../channels/choice-words';
import { Notice } from '../look/Notice';
import { placeOf } from './judged';

const WRITING_LABELS = { messagesEveryS: 'How often one writes', writersAgedDays: 'Who writes', shortestMessage: 'What is written' } as const;

interface Props {
  channel: ChannelView;
  settings: AiringSettings;
  set: (change: ChoicesDraft) => void;
  /** The show has begun there. */
  begun: boolean;
}

export function MoreChoices({ channel, settings, set, begun }: Props) {
  const { rules } = channel;
  const id = (name: string) => `${name}-${channel.id}`;
  const fixed = (name: FixedChoice) => begun && rules.fixedOnAir.includes(name);
  const select = <T extends string | number>(
    name: string,
    label: string,
    value: T | null,
    options: readonly T[],
    words: (option: T) => string,
    put: (value: T) => void,
    disabled = false,
  ) =>
    options.length > 1 && (
      <Form.Group key={name} controlId={id(name)} className="choice">
        <Form.Label>{label}</Form.Label>
        <Form.Select
          size="sm"
          value={value ?? ''}
          disabled={disabled}
          onChange={({ target }) => put(options.find((option) => String(option) === target.value)!)}
        >
          {options.map((option) => (
            <option key={option} value={option}>
              {words(option)}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
    );
  const check = (name: string, label: string, value: boolean | null, put: (value: boolean) => void, disabled = false) =>
    value !== null && <Form.Check key={name} id={id(name)} label={label} checked={value} disabled={disabled} onChange={({ target }) => put(target.checked)} />;
  const text = (name: string, label: string, value: string | null, more: { help?: string; placeholder?: string; most?: number }, put: (text: string) => void) =>
    value !== null && (
      <Form.Group key={name} controlId={id(name)} className="choice wide">
        <Form.Label>{label}</Form.Label>
        <Form.Control
          size="sm"
          key={value}
          defaultValue={value}
          maxLength={more.most}
          placeholder={more.placeholder}
          onBlur={({ target }) => target.value.trim() !== value && put(target.value.trim())}
        />
        {more.help && <Form.Text>{more.help}</Form.Text>}
      </Form.Group>
    );
  const whom = [
    select(
      'audience',
      'Made for',
      settings.audience,
      rules.audiences,
      (audience) => AUDIENCE_WORDS[audience],
      (audience) => set({ audience }),
    ),
    select(
      'messages',
      'Messages',
      settings.messages,
      rules.messages,
      (who) => MESSAGE_WORDS[who],
      (messages) => set({ messages }),
    ),
    ...WRITING_LIMITS.map((name) =>
      select(
        name,
        WRITING_LABELS[name],
        settings[name],
        writingOffered(rules)[name],
        (value) => WRITING_LIMIT_WORDS[name](value),
        (value) => set({ [name]: value }),
      ),
    ),
    select('listed', 'Listed on its page', settings.listedDays, rules.listingDays, sayListing, (listedDays) => set({ listedDays }), begun),
    settings.countries && <Countries key="countries" id={id('countries')} limit={settings.countries} put={(countries) => set({ countries })} />,
    settings.sharing && <Shared key="sharing" channel={channel} sharing={settings.sharing} put={(sharing) => set({ sharing })} />,
    check('embedding', 'Other sites may show it', settings.embedding, (embedding) => set({ embedding })),
  ];
  const what = [
    select('category', 'Category', settings.category, rules.categories ? CATEGORIES : [], String, (category) => set({ category })),
    select('language', 'Language spoken', settings.language, rules.languages ? LANGUAGES : [], languageName, (language) => set({ language })),
    text(
      'tags',
      'Tags',
      settings.tags && settings.tags.join(', '),
      { help: `Up to ${rules.tagsMax}, with commas between.`, placeholder: 'sky, comets' },
      (typed) => set({ tags: tagsOf(typed, rules.tagsMax!) }),
    ),
    text('playlist', 'Playlist there', settings.playlist, { help: 'Made there if there is none of this name.', most: PLAYLIST_MAX }, (playlist) =>
      set({ playlist }),
    ),
    check('paid', 'Somebody paid to be mentioned', settings.paidMention, (paidMention) => set({ paidMention })),
  ];
  const how = [
    select(
      'delay',
      'Viewers see it later by',
      settings.delayS,
      rules.delaysS,
      (seconds) => `${seconds} s`,
      (delayS) => set({ delayS }),
      fixed('delayS'),
    ),
    select(
      'licence',
      'The recording may be used',
      settings.licence,
      rules.licences,
      (licence) => LICENCE_WORDS[licence],
      (licence) => set({ licence }),
    ),
    text('next', 'Viewers are shown next', settings.next, { help: 'The address of another page of this network; empty: what it likes.' }, (next) =>
      set({ next }),
    ),
    check(
      'begins',
      'It begins there by itself when a picture arrives',
      settings.beginsByItself,
      (beginsByItself) => set({ beginsByItself }),
      fixed('beginsByItself'),
    ),
    check('rewind', 'Viewers may go back while it runs', settings.rewind, (rewind) => set({ rewind }), fixed('rewind')),
    check('adverts', 'The network may put adverts into it', settings.adverts, (adverts) => set({ adverts })),
    check('replay', 'The recording may be watched there afterwards', settings.replay, (replay) => set({ replay }), fixed('replay')),
    check('keeps-messages', 'Messages stay beneath the recording', settings.keepsMessages, (keepsMessages) => set({ keepsMessages })),
  ];
  if (![...whom, ...what, ...how].some(Boolean)) return null;
  const said = sayChoices(settings);
  const keeps = begun ? rules.fixedOnAir.filter((each) => each !== 'picture') : [];
  return (
    <details className="more-choices small-words mt-1">
      <summary>{said.length ? said.join(', ') : 'More that it asks'}</summary>
      <Group name="Whom it is for" of={whom} />
      <Group name="What it is" of={what} />
      <Group name="How it runs there and stays" of={how} />
      {keeps.length > 0 && <p className="soft mb-0">{sayFixedOnAir(keeps, placeOf(channel))}</p>}
    </details>
  );
}

/** Choices that belong together; nothing where none of them is asked. */
function Group({ name, of }: { name: string; of: readonly ReactNode[] }) {
  if (!of.some(Boolean)) return null;
  return (
    <fieldset>
      <legend>{name}</legend>
      <div className="choices">{of}</div>
    </fieldset>
  );
}

const tagsOf = (typed: string, most: number): string[] =>
  typed
    .split(',')
    .map((tag) => tag.trim())
    .filter(Boolean)
    .slice(0, most);

/** On whose pages there it stands too. Partners are asked there, and answer there. */
function Shared({ channel, sharing, put }: { channel: ChannelView; sharing: Sharing; put: (sharing: Sharing) => void }) {
  const partners = useQuery({ queryKey: ['partners', channel.id], queryFn: () => server.get<PartnerView[]>(`/api/channels/${channel.id}/partners`) });
  if (partners.error) return <Notice kind="refusal">{wordsOf(partners.error)}</Notice>;
  if (!partners.data?.length) return null;
  const { with: all, when } = sharing;
  return (
    <div className="choice wide" role="group" aria-label="Shared on with">
      <span>Shared on with</span>
      <div>
        {partners.data.map(({ id, name, own }) => (
          <Form.Check
            key={id}
            id={`share-${channel.id}-${id}`}
            label={own ? `${name}, your own` : name}
            checked={all.includes(id)}
            onChange={({ target }) => put({ when, with: (target.checked ? [...all, id] : all.filter((each) => each !== id)).sort() })}
          />
        ))}
        <Form.Select
          size="sm"
          aria-label="From when on it is shared"
          value={when}
          disabled={!all.length}
          onChange={({ target }) => put({ with: all, when: target.value as Sharing['when'] })}
        >
          <option value="at placing">once it is placed</option>
          <option value="at the start">once it has begun</option>
          <option value="afterwards">once it is over</option>
        </Form.Select>
      </div>
    </div>
  );
}

/** In which countries it is seen. */
function Countries({ id, limit, put }: { id: string; limit: CountryLimit; put: (limit: CountryLimit) => void }) {
  const { rule, of } = limit;
  return (
    <Form.Group className="choice wide">
      <Form.Label htmlFor={id}>Seen</Form.Label>
      <div className="countries">
        <Form.Select
          size="sm"
          aria-label="How countries are meant"
          value={rule}
          onChange={({ target }) => put({ of, rule: target.value as CountryLimit['rule'] })}
        >
          <option value="only in">{of.length ? 'only in' : 'everywhere, or only in'}</option>
          <option>everywhere but in</option>
        </Form.Select>
        <Form.Select id={id} size="sm" value="" onChange={({ target }) => put({ rule, of: [...of, target.value] })}>
          <option value="">Add a country</option>
          {allCountries()
            .filter((code) => !of.includes(code))
            .map((code) => (
              <option key={code} value={code}>
                {countryName(code)}
              </option>
            ))}
        </Form.Select>
      </div>
      {of.map((code) => (
        <Button
          key={code}
          variant="quiet"
          size="sm"
          aria-label={`Take ${countryName(code)} out`}
          onClick={() => put(of.length === 1 ? EVERYWHERE : { rule, of: of.filter((each) => each !== code) })}
        >
          {countryName(code)} ✕
        </Button>
      ))}
    </Form.Group>
  );
}
