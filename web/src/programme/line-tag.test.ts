import { flvTagBytes, type FlvTag } from '@lantern/core';
import { readTag } from './line-tag';

const tag: FlvTag = { kind: 'video', timestampMs: 2 ** 31 + 5, data: Uint8Array.of(0x17, 1, 0, 0, 0, 9) };
const bytesOf = (bytes: Uint8Array): ArrayBuffer => Uint8Array.from(bytes).buffer;

test('a tag is read as it was written, late in a long evening too', () => {
  const read = readTag(bytesOf(flvTagBytes(tag)))!;
  expect({ ...read, data: [...read.data] }).toEqual({ ...tag, data: [...tag.data] });
});

test('what is no whole tag is left out', () => {
  expect(readTag(new ArrayBuffer(0))).toBeNull();
  expect(readTag(bytesOf(Uint8Array.of(7, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0)))).toBeNull();
  expect(readTag(bytesOf(flvTagBytes(tag).subarray(0, 14)))).toBeNull();
});
