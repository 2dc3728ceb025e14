// Who may see the show on each channel, and the other facts that its network asks for: the channel's own
// settings unless this show says otherwise.
import { NETWORK_NAMES, type ChannelView, type ChoicesDraft, type ShowDraft, type ShowView } from '@lantern/contract';
import { CATEGORIES, sayFixedOnAir, settingsFor, type AiringSettings, type Audience, type FixedOnAir, type Visibility } from '@lantern/core';
import { Button, Form } from 'react-bootstrap';
import { LANGUAGES, languageName, MESSAGE_WORDS } from '../channels/choice-words';
import { Identity } from '../look/Identity';
import { placeOf } from './judged';
import type { Put } from './sheet-acts';
import { blankVariant, variantOf } from './sheet-draft';

interface Props {
  channels: readonly ChannelView[];
  draft: ShowDraft;
  show: ShowView;
  put: Put;
}

const AUDIENCE_WORDS: Record<Audience, string> = { everybody: 'everybody', adults: 'adults, 18 and over', children: 'children' };

export function AudienceFields({ channels, draft, show, put }: Props) {
  return (
    <>
      {!channels.length && <p className="soft small-words mb-0">Tick a channel first: each offers its own choices.</p>}
      {channels.map((channel) => {
        const { choices, ...variant } = variantOf(draft, channel.id);
        const settings = settingsFor(choices, channel.defaults, channel.rules);
        const set = (change: ChoicesDraft) => put({ variants: [{ ...variant, choices: { ...choices, ...change } }] });
        const own = Object.values(choices).some((value) => value !== undefined);
        const stands = show.airings.find((airing) => airing.channel.id === channel.id)?.placing === 'placed';
        const begun = stands && (show.state === 'onAir' || show.state === 'interrupted');
        const locks = channel.rules.lockedAfterPlacing.includes('visibility');
        return (
          <div key={channel.id} className="audience-row">
            <Identity of={channel} small />
            <div>
              {channel.rules.visibilities.length > 1 || choices.visibility ? (
                <Form.Select
                  size="sm"
                  aria-label={`Who may see it on ${channel.name}, ${channel.network === 'typed-in' ? '' : NETWORK_NAMES[channel.network]}`}
                  value={settings.visibility}
                  disabled={locks && begun}
                  onChange={({ target }) => set({ visibility: target.value as Visibility })}
                >
                  {[...new Set([...channel.rules.visibilities, settings.visibility])].map((visibility) => (
                    <option key={visibility}>{visibility}</option>
                  ))}
                </Form.Select>
              ) : (
                <span className="small-words">{settings.visibility}</span>
              )}
              {locks && !stands && <p className="soft small-words mb-0 mt-1">Cannot be changed once placed.</p>}
              <MoreChoices channel={channel} settings={settings} set={set} begun={begun} />
              {own && (
                <Button
                  variant="quiet"
                  size="sm"
                  className="d-block"
                  onClick={() => put({ variants: [{ ...blankVariant(channel.id), title: variant.title, description: variant.description }] })}
                >
                  Back to the channel’s own settings
                </Button>
              )}
            </div>
          </div>
        );
      })}
    </>
  );
}

/** What else the network asks; nothing where it asks nothing. */
function MoreChoices({
  channel,
  settings,
  set,
  begun,
}: {
  channel: ChannelView;
  settings: AiringSettings;
  set: (change: ChoicesDraft) => void;
  begun: boolean;
}) {
  const { rules } = channel;
  const id = (name: string) => `${name}-${channel.id}`;
  const fixed = (name: FixedOnAir) => begun && rules.fixedOnAir.includes(name);
  const several = rules.messages.length > 1 || rules.delaysS.length > 1;
  if (!several && !rules.audiences.length && !rules.categories && rules.tagsMax === null) return null;
  const said = [
    settings.audience && settings.audience !== 'everybody' && `for ${AUDIENCE_WORDS[settings.audience]}`,
    rules.categories && settings.category,
    rules.languages && settings.language && languageName(settings.language),
    rules.messages.length > 1 && settings.messages && `messages ${MESSAGE_WORDS[settings.messages]}`,
  ].filter(Boolean);
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
      <Form.Group controlId={id(name)} className="choice">
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
    value !== null && <Form.Check id={id(name)} label={label} checked={value} disabled={disabled} onChange={({ target }) => put(target.checked)} />;
  return (
    <details className="small-words mt-1">
      <summary>{said.length ? said.join(', ') : 'More that it asks'}</summary>
      <div className="choices">
        {select(
          'audience',
          'Made for',
          settings.audience,
          rules.audiences,
          (audience) => AUDIENCE_WORDS[audience],
          (audience) => set({ audience }),
        )}
        {select(
          'messages',
          'Messages',
          settings.messages,
          rules.messages,
          (who) => MESSAGE_WORDS[who],
          (messages) => set({ messages }),
        )}
        {select('category', 'Category', settings.category, rules.categories ? CATEGORIES : [], String, (category) => set({ category }))}
        {select('language', 'Language spoken', settings.language, rules.languages ? LANGUAGES : [], languageName, (language) => set({ language }))}
        {select(
          'delay',
          'Viewers see it later by',
          settings.delayS,
          rules.delaysS,
          (seconds) => `${seconds} s`,
          (delayS) => set({ delayS }),
          fixed('delayS'),
        )}
        {settings.tags !== null && (
          <Form.Group controlId={id('tags')} className="choice wide">
            <Form.Label>Tags</Form.Label>
            <Form.Control
              size="sm"
              defaultValue={settings.tags.join(', ')}
              placeholder="sky, comets"
              onBlur={({ target }) =>
                set({
                  tags: target.value
                    .split(',')
                    .map((tag) => tag.trim())
                    .filter(Boolean)
                    .slice(0, rules.tagsMax!),
                })
              }
            />
            <Form.Text>Up to {rules.tagsMax}, with commas between.</Form.Text>
          </Form.Group>
        )}
        {check('rewind', 'Viewers may go back while it runs', settings.rewind, (rewind) => set({ rewind }), fixed('rewind'))}
        {check('replay', 'The recording may be watched there afterwards', settings.replay, (replay) => set({ replay }), fixed('replay'))}
        {check('embedding', 'Other sites may show it', settings.embedding, (embedding) => set({ embedding }))}
        {check('paid', 'Somebody paid to be mentioned', settings.paidMention, (paidMention) => set({ paidMention }))}
        {check(
          'begins',
          'It begins there by itself when a picture arrives',
          settings.beginsByItself,
          (beginsByItself) => set({ beginsByItself }),
          fixed('beginsByItself'),
        )}
        {begun && rules.fixedOnAir.length > 0 && <p className="soft mb-0">{sayFixedOnAir(rules.fixedOnAir, placeOf(channel))}</p>}
      </div>
    </details>
  );
}
