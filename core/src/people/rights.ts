// Who may do what at a station: one table, which the server asks at every route and pages ask before they offer something.

export const ROLES = ['owner', 'producer', 'moderator'] as const;
export type Role = (typeof ROLES)[number];

interface Right {
  may: readonly Role[];
  /** Said to whoever may not, with the way out. */
  refusal: string;
}
const RUNNING: readonly Role[] = ['owner', 'producer'];

/** Each right by what it lets one do. */
export const RIGHTS = {
  /** Shows, channels, reports, the library: without secrets and without addresses of people. */
  'look at the station': { may: ROLES, refusal: '' },
  /** One's own name, password and sessions. */
  'keep one’s own account': { may: ROLES, refusal: '' },
  'plan shows': { may: RUNNING, refusal: 'Moderators can look at shows but not change them. Ask the owner or a producer.' },
  'go on air': { may: RUNNING, refusal: 'Moderators can watch the stage but not run it. Ask the owner or a producer.' },
  /** What somebody beside whoever has the stage may have done there: graphics, and what comes next. Whoever has it goes on having it. */
  'help on the stage': { may: ROLES, refusal: '' },
  'change channels': { may: RUNNING, refusal: 'Moderators cannot change channels. Ask the owner or a producer.' },
  /** Keys of lines and encoder sets; asked for with the password besides. */
  'see keys': { may: RUNNING, refusal: 'Moderators cannot see keys. Ask the owner or a producer.' },
  /** Contacts, mail, and the addresses of those who asked to be reminded. */
  'write to people': { may: RUNNING, refusal: 'Addresses of people are for the owner and producers. Ask one of them.' },
  'change the library': { may: RUNNING, refusal: 'Moderators can look at pictures but not change them. Ask the owner or a producer.' },
  'set up the station': { may: RUNNING, refusal: 'Moderators cannot change what holds for the whole station. Ask the owner or a producer.' },
  /** Who belongs to the station, and as what. */
  'keep the team': { may: ['owner'], refusal: 'Only the owner can say who is in the team. Ask the owner.' },
  'read the record': { may: ['owner'], refusal: 'Only the owner can read this list.' },
} as const satisfies Record<string, Right>;
export type RightName = keyof typeof RIGHTS;

export const may = (role: Role, right: RightName): boolean => (RIGHTS[right].may as readonly Role[]).includes(role);
