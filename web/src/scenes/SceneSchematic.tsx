// A scene as a few outlines: how many are seen, and how large. Drawn from the same places as the programme.
import { besideColumn, isPersonSeat, placesFor, PROGRAMME, type Scene, type Seat } from '@lantern/core';

/** How many people a schematic shows of those who may be there. */
const MOST_PEOPLE = 4;

interface Props {
  scene: Pick<Scene, 'layout' | 'seats' | 'messages'>;
  /** Which seats are filled at this moment: the others are drawn faintly. */
  filled?: (seat: Seat) => boolean;
}

export function SceneSchematic({ scene, filled }: Props) {
  const seats = seatsDrawn(scene);
  const all = placesFor(
    scene.layout,
    seats.map((seat) => ({ shape: 16 / 9, whole: !isPersonSeat(seat) })),
  );
  const places = scene.messages ? all.map(besideColumn) : all;
  return (
    <svg className="schematic" viewBox={`-20 -20 ${PROGRAMME.width + 40} ${PROGRAMME.height + 40}`} aria-hidden="true">
      <rect className="edge" {...{ width: PROGRAMME.width, height: PROGRAMME.height }} />
      {scene.layout === 'card' && <path className="words" d="M120 260h520M120 380h340M120 540h240" />}
      {scene.messages && <path className="words" d="M990 240h230M990 300h160M990 430h230M990 490h200" />}
      {places.map(({ x, y, width, height }, at) => (
        <g key={seats[at]} className={`${isPersonSeat(seats[at]!) ? 'person' : 'thing'}${filled && !filled(seats[at]!) ? ' vacant' : ''}`}>
          <rect {...{ x, y, width, height }} />
          {isPersonSeat(seats[at]!) ? (
            <path d={figure(x + width / 2, y + height, Math.min(width, height))} />
          ) : (
            <path className="page" d={`M${x + width * 0.2} ${y + height * 0.35}h${width * 0.6}M${x + width * 0.2} ${y + height * 0.6}h${width * 0.4}`} />
          )}
        </g>
      ))}
    </svg>
  );
}

function seatsDrawn({ seats }: Pick<Scene, 'seats'>): Seat[] {
  let people = 0;
  return seats.map(({ seat }) => seat).filter((seat) => !isPersonSeat(seat) || ++people <= MOST_PEOPLE);
}

/** Head and shoulders standing on `foot`. */
function figure(x: number, foot: number, size: number): string {
  const head = size * 0.15;
  const neck = foot - size * 0.34;
  return `M${x - head} ${neck - head}a${head} ${head} 0 1 0 ${2 * head} 0a${head} ${head} 0 1 0 ${-2 * head} 0M${x - size * 0.32} ${foot}c0 ${-size * 0.3} ${size * 0.64} ${-size * 0.3} ${size * 0.64} 0z`;
}
