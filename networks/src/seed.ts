// The accounts that exist on the stand-ins from the start: those of the demo station, and one
// stranger's, so that foreign keys and accounts can be told from one's own.
import type { DataSource } from 'typeorm';
import { Account, Login, type Network } from './kit/entities';
import { hashPassword } from './kit/secrets';

const account = (network: Network, id: string, loginId: string, kind: Account['kind'], name: string, monogram: string, hue: number, followers: number) =>
  Object.assign(new Account(), { network, id, loginId, kind, name, monogram, hue, followers });

export async function seed(database: DataSource): Promise<void> {
  if (await database.getRepository(Login).count()) return;
  const login = (network: Network, name: string, password: string) =>
    Object.assign(new Login(), { id: `${network}-${name}`, network, name, passwordHash: hashPassword(password) });
  await database.transaction(async (entities) => {
    await entities.save([
      login('reelmoor', 'maren', 'lantern-light'),
      login('townfold', 'maren', 'lantern-light'),
      login('reelmoor', 'stranger', 'somebody-else'),
      login('townfold', 'stranger', 'somebody-else'),
    ]);
    await entities.save([
      account('reelmoor', 'rm-alderfell', 'reelmoor-maren', 'library channel', 'Alderfell Sky Club', 'AS', 205, 140),
      account('townfold', 'tf-alderfell', 'townfold-maren', 'page', 'Alderfell Sky Club', 'AS', 205, 60),
      account('townfold', 'tf-noticeboard', 'townfold-maren', 'group', 'Fell Valley Noticeboard', 'FV', 130, 35),
      account('townfold', 'tf-maren', 'townfold-maren', 'profile', 'Maren Tolliver', 'AS', 205, 12),
      account('reelmoor', 'rm-stranger', 'reelmoor-stranger', 'library channel', 'Somebody Else', 'SE', 20, 5),
      account('townfold', 'tf-stranger', 'townfold-stranger', 'page', 'Somebody Else', 'SE', 20, 5),
    ]);
  });
}
