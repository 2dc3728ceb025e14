/** @jest-environment ./jest.browser.cjs */
import { GLOSSARY } from '@lantern/core';
import { fireEvent, screen } from '@testing-library/react';
import { show } from '../test/page';
import { Explained } from './Explained';

test('a word says what it means at a touch, on the spot, and is left by Escape', () => {
  show(<Explained word="line">on the line</Explained>);
  const ask = screen.getByRole('button', { name: 'What is meant by: line' });
  expect(screen.queryByRole('note')).toBeNull();
  fireEvent.click(ask);
  expect(screen.getByRole('note').textContent).toBe(GLOSSARY.line);
  expect(ask.getAttribute('aria-controls')).toBe(screen.getByRole('note').id);
  fireEvent.keyDown(ask, { key: 'Escape' });
  expect(screen.queryByRole('note')).toBeNull();
});
