// The zones to choose from, by the names that they go by today: engines list some by names of long ago.
const TODAY: Record<string, string> = {
  'Asia/Calcutta': 'Asia/Kolkata',
  'Asia/Katmandu': 'Asia/Kathmandu',
  'Asia/Rangoon': 'Asia/Yangon',
  'Asia/Saigon': 'Asia/Ho_Chi_Minh',
  'Atlantic/Faeroe': 'Atlantic/Faroe',
  'America/Buenos_Aires': 'America/Argentina/Buenos_Aires',
  'Europe/Kiev': 'Europe/Kyiv',
};
const ZONES = [...new Set([...Intl.supportedValuesOf('timeZone').map((zone) => TODAY[zone] ?? zone), 'UTC'])].sort();

/** Options of a select; a zone that is chosen already is among them, whatever it is called. */
export function ZoneOptions({ chosen }: { chosen: string | null | undefined }) {
  return (chosen && !ZONES.includes(chosen) ? [chosen, ...ZONES] : ZONES).map((zone) => (
    <option key={zone} value={zone}>
      {zone.replaceAll('_', ' ')}
    </option>
  ));
}
