// What a visitor's browser keeps so that nobody needs an account: a name to write under, and a key that tells this browser from others.
import { randomName } from '../app/random-name';
import { useState } from 'react';

const NAME = 'lantern-visitor-name';
const KEY = 'lantern-visitor-key';

/** Made here, and told to the server alone. */
export const newKey = (): string => randomName(24);

function kept(name: string): string {
  try {
    return localStorage.getItem(name) ?? '';
  } catch {
    return '';
  }
}

function keep(name: string, value: string): void {
  try {
    localStorage.setItem(name, value);
  } catch {
    // A browser that keeps nothing knows it for as long as the page is open.
  }
}

let key = '';

/** The same on all house pages of this browser. */
export function browserKey(): string {
  if (!key) key = /^[0-9a-f]{48}$/.test(kept(KEY)) ? kept(KEY) : newKey();
  keep(KEY, key);
  return key;
}

export function useVisitorName(): [name: string, set: (name: string) => void] {
  const [name, setName] = useState(() => kept(NAME).slice(0, 60));
  return [
    name,
    (typed) => {
      setName(typed);
      keep(NAME, typed.trim());
    },
  ];
}
