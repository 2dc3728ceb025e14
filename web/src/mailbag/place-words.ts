import { HOUSE_PAGE, NETWORK_NAMES } from '@lantern/contract';
import type { MessagePlace } from '@lantern/core';

/** Where messages come from, as it stands within a sentence. */
export const placeWords = (place: MessagePlace): string => (place === HOUSE_PAGE ? 'the house page' : NETWORK_NAMES[place]);
