import type { Role } from '@lantern/core';

export const ROLE_WORDS: Record<Role, string> = { owner: 'Owner', producer: 'Producer', moderator: 'Moderator' };

/** What each may do, for whoever chooses. */
export const ROLE_MAY: Record<Role, string> = {
  owner: 'All of it, and says who is in the team.',
  producer: 'Plans shows, runs the stage, keeps channels, keys and the library.',
  moderator: 'Looks at everything but keys and addresses, helps on the stage with graphics and what comes next, and changes nothing else.',
};
