// Which sections of a sheet are open: those that need a decision when it is opened, those that somebody touched, and the one that
// an address leads to. It stays in the address, through reload and back.
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';

/** In the order of the work. */
const SECTIONS = [
  'what',
  'when',
  'repeat',
  'where',
  'audience',
  'picture',
  'people',
  'running-order',
  'graphics',
  'picture-from',
  'house',
  'announcements',
  'links',
  'ready',
  'encoder',
] as const;
export type SectionId = (typeof SECTIONS)[number];

const isSection = (name: string): name is SectionId => (SECTIONS as readonly string[]).includes(name);

/** Addresses lead to fields; each is in a section. */
const SECTION_OF_FIELD: Record<string, SectionId> = {
  ...{ title: 'what', description: 'what', episode: 'what', date: 'when', time: 'when', zone: 'when', lengthMin: 'when' },
  ...{
    room: 'people',
    ownSounds: 'people',
    alternative: 'picture',
    thumbnail: 'picture',
    thumbnailAlternative: 'picture',
    pictureFrom: 'picture-from',
    breakMusicId: 'picture-from',
    channelIds: 'where',
  },
  ...{
    houseVisibility: 'house',
    reminders: 'house',
    houseReplay: 'house',
    embedSites: 'house',
    said: 'announcements',
    cues: 'running-order',
    graphics: 'graphics',
    clips: 'graphics',
    scenes: 'graphics',
    rehearsal: 'ready',
    lines: 'where',
    variants: 'where',
  },
};

/** The section that an address, a field or a value of the sheet belongs to; null: none does. */
export const sectionOf = (name: string): SectionId | null => (isSection(name) ? name : (SECTION_OF_FIELD[name] ?? null));

export interface Sections {
  isOpen: (id: SectionId) => boolean;
  setOpen: (id: SectionId, open: boolean) => void;
  /** Settles all others. */
  openOnly: (id: SectionId) => void;
}

const PARAM = 'open';

/** `byItself`: those that are open as long as nobody has said otherwise, as they were when the sheet was opened. */
export function useSections(byItself: () => readonly SectionId[]): Sections {
  const [first] = useState(byItself);
  const { search, hash, key } = useLocation();
  const navigate = useNavigate();
  const said = new URLSearchParams(search).get(PARAM);
  const open = useMemo(() => new Set(said === null ? first : said.split(',').filter(isSection)), [said, first]);
  const isOpen = useCallback((id: SectionId) => open.has(id), [open]);
  const put = useCallback(
    (ids: readonly SectionId[], at: string) => {
      const address = new URLSearchParams(search);
      address.set(PARAM, ids.join());
      void navigate({ search: `?${address}`, hash: at }, { replace: true, preventScrollReset: true });
    },
    [navigate, search],
  );
  const setOpen = useCallback(
    (id: SectionId, wanted: boolean) => {
      if (open.has(id) === wanted) return;
      put(
        SECTIONS.filter((each) => (each === id ? wanted : open.has(each))),
        hash,
      );
    },
    [hash, open, put],
  );
  // What the address led to before is left behind with the rest.
  const openOnly = useCallback((id: SectionId) => put([id], ''), [put]);
  // An address that leads to a field opens its section, once.
  const led = useRef('');
  useEffect(() => {
    const section = sectionOf(hash.slice(1));
    if (!section || led.current === hash) return;
    led.current = hash;
    setOpen(section, true);
  }, [hash, key, setOpen]);
  return useMemo(() => ({ isOpen, setOpen, openOnly }), [isOpen, setOpen, openOnly]);
}

export const SectionsContext = createContext<Sections>({ isOpen: () => true, setOpen: () => undefined, openOnly: () => undefined });
export const useSectionState = () => useContext(SectionsContext);
