// What channels are called where they stand in a sentence: always with their network, since one name may be on several.
import { NETWORK_NAMES, type ChannelIdentity } from '@lantern/contract';

/** "Alderfell Sky Club (Townfold)"; one that was typed in by its name alone. */
export const inFull = (name: string, network: ChannelIdentity['network']): string => (network === 'typed-in' ? name : `${name} (${NETWORK_NAMES[network]})`);
