import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { PotDrawing } from '../../contract/common.ts';
import { potWords, PotSection, ShelfPicture, type ShelfPot } from './index.ts';
import { PhGauge } from './ph-gauge.tsx';
import { reservoirTint } from './tint.ts';

const base: PotDrawing = {
  level: 0.6,
  levelIsGuess: false,
  ratio: 1,
  ph: 6,
  phLow: 5.5,
  phHigh: 6.5,
  salts: 0,
  stage: 'growth',
  form: 'clay',
};

describe('the pot section', () => {
  it('says in words what it draws', () => {
    render(
      <PotSection
        drawing={{ ...base, level: 0.1, ratio: 2.1, ph: 7.2, salts: 3, stage: 'spike' }}
        seed="R-07"
        name="R-07 Coelogyne"
      />,
    );
    const picture = screen.getByRole('img', {
      name: /R-07 Coelogyne: in spike, reservoir 10 % full, strong, 2.1 times its aim, pH about 7.2, above 5.5 to 6.5, a ring of crust/,
    });
    expect(picture).toBeInTheDocument();
  });
  it('draws no pointer and says so where nothing was read', () => {
    const { container } = render(
      <PotSection drawing={{ ...base, ratio: undefined, ph: undefined, levelIsGuess: true }} seed="x" />,
    );
    expect(screen.getByRole('img').getAttribute('aria-label')).toMatch(
      /perhaps 60 % full, strength not known, pH not known/,
    );
    expect(container.querySelectorAll('path[fill="#8c2f39"], path[fill="#1e2b2c"]')).toHaveLength(0);
  });
  it.each([40, 72, 240])('keeps its proportions at %d px', (size) => {
    render(<PotSection drawing={base} seed="x" size={size} />);
    const picture = screen.getByRole('img');
    expect(Number(picture.getAttribute('height'))).toBeCloseTo((size * 104) / 72, 6);
  });
  it('raises the water with the level and the colour with the strength', () => {
    const surface = (level: number) =>
      Number(
        render(<PotSection drawing={{ ...base, level }} seed="x" />)
          .container.querySelector('g[clip-path] > rect + g + rect')
          ?.getAttribute('y'),
      );
    expect(surface(0.9)).toBeLessThan(surface(0.2));
    expect(reservoirTint(1)).toBe('rgb(63 141 147)');
    expect(reservoirTint(9)).toBe('rgb(122 59 82)');
    expect(reservoirTint(0)).toBe('rgb(220 236 234)');
    expect(reservoirTint(undefined)).not.toMatch(/rgb/);
  });
  it('has words for water only, baskets and an empty reservoir', () => {
    expect(potWords({ ...base, form: 'water', level: 0 })).toMatch(/reservoir empty.*in water only/);
    expect(potWords({ ...base, form: 'basket', level: 1, ratio: 0.4, ph: 5 })).toMatch(
      /full, weak, 0.4 times its aim, pH about 5.0, below/,
    );
  });
});

describe('the pH gauge', () => {
  it('names its reading and its stretch', () => {
    const { rerender } = render(<PhGauge low={5.5} high={6.5} label="pH of the batch" />);
    expect(
      screen.getByRole('img', { name: 'pH of the batch: not read yet, comfortable 5.5 to 6.5' }),
    ).toBeInTheDocument();
    rerender(<PhGauge low={5.5} high={6.5} ph={7.25} label="pH of the batch" />);
    expect(screen.getByRole('img', { name: /7\.3|7\.2/ })).toBeInTheDocument();
  });
});

describe('the shelf picture', () => {
  const pot = (code: string, tone: ShelfPot['tone']): ShelfPot => ({
    id: code,
    code,
    name: 'Hoya',
    drawing: base,
    tag: 'due',
    tone,
  });
  it('is walked with the arrow keys and chosen with Enter', async () => {
    const choose = vi.fn();
    render(
      <ShelfPicture
        places={[
          {
            id: 'p',
            name: 'East sill',
            note: 'bright',
            pots: [pot('R-01', 'due'), pot('R-02', 'late'), pot('R-03', 'quiet')],
          },
        ]}
        selectedId="R-01"
        onSelect={choose}
      />,
    );
    const user = userEvent.setup();
    screen.getByRole('button', { name: /R-01/, pressed: true }).focus();
    await user.keyboard('{ArrowRight}');
    expect(screen.getByRole('button', { name: /R-02 Hoya, due;/ })).toHaveFocus();
    await user.keyboard('{Enter}');
    expect(choose).toHaveBeenCalledWith('R-02');
  });
});
