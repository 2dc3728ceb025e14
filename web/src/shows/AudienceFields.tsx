// Who may see the show on each channel, and the other facts that its network asks for: the channel's own
// settings unless this show says otherwise.
import { NETWORK_NAMES, type ChannelView, type ChoicesDraft, type ShowDraft, type ShowView } from '@lantern/contract';
import { sayShare, settingsFor, type Visibility } from '@lantern/core';
import { Button, Form } from 'react-bootstrap';
import { Identity } from '../look/Identity';
import { MoreChoices } from './MoreChoices';
import type { Put } from './sheet-acts';
import { blankVariant, variantOf } from './sheet-draft';

interface Props {
  channels: readonly ChannelView[];
  draft: ShowDraft;
  show: ShowView;
  put: Put;
}

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
              {show.airings
                .find((airing) => airing.channel.id === channel.id)
                ?.shares?.map((share) => (
                  <p key={share.id} className="small-words mb-0 mt-1">
                    {sayShare(share)}
                  </p>
                ))}
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
