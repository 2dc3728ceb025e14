import type { ShowDraft, VariantDraft } from '@lantern/contract';
import { changesBetween, withChanges } from './sheet-draft';
import { troublesOf } from './sheet-keeping';

const [LIBRARY, GUILD] = ['5f0f4c8e-1d68-4a52-8b0f-000000000001', '5f0f4c8e-1d68-4a52-8b0f-000000000002'];
const variant = (channelId: string, title: string | null): VariantDraft => ({ channelId, title, description: null, choices: {} });
const draft: ShowDraft = {
  ...{ title: 'Dusk Report', description: '', date: '2026-12-03', time: '20:30', zone: 'Europe/Dublin', fold: null, lengthMin: 40 },
  ...{
    channelIds: [LIBRARY!, GUILD!],
    lines: [],
    pictureFrom: 'stage',
    outsideLineId: null,
    breakMusicId: null,
    thumbnailAlternative: '',
    variants: [variant(LIBRARY!, 'For the library')],
  },
  ...{ people: [], room: '', episode: null, milestoneTimes: {}, ticked: [], toLook: [] },
  ...{ announcements: [], said: [], cues: [], graphics: [], clips: [], scenes: [] },
  ...{ houseVisibility: 'everyone', reminders: true, houseReplay: true, ownSounds: false, embedSites: [] },
};

test('only what was changed is sent, each variant for itself, and putting it over the old gives the new', () => {
  const now = {
    ...draft,
    title: 'Dusk Report, late',
    channelIds: [GUILD!, LIBRARY!],
    variants: [variant(GUILD!, 'For the guild'), variant(LIBRARY!, 'For the library')],
  };
  const changes = changesBetween(draft, now);
  expect(changes).toEqual({ title: 'Dusk Report, late', variants: [variant(GUILD!, 'For the guild')] });
  expect(changesBetween(withChanges(draft, changes), now)).toEqual({});
});

test('a variant that was returned to the common text is sent as such', () => {
  expect(changesBetween(draft, { ...draft, variants: [] }).variants).toEqual([variant(LIBRARY!, null)]);
});

test('a space at the end of a text is no change, one within it is', () => {
  expect(changesBetween(draft, { ...draft, title: 'Dusk Report ', variants: [variant(LIBRARY!, 'For the library ')] })).toEqual({});
  expect(Object.keys(changesBetween(draft, { ...draft, title: 'Dusk  Report' }))).toEqual(['title']);
});

test('what cannot be right is kept back, and no date goes without its time', () => {
  const now = { ...draft, title: 'Other', date: '2026-12-04', time: '', lengthMin: 0 };
  const wrong = new Set(Object.keys(troublesOf(now)));
  expect([...wrong].sort()).toEqual(['lengthMin', 'time']);
  expect(changesBetween(draft, now, wrong)).toEqual({ title: 'Other' });
});

test('texts of any length and script are measured against what is kept at all', () => {
  expect(troublesOf({ ...draft, description: '🔭'.repeat(9_000) })).toEqual({});
  expect(troublesOf({ ...draft, description: 'x'.repeat(100_000) })).toEqual({ description: 'Keep the text to 20,000 characters.' });
  expect(troublesOf({ ...draft, title: 'تقرير الغسق', room: 'القبة' })).toEqual({});
});
