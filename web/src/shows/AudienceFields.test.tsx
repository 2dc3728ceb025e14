/** @jest-environment ./jest.browser.cjs */
// What each channel asks beside the words, and what of it stays as it is while the show is on there.
import type { ChannelView, ShowDraft, ShowView } from '@lantern/contract';
import { BLANK_SHEET, defaultsFor, rulesFor } from '@lantern/core';
import { fireEvent, screen } from '@testing-library/react';
import { show as shown } from '../test/page';
import { AudienceFields } from './AudienceFields';

const rules = rulesFor('reelmoor', 'library channel');
const library = {
  ...{ id: 'library', name: 'Alderfell Sky Club', network: 'reelmoor', kind: 'library channel', pictureUrl: null, access: 'linked' },
  ...{ rules, defaults: defaultsFor(rules) },
} as unknown as ChannelView;
const draft = { ...BLANK_SHEET, channelIds: ['library'], variants: [] } as unknown as ShowDraft;
let put: { variants?: unknown[] }[];

function opened(state: ShowView['state']): void {
  put = [];
  const show = { state, airings: [{ channel: { id: 'library' }, placing: 'placed' }] } as unknown as ShowView;
  shown(<AudienceFields channels={[library]} draft={draft} show={show} put={(change) => void put.push(change as { variants?: unknown[] })} />);
}

test('before it begins, all can be chosen', () => {
  opened('placed');
  expect(screen.getByLabelText<HTMLSelectElement>('Viewers see it later by').disabled).toBe(false);
  expect(screen.queryByText(/once a show has begun there/)).toBeNull();
});

test('on air, what its network keeps as it is can not be changed and says so; the rest can', () => {
  opened('onAir');
  for (const label of ['Viewers see it later by', 'Viewers may go back while it runs', 'The recording may be watched there afterwards'])
    expect(screen.getByLabelText<HTMLInputElement>(label).disabled).toBe(true);
  expect(screen.getByText(/^Reelmoor keeps how late viewers see it, whether they may go back, .* as they are once a show has begun there\.$/)).toBeTruthy();
  fireEvent.change(screen.getByLabelText('Messages'), { target: { value: 'followers' } });
  expect(put).toMatchObject([{ variants: [{ channelId: 'library', choices: { messages: 'followers' } }] }]);
});

test('countries are named one by one, and taken out again', () => {
  const group = rulesFor('townfold', 'group');
  const town = { ...library, id: 'town', network: 'townfold', kind: 'group', rules: group, defaults: defaultsFor(group) } as unknown as ChannelView;
  const countries = { rule: 'only in', of: ['IE'] } as const;
  const limited = { ...draft, variants: [{ channelId: 'town', title: null, description: null, choices: { countries } }] } as unknown as ShowDraft;
  put = [];
  const show = { state: 'draft', airings: [] } as unknown as ShowView;
  shown(<AudienceFields channels={[town]} draft={limited} show={show} put={(change) => void put.push(change as { variants?: unknown[] })} />);
  expect(screen.getByText(/only in Ireland/)).toBeTruthy();
  fireEvent.change(screen.getByLabelText('Seen'), { target: { value: 'NL' } });
  fireEvent.click(screen.getByRole('button', { name: 'Take Ireland out' }));
  expect(put).toMatchObject([
    { variants: [{ choices: { countries: { rule: 'only in', of: ['IE', 'NL'] } } }] },
    { variants: [{ choices: { countries: { rule: 'only in', of: [] } } }] },
  ]);
});
