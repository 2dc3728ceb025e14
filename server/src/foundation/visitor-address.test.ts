import type { IncomingMessage } from 'node:http';
import { addressBlock, TrustedProxies, visitorAddress } from './visitor-address';

const asked = (remoteAddress: string, forwarded?: string) =>
  ({ socket: { remoteAddress }, headers: forwarded === undefined ? {} : { 'x-forwarded-for': forwarded } }) as unknown as IncomingMessage;
const NOBODY = new TrustedProxies('');
const PROXIES = new TrustedProxies('10.0.0.0/8, 2001:db8:1::/48, 127.0.0.1');

test('what a stranger says of its own address is not believed', () => {
  expect(visitorAddress(asked('198.51.100.7', '203.0.113.9'), NOBODY)).toBe('198.51.100.7');
  expect(visitorAddress(asked('198.51.100.7', '203.0.113.9'), PROXIES)).toBe('198.51.100.7');
});

test('behind trusted proxies the visitor is the last that those did not write themselves, whatever it put before that', () => {
  expect(visitorAddress(asked('10.1.2.3', '203.0.113.9'), PROXIES)).toBe('203.0.113.9');
  expect(visitorAddress(asked('::ffff:10.1.2.3', 'made-up, 192.0.2.66, 203.0.113.9, 10.9.9.9'), PROXIES)).toBe('203.0.113.9');
  expect(visitorAddress(asked('2001:db8:1::5', '2001:db8:77::1'), PROXIES)).toBe('2001:db8:77::1');
});

test('a proxy that says nothing, or nonsense, is counted itself', () => {
  expect(visitorAddress(asked('10.1.2.3'), PROXIES)).toBe('10.1.2.3');
  expect(visitorAddress(asked('10.1.2.3', 'unknown'), PROXIES)).toBe('10.1.2.3');
});

test.each([
  ['203.0.113.9', '203.0.113.9'],
  ['::ffff:203.0.113.9', '203.0.113.9'],
  ['2001:db8:77:1:aaaa::1', '2001:db8:77:1::/64'],
  ['2001:db8::1', '2001:db8:0:0::/64'],
  ['fe80::1%eth0', 'fe80:0:0:0::/64'],
])('%s is counted as %s', (address, block) => expect(addressBlock(address)).toBe(block));

test.each(['10.0.0.0/33', 'proxy.example', '10.0.0.1/x'])('%s is refused as a proxy', (entry) =>
  expect(() => new TrustedProxies(entry)).toThrow(`LANTERN_TRUSTED_PROXIES: “${entry}” is no address.`),
);
