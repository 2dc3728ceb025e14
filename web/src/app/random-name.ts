/** A name that nobody can guess, in hexadecimal digits: for what is made here and has to be told from others. Needs no secure context. */
export const randomName = (bytes: number): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(bytes)), (byte) => byte.toString(16).padStart(2, '0')).join('');
