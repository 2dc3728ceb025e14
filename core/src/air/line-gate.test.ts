import type { FlvTag } from '../flv/tags';
import { LineGate } from './line-gate';

const head = (of = 1): FlvTag => ({ kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 0, 0, 0, 0, of) });
const key: FlvTag = { kind: 'video', timestampMs: 0, data: Uint8Array.of(0x17, 1, 0, 0, 0, 1) };
const other: FlvTag = { kind: 'video', timestampMs: 40, data: Uint8Array.of(0x27, 1, 0, 0, 0, 1) };
const soundHead: FlvTag = { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 0, 0x11) };
const sound: FlvTag = { kind: 'audio', timestampMs: 0, data: Uint8Array.of(0xaf, 1, 1) };

const passed = (gate: LineGate, ...tags: [tag: FlvTag, slow?: boolean][]) => tags.map(([tag, slow = false]) => gate.lets(tag, slow));

test('pictures begin with a key frame; sound and configuration wait for nothing', () => {
  expect(passed(new LineGate(), [head()], [soundHead], [other], [sound], [key], [other])).toEqual([true, true, false, true, true, true]);
});

test('a configuration that is said again, of picture or sound, interrupts no picture; another does, up to its key frame', () => {
  const gate = new LineGate();
  passed(gate, [head()], [key]);
  expect(passed(gate, [soundHead], [other], [head()], [other])).toEqual([true, true, true, true]);
  expect(passed(gate, [head(2)], [other], [key], [other])).toEqual([true, false, true, true]);
});

test('a stage that is too slow loses pictures up to a key frame that it can take, and no sound', () => {
  const gate = new LineGate();
  passed(gate, [head()], [key]);
  expect(passed(gate, [other, true], [other], [sound, true], [key, true], [key], [other])).toEqual([false, false, true, false, true, true]);
});
