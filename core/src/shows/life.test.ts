import { AIRING_EVENTS, AIRING_LIFE, airingAfter, SHOW_EVENTS, SHOW_LIFE, showAfter } from './life';

test('every state and event: what follows, and what is refused', () => {
  const table = Object.fromEntries(SHOW_LIFE.map((state) => [state, SHOW_EVENTS.map((event) => showAfter(state, event) ?? '-').join(' ')]));
  //            placed   withdrawn  on air   interrupted  taken back  wrapped  left out
  expect(table).toEqual({
    draft: '     placed   -          -        -            -           -        withdrawn'.trim().replace(/ +/g, ' '),
    placed: '    placed   draft      onAir    -            -           -        withdrawn'.trim().replace(/ +/g, ' '),
    onAir: '     -        -          -        interrupted  placed      over     -'.trim().replace(/ +/g, ' '),
    interrupted: '-       -          onAir    -            -           over     -'.trim().replace(/ +/g, ' '),
    over: '      -        -          -        -            -           -        -'.trim().replace(/ +/g, ' '),
    withdrawn: ' placed   -          -        -            -           -        -'.trim().replace(/ +/g, ' '),
  });
});

test('no state but the last is one that nothing leaves', () => {
  for (const state of SHOW_LIFE) expect(SHOW_EVENTS.some((event) => showAfter(state, event) !== null)).toBe(state !== 'over');
});

test('an airing: every state and event', () => {
  const table = Object.fromEntries(
    AIRING_LIFE.map((state) => [state, AIRING_EVENTS.map((event) => airingAfter(state, event)?.replace(' ', '-') ?? '-').join(' ')]),
  );
  // Objected, too far ahead, made on going on air, asked; refused there, refused on air; stands; taken off, again; let go; made anew on air.
  const standsNot = 'refused awaits-reach awaits-air unsure - - placed';
  expect(table).toEqual({
    none: `${standsNot} - - - -`,
    refused: `${standsNot} - - - -`,
    'awaits reach': `${standsNot} withdrawn - - -`,
    'awaits air': `${standsNot} withdrawn - - -`,
    unsure: 'unsure unsure unsure unsure refused awaits-air placed withdrawn - - -',
    placed: '- - - - - - - withdrawn - none unsure',
    withdrawn: 'withdrawn - - - - - placed - awaits-air none -',
  });
});

test('what may stand on a channel is never forgotten by our own checks, and is only ever let go by its network or a person', () => {
  for (const state of ['unsure', 'placed'] as const) {
    for (const event of ['objected', 'too far ahead', 'made on going on air'] as const) expect([state, null]).toContain(airingAfter(state, event));
  }
});
