// Who else has this show's sheet or stage open, by name and role.
import { randomName } from '../app/random-name';
import { HERE_EVERY_MS, type OtherHere } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';
import { useMe } from '../people/me';
import { ROLE_WORDS } from '../people/role-words';

/** Names this load of the page. */
const TAB = randomName(8);

export function OthersHere({ showId, place }: { showId: string; place: 'sheet' | 'stage' }) {
  const me = useMe();
  const others = useQuery({
    queryKey: ['here', showId, place],
    queryFn: () => server.post<OtherHere[]>(`/api/shows/${showId}/here`, { tab: TAB, place }),
    refetchInterval: HERE_EVERY_MS,
    refetchIntervalInBackground: true,
    retry: false,
  });
  if (!others.data?.length) return null;
  const words = others.data.map(({ personId, name, role, place: where }) =>
    personId === me.data?.personId
      ? `you, on another ${where}`
      : `${name} (${ROLE_WORDS[role].toLowerCase()}), ${where === 'stage' ? 'on the stage' : 'on the sheet'}`,
  );
  return (
    <p className="soft small-words mb-0" role="status">
      Also here: {[...new Set(words)].join('; ')}
    </p>
  );
}
