/** @jest-environment ./jest.browser.cjs */
// A date and a time as a host types them.
import { act, fireEvent, screen } from '@testing-library/react';
import { useState } from 'react';
import { show } from '../test/page';
import { DateField } from './DateField';
import { TimeField } from './TimeField';

function Fields() {
  const [date, setDate] = useState('2026-12-17');
  const [time, setTime] = useState('20:30');
  return (
    <>
      <DateField id="date" label="Date" value={date} today="2026-11-26" order="day first" onChange={setDate} />
      <TimeField id="time" label="Time" value={time} onChange={setTime} />
      <button onClick={() => setDate('2027-01-02')}>Move it</button>
      <output>{`${date} ${time}`}</output>
    </>
  );
}
const kept = () => screen.getByRole('status').textContent!;
const date = () => kept().split(' ')[0];
const time = () => kept().split(' ')[1];
const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);
const type = (name: string, text: string) => act(() => void fireEvent.change(field(name), { target: { value: text } }));
const leave = (name: string) => act(() => void fireEvent.blur(field(name)));

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test('shows weekday and month by name, and understands what is typed when one leaves the field', () => {
  show(<Fields />);
  expect(field('Date').value).toBe('Thu 17 December 2026');
  type('Date', '3 jan');
  expect(date()).toBe('2026-12-17');
  leave('Date');
  expect([date(), field('Date').value]).toEqual(['2027-01-03', 'Sun 3 January 2027']);
  type('Time', '8.15 pm');
  leave('Time');
  expect([time(), field('Time').value]).toEqual(['20:15', '20:15']);
});

test('a pause is enough, and what is being typed is not put right under the hand', () => {
  show(<Fields />);
  type('Date', '18 dec');
  act(() => jest.advanceTimersByTime(1_000));
  expect([date(), field('Date').value]).toEqual(['2026-12-18', '18 dec']);
  leave('Date');
  expect(field('Date').value).toBe('Fri 18 December 2026');
});

test('what cannot be understood stays, is said, and changes nothing', () => {
  show(<Fields />);
  type('Date', 'the day of the fair');
  leave('Date');
  expect(screen.getByRole('alert').textContent).toContain('“the day of the fair” is no date that can be understood');
  expect([date(), field('Date').value]).toEqual(['2026-12-17', 'the day of the fair']);
  type('Date', '');
  leave('Date');
  expect(date()).toBe('');
});

test('a date that is set elsewhere is shown, and one that was typed last is not lost with the page', () => {
  const page = show(<Fields />);
  fireEvent.click(screen.getByRole('button', { name: 'Move it' }));
  expect(field('Date').value).toBe('Sat 2 January 2027');
  const before = kept();
  type('Time', 'noon');
  expect(kept()).toBe(before);
  const put = jest.fn();
  page.unmount();
  const other = show(<TimeField id="time" label="Time" value="20:30" onChange={put} />);
  type('Time', 'noon');
  act(() => void window.dispatchEvent(new Event('pagehide')));
  expect(put).toHaveBeenCalledWith('12:00');
  type('Time', '7 pm');
  other.unmount();
  expect(put).toHaveBeenCalledWith('19:00');
});

test('the calendar is opened beside the field, chosen from, and gives the focus back', async () => {
  jest.useRealTimers();
  show(<Fields />);
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Date on a calendar' })));
  const day = await screen.findByRole('button', { name: /Friday, 18 December 2026|Friday, December 18/ });
  await act(async () => void fireEvent.click(day));
  expect([date(), field('Date').value]).toEqual(['2026-12-18', 'Fri 18 December 2026']);
  expect(screen.queryByRole('dialog')).toBeNull();
  expect(document.activeElement!.getAttribute('aria-label')).toBe('Date on a calendar');
});
