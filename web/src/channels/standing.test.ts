import type { ChannelView } from '@lantern/contract';
import { standingOf } from './standing';

const channel = (change: Partial<ChannelView>) => ({ network: 'reelmoor', access: 'good', conditions: [], conditionsAt: 1, ...change }) as ChannelView;

test.each<[string, Partial<ChannelView>, string, RegExp]>([
  ['all is met', { conditions: [{ code: 'access', state: 'met' }] }, 'done', /^May broadcast/],
  ['something is missing', { conditions: [{ code: 'verified-phone', state: 'unmet' }] }, 'refusal', /^May not broadcast yet\. Verify a phone number/],
  ['a day has to pass', { conditions: [{ code: 'waiting-day', state: 'waiting', metAt: 0 }] }, 'caution', /Asked for/],
  ['nobody has looked', { conditionsAt: null }, 'caution', /Not looked at yet/],
  ['access has ended', { access: 'ended' }, 'refusal', /Link it again/],
  ['the key file is lost', { access: 'unreadable' }, 'refusal', /key file/],
  ['the service is typed in', { network: 'typed-in', conditionsAt: null }, 'done', /Gets your picture/],
])('%s', (_name, change, kind, words) => {
  const standing = standingOf(channel(change));
  expect(standing.kind).toBe(kind);
  expect(standing.words).toMatch(words);
});
