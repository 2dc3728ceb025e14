// Reads ingest addresses and keys as people paste them, and says what was found in them. Addresses
// follow RFC 3986 with the scheme rtmp or rtmps.

export type AddressTrouble = 'empty' | 'scheme' | 'spaces' | 'no-host' | 'key-inside' | 'password-inside' | 'no-application';

/**
 * A pasted ingest address. `key-inside` carries the two parts into which it can be split: in an
 * ingest address the path names the application, and a further long part is the key.
 */
export type AddressReading =
  | { ok: true; address: string }
  | { ok: false; trouble: Exclude<AddressTrouble, 'key-inside'> }
  | { ok: false; trouble: 'key-inside'; address: string; key: string };

/** A name, an IPv4 address or an IPv6 address in brackets, with or without a port (RFC 3986, section 3.2). */
const HOST = /^(\[[0-9a-f:.]+\]|[\p{L}\p{N}]([\p{L}\p{N}.-]*[\p{L}\p{N}])?)(:\d{1,5})?$/iu;

/** Keys are long and mix kinds of characters; names of applications are short words. */
function looksLikeKey(part: string): boolean {
  const plain = part.replace(/\?.*$/, '');
  if (/[?=]/.test(part)) return true;
  return plain.length >= 16 || (plain.length >= 8 && /\d/.test(plain) && /[a-z]/i.test(plain) && /[-_A-Z\d].*[-_A-Z\d].*[-_A-Z\d]/.test(plain));
}

declare const URL: new (text: string) => { port: string };

/** Whether the machine and the port can be such: a number of an address beyond 255 or a port beyond 65,535 is a slip (WHATWG URL, section 3.5). */
function isReachable(origin: string): boolean {
  try {
    return new URL(origin.replace(/^rtmps?/i, 'http')).port !== '0';
  } catch {
    return false;
  }
}

/** Reads an address as typed; spaces at its ends and a slash at its end are not its own. */
export function readIngestAddress(text: string): AddressReading {
  const typed = text.trim();
  if (!typed) return { ok: false, trouble: 'empty' };
  if (!/^rtmps?:\/\//i.test(typed)) return { ok: false, trouble: 'scheme' };
  if (/\s/.test(typed)) return { ok: false, trouble: 'spaces' };
  const host = /^rtmps?:\/\/([^/?#]*)/i.exec(typed)![1]!;
  if (host.includes('@')) return { ok: false, trouble: 'password-inside' };
  if (!HOST.test(host)) return { ok: false, trouble: 'no-host' };
  const parts = typed
    .slice(typed.indexOf(host) + host.length)
    .split('/')
    .filter(Boolean);
  const origin = typed.slice(0, typed.indexOf(host) + host.length);
  if (!isReachable(origin)) return { ok: false, trouble: 'no-host' };
  const last = parts[parts.length - 1];
  if (parts.length >= 2 && last !== undefined && looksLikeKey(last)) {
    return { ok: false, trouble: 'key-inside', address: `${origin}/${parts.slice(0, -1).join('/')}`, key: last };
  }
  if (!parts.length) return { ok: false, trouble: 'no-application' };
  return { ok: true, address: `${origin}/${parts.join('/')}` };
}

/** What to say about an address that cannot be used. */
export function sayAddressTrouble(trouble: AddressTrouble): string {
  switch (trouble) {
    case 'empty':
      return 'Paste the address that the service shows.';
    case 'scheme':
      return 'An ingest address starts with rtmp:// or rtmps://. A watch address belongs in the field below.';
    case 'spaces':
      return 'There is a space or a line break inside this address. Copy it again, without the words around it.';
    case 'no-host':
      return 'This address names no machine. It looks like rtmp://live.example.net/app.';
    case 'password-inside':
      return 'There is a name or password before the @ in this address. Take it out; the key is all that is sent.';
    case 'no-application':
      return 'Something is missing after the machine’s name. It looks like rtmp://live.example.net/app.';
    case 'key-inside':
      return 'The key seems to stand at the end of this address.';
  }
}

/** A pasted key without what surrounds it, and whether something was taken off. Null for one that has a gap inside. */
export function readKey(text: string): { key: string; trimmed: boolean } | null {
  const key = text.trim();
  if (/\s/.test(key)) return null;
  return { key, trimmed: key !== text };
}
