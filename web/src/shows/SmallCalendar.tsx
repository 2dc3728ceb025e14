// Two or three months with the days of a series marked.
import { dateOfDay, dayNumber, WEEKDAYS, weekdayOfDate } from '@lantern/core';

const MONTHS = 3;

export function SmallCalendar({ dates }: { dates: readonly string[] }) {
  if (!dates.length) return null;
  const marked = new Set(dates);
  const first = dates[0]!;
  const months = Array.from({ length: MONTHS }, (_, index) => {
    const date = new Date(`${first.slice(0, 7)}-01T00:00:00Z`);
    date.setUTCMonth(date.getUTCMonth() + index);
    return date.toISOString().slice(0, 7);
  }).filter((month, index) => index === 0 || dates.some((date) => date.startsWith(month)));
  return (
    <div className="small-calendar" role="img" aria-label={`The dates on a calendar: ${dates.slice(0, 12).join(', ')}`}>
      {months.map((month) => (
        <div key={month}>
          <b>{new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' }).format(new Date(`${month}-01`))}</b>
          <div className="days">
            {WEEKDAYS.map((day) => (
              <i key={day}>{day[0]}</i>
            ))}
            {daysOf(month).map((date, index) => (
              <span
                key={date}
                className={marked.has(date) ? 'marked' : ''}
                style={index === 0 ? { gridColumn: WEEKDAYS.indexOf(weekdayOfDate(date)) + 1 } : {}}
              >
                {Number(date.slice(8))}
              </span>
            ))}
          </div>
        </div>
      ))}
    </div>
  );
}

function daysOf(month: string): string[] {
  const from = dayNumber(`${month}-01`)!;
  return Array.from({ length: 31 }, (_, index) => dateOfDay(from + index)).filter((date) => date.startsWith(month));
}
