import { screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import { openPage } from '../../../tests/component-page.tsx';
import { TablesPage } from './tables-page.tsx';

it('a table is saved as its figures are wanted; a decimal comma parts the columns by another mark', async () => {
  const { user } = openPage(<TablesPage />, {});
  const address = () => screen.getAllByRole('link', { name: 'Save the table' })[0]!.getAttribute('href');
  expect(address()).toBe('/api/book/tables/fillings.csv?mark=point&separator=comma');
  await user.selectOptions(screen.getByLabelText('Decimal mark'), 'comma');
  expect(screen.getByLabelText('Between columns')).toHaveValue('semicolon');
  await user.selectOptions(screen.getByLabelText('Strength on the scale'), '0.64');
  expect(address()).toBe('/api/book/tables/fillings.csv?mark=comma&separator=semicolon&scale=0.64');
  await user.selectOptions(screen.getByLabelText('Between columns'), 'tab');
  expect(address()).toMatch(/separator=tab/);
});
