import { may, RIGHTS, ROLES, type RightName } from './rights';

const NAMES = Object.keys(RIGHTS) as RightName[];

test('the owner may do everything; whatever a moderator may, a producer may too', () => {
  for (const right of NAMES) {
    expect(may('owner', right)).toBe(true);
    if (may('moderator', right)) expect(may('producer', right)).toBe(true);
  }
});

test('nobody is refused without words, and words that nobody hears are not written', () => {
  for (const right of NAMES) expect([right, RIGHTS[right].refusal !== '']).toEqual([right, ROLES.some((role) => !may(role, right))]);
});

test('a moderator looks, helps on the stage, and changes nothing but their own account', () => {
  expect(NAMES.filter((right) => may('moderator', right))).toEqual(['look at the station', 'keep one’s own account', 'help on the stage']);
});
