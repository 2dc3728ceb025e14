// What comes next for whoever plans a first show, told by the draft itself.
import type { ShowDraft, ShowView } from '@lantern/contract';
import type { SectionId } from './sections';

export interface GuideStep {
  words: string;
  done: boolean;
  /** Where it is done; null: by the button at the head of the sheet. */
  section: SectionId | null;
}

export function guideOf(draft: ShowDraft, show: Pick<ShowView, 'thumbnail' | 'placedAt' | 'airings'>, startsAt: number | null, now: number): GuideStep[] {
  const placed = show.placedAt !== null;
  return [
    { words: 'Say what it is: a title, and a text for those who may come.', done: !!draft.title?.trim() && !!draft.description?.trim(), section: 'what' },
    {
      words: 'Say when it begins. Beneath is what that is on your audience’s clocks.',
      done: startsAt !== null && startsAt > now && !!draft.channelIds?.length,
      section: 'when',
    },
    {
      words: 'Tick where it airs. Beside the sheet you see how each channel will show it, and what it objects to.',
      done: !!draft.channelIds?.length,
      section: 'where',
    },
    { words: 'Give it a picture: drop one, or have one made from its words.', done: show.thumbnail !== null, section: 'picture' },
    { words: 'Place it: the button above asks once more, then every channel has its event.', done: placed, section: null },
    { words: 'Share its links. On the evening, open the stage.', done: false, section: 'links' },
  ];
}
