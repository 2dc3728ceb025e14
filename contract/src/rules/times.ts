// When something may be: zones, dates and starts that can be planned.
import { EARLIEST_DATE, LATEST_DATE, dayNumber, isZoneName } from '@lantern/core';
import { registerDecorator } from 'class-validator';

export function IsZoneName() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isZoneName',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) => typeof value === 'string' && isZoneName(value),
        defaultMessage: () => 'Choose a zone from the list, such as Europe/Dublin.',
      },
    });
}

/** A day within the years in which shows are planned: all else is a slip of the keys. */
export function IsPlannableDate() {
  return (target: object, propertyName: string) =>
    registerDecorator({
      name: 'isPlannableDate',
      target: target.constructor,
      propertyName,
      validator: {
        validate: (value: unknown) => typeof value === 'string' && dayNumber(value) !== null && value >= EARLIEST_DATE && value <= LATEST_DATE,
        defaultMessage: () => `Choose a date between ${EARLIEST_DATE.slice(0, 4)} and ${LATEST_DATE.slice(0, 4)}.`,
      },
    });
}

/** The instants within those years, in ms since the epoch. */
export const EARLIEST_START = Date.parse(`${EARLIEST_DATE}T00:00:00Z`);
export const LATEST_START = Date.parse(`${LATEST_DATE}T00:00:00Z`);
