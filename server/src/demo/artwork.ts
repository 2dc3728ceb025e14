// Artwork of the demo station: skies, hills and a dome, drawn as SVG from a seed.

export interface Artwork {
  title: string;
  note: string;
  mood: 'dusk' | 'night' | 'day';
  seed: number;
}

const SIZE = { width: 1600, height: 900 };
const MOODS = {
  dusk: { sky: ['#0d2229', '#1c4a52', '#7a7f6c'], hills: ['#15383e', '#0a2227'], ink: '#fbf8f0', stars: 70 },
  night: { sky: ['#05090f', '#0b1a26', '#12303a'], hills: ['#0a1c22', '#050d10'], ink: '#eef2ea', stars: 220 },
  day: { sky: ['#bfe0dc', '#dff0e4', '#fbf3d8'], hills: ['#7fae97', '#3f7a63'], ink: '#12343a', stars: 0 },
};

/** A number in [0, 1) that is the same for the same seed and place (mulberry32). */
function dice(seed: number): () => number {
  let state = seed * 2654435761;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

export function drawArtwork({ title, note, mood, seed }: Artwork): string {
  const { sky, hills, ink, stars } = MOODS[mood];
  const roll = dice(seed);
  const { width, height } = SIZE;
  const dots = Array.from({ length: stars }, () => {
    const [x, y, r] = [roll() * width, roll() * height * 0.62, 0.8 + roll() * 2.2];
    return `<circle cx="${x.toFixed(1)}" cy="${y.toFixed(1)}" r="${r.toFixed(1)}" fill="#fff" opacity="${(0.35 + roll() * 0.6).toFixed(2)}"/>`;
  });
  const hill = (colour: string, base: number, rise: number) => {
    const points = Array.from({ length: 8 }, (_, at) => `${((at + 1) * width) / 9},${(base - rise * roll()).toFixed(0)}`);
    return `<path d="M0,${height} L0,${base} C${points.join(' ')} ${width},${base} L${width},${base} L${width},${height} Z" fill="${colour}"/>`;
  };
  const text = (words: string) => words.replace(/[&<>]/g, (character) => `&#${character.charCodeAt(0)};`);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
<defs><linearGradient id="sky" x2="0" y2="1">${sky.map((colour, at) => `<stop offset="${at / 2}" stop-color="${colour}"/>`).join('')}</linearGradient></defs>
<rect width="${width}" height="${height}" fill="url(#sky)"/>${dots.join('')}
${mood === 'day' ? '<circle cx="1290" cy="190" r="86" fill="#fff7d6"/>' : '<path d="M1330 120a90 90 0 1 0 60 158a74 74 0 1 1-60-158z" fill="#f3ecd2"/>'}
${hill(hills[0]!, 690, 120)}
<path d="M1060 668a130 130 0 0 1 260 0v42h-260z" fill="${mood === 'day' ? '#fdfaf0' : '#2b5a60'}"/><path d="M1176 540l38 130" stroke="${hills[1]}" stroke-width="14"/>
${hill(hills[1]!, 790, 70)}
<text x="110" y="360" font-family="DejaVu Sans, sans-serif" font-weight="bold" font-size="${title.length > 13 ? 92 : 116}" fill="${ink}">${text(title)}</text>
<text x="114" y="446" font-family="DejaVu Sans, sans-serif" font-size="50" fill="${ink}">${text(note)}</text>
<text x="114" y="120" font-family="DejaVu Sans, sans-serif" font-size="36" fill="${ink}">Alderfell Sky Club</text></svg>`;
}
