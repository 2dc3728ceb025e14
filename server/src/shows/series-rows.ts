// The rows of series and templates: what shows are made from.
import type { Repeat } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { DataSource, In, type Repository } from 'typeorm';
import { addRow, changeRow } from '../foundation/together';
import { Series, Template } from './show.entities';

@Injectable()
export class SeriesRows {
  constructor(private readonly database: DataSource) {}

  private get rows(): Repository<Series> {
    return this.database.getRepository(Series);
  }

  byId(id: string | null): Promise<Series | null> {
    return id === null ? Promise.resolve(null) : this.rows.findOneBy({ id });
  }

  some(ids: readonly string[]): Promise<Series[]> {
    return this.rows.findBy({ id: In([...ids]) });
  }

  atStation(stationId: string): Promise<Series[]> {
    return this.rows.findBy({ stationId });
  }

  add(series: Series): Promise<Series> {
    return addRow(this.database.manager, Series, series);
  }

  async change(id: string, columns: Partial<Series>): Promise<void> {
    await changeRow(this.database.manager, Series, { id }, columns);
  }

  /** Says anew which dates of its rule a series leaves out. */
  async redate(id: string | null, change: (dropped: readonly string[]) => string[]): Promise<void> {
    const series = await this.byId(id);
    if (!series) return;
    const repeat: Repeat = { ...series.repeat, dropped: change(series.repeat.dropped) };
    await this.change(series.id, { repeat });
  }

  /** Notes that a date is none of its series any more. */
  leaveOut(id: string | null, date: string): Promise<void> {
    return this.redate(id, (dropped) => [...new Set([...dropped, date])].sort());
  }
}

@Injectable()
export class TemplateRows {
  constructor(private readonly database: DataSource) {}

  private get rows(): Repository<Template> {
    return this.database.getRepository(Template);
  }

  one(stationId: string, id: string): Promise<Template | null> {
    return this.rows.findOneBy({ stationId, id });
  }

  atStation(stationId: string): Promise<Template[]> {
    return this.rows.find({ where: { stationId }, order: { name: 'ASC' } });
  }

  async add(template: Template): Promise<void> {
    await addRow(this.database.manager, Template, template);
  }

  async change(id: string, pictures: Partial<Pick<Template, 'picture' | 'waiting'>>): Promise<void> {
    await changeRow(this.database.manager, Template, { id }, pictures);
  }

  async remove(id: string): Promise<void> {
    await this.rows.delete({ id });
  }
}
