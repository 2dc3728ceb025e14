// The page before one is inside: the evening fell with its lantern on one side, one question on the other.
import type { ReactNode } from 'react';
import './threshold.scss';
import { PageTitle } from '../app/PageTitle';

const STARS: [number, number, number][] = [
  [52, 60, 1.6],
  [120, 118, 1],
  [186, 44, 1.2],
  [250, 150, 0.9],
  [310, 70, 1.7],
  [366, 190, 1],
  [84, 210, 1.1],
  [214, 236, 1.3],
  [404, 46, 1.1],
  [338, 268, 0.9],
  [30, 292, 1.2],
  [156, 312, 0.9],
];

export function Threshold({ title, lead, children }: { title: string; lead: string; children: ReactNode }) {
  return (
    <div className="threshold">
      <svg className="fell" viewBox="0 0 440 720" preserveAspectRatio="xMidYMax slice" aria-hidden="true">
        <rect width="440" height="800" fill="#12343a" />
        {STARS.map(([x, y, r]) => (
          <circle key={`${x}-${y}`} cx={x} cy={y} r={r} fill="#e9efe6" />
        ))}
        <path d="M0 560Q90 470 190 530T440 470V800H0Z" fill="#0f2b30" />
        <path d="M250 512a58 58 0 0 1 116 0v10H250Z" fill="#1d4a4f" />
        <path d="M300 455 318 512M250 522H366" stroke="#0f2b30" strokeWidth="5" />
        <path d="M0 636Q130 606 260 650T440 600V800H0Z" fill="#0b2226" />
        <g transform="translate(0 -30)" stroke="#fbf7ee" strokeWidth="3" strokeLinejoin="round" fill="none">
          <path d="M112 598h40l9 62H103z" fill="#fbf7ee" fillOpacity=".1" />
          <path d="M116 588h32l4 10h-40zM132 570v18M101 660h62v11h-62z" />
          <path d="M132 614c8 10 8 19 0 25-8-6-8-15 0-25z" fill="#fbf7ee" />
        </g>
      </svg>
      <main>
        <p className="name">Noble Lantern</p>
        <PageTitle of={title} />
        <h1>{title}</h1>
        <p className="soft mb-4">{lead}</p>
        {children}
      </main>
    </div>
  );
}
