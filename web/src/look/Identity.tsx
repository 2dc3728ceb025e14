// Who speaks where: picture, name and kind, at every step that publishes. A person's own account is
// round and says so; what belongs to many is square. A page and its owner's profile may carry the same
// picture, and publishing as the wrong one is the mistake that hosts regret most.
import { NETWORK_NAMES, type ChannelIdentity } from '@lantern/contract';
import { UserRound } from 'lucide-react';
import type { ReactNode } from 'react';

type Speaker = Pick<ChannelIdentity, 'name' | 'kind' | 'pictureUrl'> & { network: ChannelIdentity['network'] };

const isPerson = ({ kind }: Pick<Speaker, 'kind'>) => kind === 'profile' || kind === 'member';

/** "page on Townfold", "typed in by address and key". */
export function kindWords({ kind, network }: Pick<Speaker, 'kind' | 'network'>): string {
  return network === 'typed-in' ? 'typed in by address and key' : `${kind} on ${NETWORK_NAMES[network]}`;
}

export function Portrait({ of, small = false }: { of: Speaker; small?: boolean }) {
  const shape = `portrait${isPerson(of) ? ' round' : ''}${small ? ' small' : ''}`;
  return (
    <span className={shape} aria-hidden="true">
      {of.pictureUrl ? <img src={of.pictureUrl} alt="" /> : of.name.replace(/^@/, '').slice(0, 1)}
      {isPerson(of) && (
        <span className="badge-person">
          <UserRound size={small ? 9 : 12} strokeWidth={2.6} />
        </span>
      )}
    </span>
  );
}

export function Identity({ of, small = false, children }: { of: Speaker; small?: boolean; children?: ReactNode }) {
  return (
    <span className={`identity${small ? ' small' : ''}`}>
      <Portrait of={of} small={small} />
      <span>
        <b>{of.name}</b>
        <span className="kind-words soft small-words">
          <span>{kindWords(of)}</span>
          {isPerson(of) && <span className="person-words">a person, not the station</span>}
        </span>
        {children}
      </span>
    </span>
  );
}
