// A look as those need it who draw with it: with the addresses of its pictures and letters.
import type { ArtworkView, LookView } from '@lantern/contract';
import { OWN_LOOK, type LookChoices, type PictureRecipe } from '@lantern/core';
import type { LookContent } from '../programme/compositor-messages';
import { fontFile } from './letters';

/** The look of a show's pictures; where those came as files, or there are none, the station's. */
export function lookOfShow(show: { waiting: Composed; thumbnail: Composed }, looks: readonly LookView[]): LookChoices {
  const recipe = show.waiting?.recipe ?? show.thumbnail?.recipe;
  return (recipe ? looks.find(({ id }) => id === recipe.lookId) : looks.find(({ forStation }) => forStation)) ?? OWN_LOOK;
}

type Composed = { recipe: PictureRecipe | null } | null;

/** What whoever begins something new begins with. */
export const lookToBeginWith = (looks: readonly LookView[]): LookView | undefined => looks.find(({ forStation }) => forStation) ?? looks[0];

export function contentOfLook(look: LookChoices, pieces: ArtworkView['pieces']): LookContent {
  const { palette, straps, cards, letters, background, logoId, sponsors, sponsorsInCorner } = look;
  const urlOf = (id: string | null) => pieces.find((piece) => piece.id === id)?.url ?? null;
  const sponsorUrls = sponsors.map(urlOf).filter((url) => url !== null);
  return {
    ...{ palette, straps, cards, sponsors: sponsorUrls.length, sponsorsInCorner, sponsorUrls, logoUrl: urlOf(logoId) },
    letters: { display: fontFile(letters.display, 'display', urlOf), text: fontFile(letters.text, 'text', urlOf) },
    background:
      background === null
        ? 'evening'
        : background.kind === 'colour'
          ? 'colour'
          : { url: background.kind === 'sky' ? `/api/skies/${background.mood}/${background.seed}` : (urlOf(background.pieceId) ?? '') },
  };
}
