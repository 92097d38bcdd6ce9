import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { openPage } from '../../../tests/component-page.tsx';
import { Term } from './term.tsx';
import { TRADE_WORDS } from './trade-words.ts';
import { WordsPage } from './words-page.tsx';

describe('words with their meaning', () => {
  it('open where they stand by keys alone, and close with Esc', async () => {
    const { user } = openPage(<Term of="alkali">alkali</Term>, {});
    await user.tab();
    await user.keyboard('{Enter}');
    expect(await screen.findByText(/millionths of an equivalent/)).toBeVisible();
    expect(screen.getByRole('link', { name: 'All words' })).toHaveAttribute('href', '/words');
    await user.keyboard('{Escape}');
    expect(screen.queryByText(/millionths of an equivalent/)).not.toBeInTheDocument();
  });
  it('stand together on their page, each with a sentence', () => {
    openPage(<WordsPage />, {});
    for (const { word, means } of Object.values(TRADE_WORDS)) {
      expect(screen.getByText(word)).toBeInTheDocument();
      expect(means).toMatch(/\.$/);
    }
  });
});
