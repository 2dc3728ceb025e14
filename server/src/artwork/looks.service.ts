// The looks of a station: how its pictures and programmes look.
import type { LookChange, LookDraft, LookView } from '@lantern/contract';
import { isShipped, OWN_LOOK, type LookChoices } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Bus } from '../foundation/bus';
import { PlainError } from '../foundation/errors';
import { addRow, changeRow, together } from '../foundation/together';
import { ShowRows } from '../shows/show-rows';
import { Letters } from './lettering';
import { Look } from './piece.entities';
import { PiecesService } from './pieces.service';

const MOST_LOOKS = 20;

export const noSuchLook = () => new PlainError(404, 'There is no such look. It may have been removed.');

@Injectable()
export class LooksService {
  constructor(
    private readonly database: DataSource,
    private readonly pieces: PiecesService,
    private readonly showRows: ShowRows,
    private readonly bus: Bus,
  ) {}

  private get rows() {
    return this.database.getRepository(Look);
  }

  async list(stationId: string): Promise<LookView[]> {
    return (await this.rows.find({ where: { stationId }, order: { name: 'ASC' } })).map(viewOf);
  }

  /** Null where there is none of that name, or none was named. */
  one(stationId: string, id: string | null): Promise<Look | null> {
    return id === null ? Promise.resolve(null) : this.rows.findOneBy({ id, stationId });
  }

  async mustBe(stationId: string, id: string): Promise<Look> {
    const look = await this.one(stationId, id);
    if (!look) throw noSuchLook();
    return look;
  }

  /** That of a show whose pictures are made with a look, of one whose pictures came as files, or of none. */
  async ofShow(stationId: string, picture: { recipe?: { lookId: string | null } } | null): Promise<LookChoices> {
    const chosen = picture?.recipe ? await this.one(stationId, picture.recipe.lookId) : await this.rows.findOneBy({ stationId, forStation: true });
    return chosen ?? OWN_LOOK;
  }

  async add(stationId: string, draft: LookDraft): Promise<LookView> {
    const choices = await this.checked(stationId, draft);
    const look = { id: randomUUID(), stationId, ...choices, forStation: false, revision: 0 };
    await together(this.database, async (entities) => {
      if ((await entities.countBy(Look, { stationId })) >= MOST_LOOKS)
        throw new PlainError(409, `A station has at most ${MOST_LOOKS} looks. Take one out that is no longer used.`);
      await addRow(entities, Look, look);
    });
    this.changed(stationId);
    return viewOf(look);
  }

  async change(stationId: string, id: string, { revision, ...draft }: LookChange): Promise<LookView> {
    const before = await this.mustBe(stationId, id);
    const choices = await this.checked(stationId, draft);
    if (!(await changeRow(this.database.manager, Look, { id, stationId, revision }, { ...choices, revision: revision + 1 })))
      throw new PlainError(409, `Somebody else has changed “${before.name}” meanwhile. What you chose is still here: keep it over theirs, or take theirs.`);
    this.changed(stationId);
    return viewOf({ ...before, ...choices, revision: revision + 1 });
  }

  /** The look of all shows for which no other is chosen; null: they have none. */
  async chooseForStation(stationId: string, id: string | null): Promise<void> {
    if (id !== null) await this.mustBe(stationId, id);
    await together(this.database, async (entities) => {
      await changeRow(entities, Look, { stationId, forStation: true }, { forStation: false });
      if (id !== null) await changeRow(entities, Look, { stationId, id }, { forStation: true });
    });
    this.changed(stationId);
  }

  /** Takes a look away. Where coming pictures are made with it this is refused unless it is meant: they take the product's own colours then. */
  async remove(stationId: string, id: string, meant: boolean): Promise<void> {
    const shows = await this.showRows.inState(stationId, ['draft', 'placed']);
    const titles = new Set(
      shows.filter(({ thumbnail, waiting }) => [thumbnail, waiting].some((picture) => picture?.recipe?.lookId === id)).map(({ title }) => `“${title}”`),
    );
    if (titles.size && !meant)
      throw new PlainError(409, `Pictures of ${[...titles].join(', ')} are made with it. Choose another look there first, or say that you mean it.`);
    await this.rows.delete({ id, stationId });
    this.changed(stationId);
  }

  /** The letters of a look, with the files of its own fonts. */
  async letters({ letters }: Pick<LookChoices, 'letters'>): Promise<Letters> {
    const own = new Map<string, Buffer>();
    for (const name of new Set([letters.display, letters.text].filter((each) => !isShipped(each)))) {
      const file = await this.pieces.file(name);
      if (file) own.set(name, file);
    }
    return new Letters(letters, own);
  }

  /** What a draft chooses, as it is kept: everything that it speaks of must be there. */
  async checked(stationId: string, draft: LookDraft): Promise<LookChoices & { name: string; sponsors: string[] }> {
    const { name, palette, letters, straps, cards, background, logoId, sponsors, sponsorsInCorner, stingId } = draft;
    const mustBe = async (id: string | null, kind: 'logo' | 'picture' | 'font') => {
      if (id !== null && (await this.pieces.piece(stationId, id)).kind !== kind) throw new PlainError(409, `Choose a ${kind} of the library.`);
    };
    await mustBe(logoId, 'logo');
    for (const id of sponsors) await mustBe(id, 'logo');
    for (const id of [letters.display, letters.text]) if (!isShipped(id)) await mustBe(id, 'font');
    if (background?.kind === 'picture') await mustBe(background.pieceId, 'picture');
    return {
      ...{ name: name.trim(), straps, cards, logoId, sponsors: [...sponsors], sponsorsInCorner, stingId },
      palette: { ground: palette.ground, ink: palette.ink, accent: palette.accent },
      letters: { display: letters.display, text: letters.text },
      background: background && plainBackground(background),
    };
  }

  private changed(stationId: string): void {
    this.bus.tell({ kind: 'library', stationId });
  }
}

/** In one order, so that the same background is the same text. */
export function plainBackground(background: NonNullable<LookChoices['background']>): NonNullable<LookChoices['background']> {
  switch (background.kind) {
    case 'sky':
      return { kind: 'sky', mood: background.mood, seed: background.seed };
    case 'picture':
      return { kind: 'picture', pieceId: background.pieceId };
    case 'colour':
      return { kind: 'colour' };
  }
}

function viewOf({
  stationId: _stationId,
  ...look
}: LookChoices & { id: string; stationId: string; name: string; forStation: boolean; revision: number }): LookView {
  return { ...look, sponsors: [...look.sponsors] };
}
