import fc from 'fast-check';
import { checkCaptions, readCaptions, readCaptionTime, writeCaptionTime, writeSubRip, writeVtt, type Caption } from './captions';

const TWO: Caption[] = [
  { fromMs: 1_000, toMs: 3_500, text: 'Good evening,\nand welcome.' },
  { fromMs: 3_600_250, toMs: 3_603_000, text: 'Is 3 < 4 & 5 > 4?' },
];

test('what is written is read back, as WebVTT and as SubRip', () => {
  expect(readCaptions(writeVtt(TWO))).toEqual({ captions: TWO, troubles: [] });
  expect(readCaptions(writeSubRip([TWO[0]!]))).toEqual({ captions: [TWO[0]], troubles: [] });
  expect(writeVtt(TWO)).toContain('Is 3 &lt; 4 &amp; 5 &gt; 4?');
  expect(writeSubRip(TWO)).toContain('2\n01:00:00,250 --> 01:00:03,000\n');
});

test('WebVTT with notes, styles, names, settings, tags and short times', () => {
  const file =
    '\uFEFFWEBVTT - made by hand\nKind: captions\n\nNOTE\nto whom it may concern\n\nSTYLE\n::cue { color: lime }\n\nfirst\r\n00:01.000 --> 00:02.500 line:0 align:start\r\n<v Maren>Good <i>evening</i></v>\n\n00:02.500 --> 00:04.000\nNext';
  expect(readCaptions(file)).toEqual({
    captions: [
      { fromMs: 1_000, toMs: 2_500, text: 'Good evening' },
      { fromMs: 2_500, toMs: 4_000, text: 'Next' },
    ],
    troubles: [],
  });
});

test('what cannot be read is named by its line, and the rest is there', () => {
  const file =
    'WEBVTT\n\n1\n00:00:01.000 --> 00:00:00.500\nBackwards\n\n2\n1:2 --> 3\nOdd\n\nno times at all\nreally\n\n3\n00:00:05.000 --> 00:00:06.000\nFine\n\n4\n00:00:07.000 --> 00:00:08.000\n<b></b>\n';
  const { captions, troubles } = readCaptions(file);
  expect(captions).toEqual([{ fromMs: 5_000, toMs: 6_000, text: 'Fine' }]);
  expect(troubles.map(({ line }) => line)).toEqual([4, 7, 11, 19]);
});

test.each(['', 'WEBVTT', '<html>', '\u0000'.repeat(50), '-->', '\n-->\n-->\n'])('%j is told to be none', (file) => {
  expect(readCaptions(file).captions).toEqual([]);
  expect(readCaptions(file).troubles.length).toBeGreaterThan(0);
});

test.each(['<', '{\\', '<b>', '&lt;', ' '])('a caption of a million times %j is refused, and what follows it is read', (mark) => {
  const file = `WEBVTT\n\n00:00:00.000 --> 00:00:01.000\n${mark.repeat(1_000_000)}x\n\n00:00:02.000 --> 00:00:03.000\nFine\n`;
  const { captions, troubles } = readCaptions(file);
  expect([captions.map(({ text }) => text), troubles.map(({ line }) => line)]).toEqual([['Fine'], [3]]);
});

test('no file breaks the reader, and times go there and back', () => {
  fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (file) => void readCaptions(file)));
  fc.assert(fc.property(fc.integer({ min: 0, max: 99 * 3_600_000 }), (ms) => readCaptionTime(writeCaptionTime(ms)) === ms));
});

test('what is hard to read is said', () => {
  const captions: Caption[] = [
    { fromMs: 0, toMs: 2_000, text: 'Good evening.' },
    { fromMs: 1_500, toMs: 1_800, text: 'Hm' },
    { fromMs: 3_000, toMs: 4_000, text: 'This is far more than anybody can read\nin a single second of a show.' },
    { fromMs: 5_000, toMs: 15_000, text: 'a\nb\nc' },
    { fromMs: 15_000, toMs: 20_000, text: 'x'.repeat(43) },
    { fromMs: 30_000, toMs: 31_000, text: 'Late' },
  ];
  expect(checkCaptions(captions, 30_000)).toEqual([
    { at: 1, words: 'It begins before the one before has gone.' },
    { at: 1, words: 'It is gone before anybody has read it.' },
    { at: 2, words: '67 characters a second are too quick to read: 20 at most.' },
    { at: 3, words: 'It stands for 10 s: divide it.' },
    { at: 3, words: 'It has 3 lines: 2 at most.' },
    { at: 4, words: 'A line has 43 characters: break it before 42.' },
    { at: 5, words: 'It stands after the end of the recording.' },
  ]);
});
