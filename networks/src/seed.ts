// The accounts that exist on the stand-ins from the start: those of the demo station, and one
// stranger's, so that foreign keys and accounts can be told from one's own.
import type { DataSource } from 'typeorm';
import { now } from './kit/clock';
import { Account, Login, NETWORKS, type Network } from './kit/entities';
import { hashPassword, newSecret } from './kit/secrets';
import { DAY_MS } from './kit/standing';

type Facts = Pick<Account, 'kind' | 'name' | 'monogram' | 'hue' | 'followers'> & Partial<Account>;

/** By network: identifier and facts of each account that Maren may speak for. */
const OF_THE_STATION: Record<Network, Record<string, Facts>> = {
  reelmoor: {
    'rm-alderfell': { kind: 'library channel', name: 'Alderfell Sky Club', monogram: 'AS', hue: 205, followers: 140 },
    'rm-junior': { kind: 'library channel', name: 'Junior Dome', monogram: 'JD', hue: 42, followers: 18, phoneVerified: false, askedAt: null },
  },
  townfold: {
    'tf-alderfell': { kind: 'page', name: 'Alderfell Sky Club', monogram: 'AS', hue: 205, followers: 60 },
    'tf-noticeboard': { kind: 'group', name: 'Fell Valley Noticeboard', monogram: 'FV', hue: 130, followers: 35 },
    // The profile carries the club's picture: the two are easily taken for each other.
    'tf-maren': { kind: 'profile', name: 'Maren Tolliver', monogram: 'AS', hue: 205, followers: 12 },
    'tf-walks': { kind: 'group', name: 'Fell Valley Walks', monogram: 'FW', hue: 95, followers: 22, groupAllows: false },
  },
  guildhand: {
    'gh-alderfell': { kind: 'organisation', name: 'Alderfell Sky Club', monogram: 'AS', hue: 205, followers: 26 },
    'gh-maren': { kind: 'member', name: 'Maren Tolliver', monogram: 'MT', hue: 340, followers: 9, connections: 31 },
  },
  pipwire: {
    'pw-alderfellsky': { kind: 'handle', name: '@alderfellsky', monogram: 'AS', hue: 205, followers: 112 },
    'pw-juniordome': { kind: 'handle', name: '@juniordome', monogram: 'JD', hue: 42, followers: 86 },
  },
};
const OF_A_STRANGER: Record<Network, Record<string, Facts>> = {
  reelmoor: { 'rm-stranger': { kind: 'library channel', name: 'Somebody Else', monogram: 'SE', hue: 20, followers: 5 } },
  townfold: {
    'tf-stranger': { kind: 'page', name: 'Somebody Else', monogram: 'SE', hue: 20, followers: 5 },
    'tf-library': { kind: 'page', name: 'Fell Valley Library', monogram: 'FL', hue: 28, followers: 48 },
  },
  guildhand: { 'gh-stranger': { kind: 'member', name: 'Somebody Else', monogram: 'SE', hue: 20, followers: 5 } },
  pipwire: { 'pw-stranger': { kind: 'handle', name: '@somebody', monogram: 'SE', hue: 20, followers: 105 } },
};

export async function seed(database: DataSource): Promise<void> {
  if (await database.getRepository(Login).count()) return;
  const login = (network: Network, name: string, password: string) =>
    Object.assign(new Login(), { id: `${network}-${name}`, network, name, passwordHash: hashPassword(password) });
  const accounts = (network: Network, loginId: string, all: Record<string, Facts>) =>
    Object.entries(all).map(([id, facts]) =>
      Object.assign(new Account(), {
        id,
        network,
        loginId,
        phoneVerified: true,
        askedAt: now() - 400 * DAY_MS,
        role: 'owner',
        groupAllows: true,
        openedAt: now() - 900 * DAY_MS,
        connections: 83,
        membersKey: newSecret(),
        ...facts,
      } satisfies Account),
    );
  await database.transaction(async (entities) => {
    for (const network of NETWORKS) {
      await entities.save([login(network, 'maren', 'lantern-light'), login(network, 'stranger', 'somebody-else')]);
      await entities.save(accounts(network, `${network}-maren`, OF_THE_STATION[network]));
      await entities.save(accounts(network, `${network}-stranger`, OF_A_STRANGER[network]));
    }
  });
}
