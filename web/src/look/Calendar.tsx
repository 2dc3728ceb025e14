// A month to choose a day from, by touch or by keyboard. Fetched when somebody opens one.
import { DayPicker } from 'react-day-picker';
import { enGB } from 'react-day-picker/locale';

interface Props {
  /** YYYY-MM-DD. */
  date: string;
  today: string;
  onChoose: (date: string) => void;
}

// The calendar reckons with the browser's own midnights; only year, month and day of them are looked at.
const dayOf = (date: string) => new Date(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8)), 12);
const dateOf = (day: Date) => `${day.getFullYear()}-${String(day.getMonth() + 1).padStart(2, '0')}-${String(day.getDate()).padStart(2, '0')}`;

export function Calendar({ date, today, onChoose }: Props) {
  return (
    <DayPicker
      mode="single"
      required
      autoFocus
      locale={enGB}
      weekStartsOn={1}
      today={dayOf(today)}
      selected={dayOf(date)}
      defaultMonth={dayOf(date)}
      onSelect={(day) => onChoose(dateOf(day))}
      showOutsideDays
    />
  );
}
