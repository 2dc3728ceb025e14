// What earlier dates of a series have taught, on the sheet of a date to come.
import { instant, sayWhen } from '@lantern/core';
import { Link } from 'react-router';
import { useLessons } from './lessons';

export function LessonsBefore({ showId }: { showId: string }) {
  const before = useLessons(showId).data?.before ?? [];
  if (!before.length) return null;
  const count = before.reduce((sum, { lessons }) => sum + lessons.length, 0);
  return (
    <details className="small-words mb-3">
      <summary>From earlier dates: {count === 1 ? '1 note' : `${count} notes`}</summary>
      {before.map(({ showId: id, startsAt, zone, lessons }) => (
        <div key={id} className="mt-2">
          <Link to={`/shows/${id}/report`}>{sayWhen(instant(startsAt), zone)}</Link>
          <ul className="mb-0">
            {lessons.map(({ cue, words }, at) => (
              <li key={`${at} ${words}`}>
                {cue && <b>{cue}: </b>}
                {words}
              </li>
            ))}
          </ul>
        </div>
      ))}
    </details>
  );
}
