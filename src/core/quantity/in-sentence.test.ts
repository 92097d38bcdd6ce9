import { expect, it } from 'vitest';
import { inSentence } from './index.ts';

it('a name keeps what is its own inside a sentence', () => {
  expect(inSentence('Kitchen tap')).toBe('kitchen tap');
  expect(inSentence('RO water')).toBe('RO water');
  expect(inSentence('rain butt')).toBe('rain butt');
  expect(inSentence('5 L can')).toBe('5 L can');
  expect(inSentence('A')).toBe('a');
  expect(inSentence('')).toBe('');
});
