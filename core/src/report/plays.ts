// Plays of a recording day by day, from what a network had counted in all at the end of each day on which it was asked.

/** `day`: whole days since the end of the show; `since`: how often its recording was played until then, null where that is not told. */
export interface PlaysUntil {
  day: number;
  since: number | null;
}

/**
 * How many came on each day, from the day of the end on; what came while nobody asked stands on the day on which it was told. `days` in order. A
 * network that counts anew and comes to less takes from no other day: the sum is the highest that was told.
 */
export function playsByDay(days: readonly PlaysUntil[]): number[] {
  const by: number[] = [];
  let all = 0;
  for (const { day, since } of days) {
    while (by.length <= day) by.push(0);
    if (since === null || since <= all) continue;
    by[day]! += since - all;
    all = since;
  }
  return by;
}
