import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { BatchView } from '../../contract/bench.ts';
import { ActsProvider } from '../shell/acts.tsx';
import { ProblemError } from '../shell/api.ts';
import { addAdvice, calmagPart, feedPart, nitric, view } from './bench-fixtures.ts';
import { OtherDose } from './other-dose.tsx';
import { PhNow } from './ph-now.tsx';
import { PortionChart } from './portion-chart.tsx';
import { PortionTable } from './portion-table.tsx';
import { StrengthNow } from './strength-now.tsx';

const nothing = () => undefined;
function show(node: ReactNode) {
  return render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <ActsProvider>{node}</ActsProvider>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}
afterEach(() => vi.restoreAllMocks());

describe('the now card on the way to strength', () => {
  it('says one act, and keeps the typed reading with the portion on Enter', async () => {
    const send = vi.fn(async () => 'done' as const);
    show(<StrengthNow view={view} send={send} dipNow={false} onUndo={nothing} onGoOn={nothing} />);
    expect(screen.getByText(/Add 9.drops/)).toBeInTheDocument();
    const field = screen.getByLabelText('pen reads, ppm');
    expect(field).toHaveAttribute('placeholder', 'expect 69');
    expect(field).toHaveValue('');
    await userEvent.type(field, '71{Enter}');
    expect(send).toHaveBeenCalledWith(
      {
        kind: 'portion',
        part: 0,
        dose: { toolId: 't', steps: 9, doseMl: 0.5, relativeSd: 0.05 },
        reading: { kind: 'value', value: 71 },
        confirmedOdd: false,
        byRecipe: false,
      },
      expect.any(String),
    );
  });
  it('answers text at the field and sends nothing', async () => {
    const send = vi.fn(async () => 'done' as const);
    show(<StrengthNow view={view} send={send} dipNow={false} onUndo={nothing} onGoOn={nothing} />);
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), 'murky{Enter}');
    expect(await screen.findByRole('alert')).toHaveTextContent('such as 104');
    expect(send).not.toHaveBeenCalled();
  });
  it('questions an odd figure once, and keeps it when it is kept again', async () => {
    const odd = new ProblemError({
      type: '',
      title: '',
      status: 422,
      code: 'reading-odd',
      detail: 'far above what was expected',
    });
    const send = vi.fn().mockRejectedValueOnce(odd).mockResolvedValue('done');
    show(<StrengthNow view={view} send={send} dipNow={false} onUndo={nothing} onGoOn={nothing} />);
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), '300{Enter}');
    expect(await screen.findByRole('alert')).toHaveTextContent('far above');
    expect(screen.getByText(/Is it a new bottle/)).toBeInTheDocument();
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), '{Enter}');
    await waitFor(() =>
      expect(send).toHaveBeenLastCalledWith(expect.objectContaining({ confirmedOdd: true }), expect.any(String)),
    );
  });
  it('says what to thin with, and pours off first when the vessel is full', () => {
    show(
      <StrengthNow
        view={{
          ...view,
          advice: {
            kind: 'thin',
            part: 0,
            pastHard: true,
            edge: { plan: 'pourOffAndReplace', addL: 1.2, pourOffL: 0.8, expectedPpm: 118 },
            aim: { plan: 'pourOffAndReplace', addL: 1.6, pourOffL: 1.2, expectedPpm: 99 },
            vesselName: 'Jug',
            topPpm: 117,
            hardPpm: 135,
          },
        }}
        send={vi.fn()}
        dipNow={false}
        onUndo={nothing}
        onGoOn={nothing}
      />,
    );
    expect(screen.getByText(/Pour off 0.8.L/)).toBeInTheDocument();
    expect(screen.getByLabelText('What is poured off goes to')).toHaveValue('tolerant garden plants, thinned');
  });
  it('a batch over its band but within its limit may stay: that is said first, then the least water, then the aim', async () => {
    const send = vi.fn(async () => 'done' as const);
    const advice = {
      kind: 'thin',
      part: 0,
      pastHard: false,
      edge: { plan: 'add', addL: 0.5, pourOffL: 0, expectedPpm: 117 },
      aim: { plan: 'pourOffAndReplace', addL: 2.8, pourOffL: 0.75, expectedPpm: 99 },
      vesselName: 'RO bucket',
      topPpm: 129,
      hardPpm: 149,
    } as const;
    show(<StrengthNow view={{ ...view, advice }} send={send} dipNow={false} onUndo={nothing} onGoOn={nothing} />);
    expect(screen.getByText(/Comfortable ends at 129, the limit is 149/)).toBeInTheDocument();
    expect(screen.queryByText(/Pour off/)).not.toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /0\.5.L of water: back inside/ }));
    expect(screen.getByText(/The RO bucket holds it/)).toBeInTheDocument();
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), '118{Enter}');
    expect(send).toHaveBeenLastCalledWith(
      expect.objectContaining({ kind: 'thin', addL: 0.5, pourOffL: 0 }),
      expect.any(String),
    );
    await userEvent.click(screen.getByRole('button', { name: 'Leave it as it is' }));
    await userEvent.click(screen.getByRole('button', { name: 'Leave it' }));
    expect(send).toHaveBeenLastCalledWith({ kind: 'leave', part: 0, why: 'enough' }, expect.any(String));
  });
  it('a fifth past what the recipe usually comes to, the causes come before any water', async () => {
    const advice = {
      kind: 'thin',
      part: 0,
      pastHard: true,
      edge: { plan: 'add', addL: 0.5, pourOffL: 0, expectedPpm: 117 },
      aim: { plan: 'add', addL: 1.5, pourOffL: 0, expectedPpm: 99 },
      vesselName: 'Jug',
      topPpm: 117,
      hardPpm: 135,
    } as const;
    show(
      <StrengthNow
        view={{ ...view, advice, usualNetPpm: 92 }}
        send={vi.fn()}
        dipNow={false}
        onUndo={nothing}
        onGoOn={nothing}
      />,
    );
    expect(screen.getByRole('list', { name: 'Look at these, in order' })).toBeInTheDocument();
    expect(screen.queryByText(/^Add/)).not.toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /All in order/ }));
    expect(screen.getByText(/It should then read about 117/)).toBeInTheDocument();
  });
  it('other amounts of water are taken as they were, and no figure is made up while none is typed', async () => {
    const send = vi.fn(async () => 'done' as const);
    const advice = {
      kind: 'thin',
      part: 0,
      pastHard: true,
      edge: { plan: 'add', addL: 0.4, pourOffL: 0, expectedPpm: 118 },
      aim: { plan: 'add', addL: 1.2, pourOffL: 0, expectedPpm: 99 },
      vesselName: 'Jug',
      topPpm: 117,
      hardPpm: 135,
    } as const;
    show(<StrengthNow view={{ ...view, advice }} send={send} dipNow={false} onUndo={nothing} onGoOn={nothing} />);
    await userEvent.click(screen.getByRole('button', { name: 'I poured other amounts' }));
    expect(screen.getByRole('region', { name: 'Now' })).not.toHaveTextContent('NaN');
    expect(screen.queryByLabelText('pen reads, ppm')).not.toBeInTheDocument();
    await userEvent.type(screen.getByLabelText('I poured off'), '0.5');
    await userEvent.type(screen.getByLabelText('and added, L'), '1,5');
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), '104{Enter}');
    expect(send).toHaveBeenCalledWith(
      expect.objectContaining({ kind: 'thin', addL: 1.5, pourOffL: 0.5, to: 'tolerant garden plants, thinned' }),
      expect.any(String),
    );
  });
  it('an uncounted dropper says so and takes the count', () => {
    show(
      <StrengthNow
        view={{ ...view, advice: { ...addAdvice, dropSizeIsGuess: true, dropsPerMl: null } }}
        send={vi.fn()}
        dipNow={false}
        onUndo={nothing}
        onGoOn={nothing}
      />,
    );
    expect(screen.getByLabelText(/Nobody has counted the glass dropper/)).toBeInTheDocument();
  });
});

describe('something else went in', () => {
  it('is counted in drops or mL of the tool that was used', async () => {
    const change = vi.fn();
    render(<OtherDose view={view} dose={undefined} onChange={change} />);
    await userEvent.click(screen.getByRole('button', { name: 'I put in something else' }));
    await userEvent.type(screen.getByLabelText('I put in'), '12');
    expect(change).toHaveBeenLastCalledWith(expect.objectContaining({ toolId: 't', steps: 12 }));
    await userEvent.selectOptions(screen.getByLabelText('with'), 's');
    expect(change).toHaveBeenLastCalledWith(expect.objectContaining({ toolId: 's', doseMl: 12 }));
  });
});

describe('several parts, solids, recipes, a dead pen', () => {
  const sending = () => vi.fn(async () => 'done' as const);
  const now = (v: BatchView, send = sending()) => {
    show(<StrengthNow view={v} send={send} dipNow={false} onUndo={nothing} onGoOn={nothing} />);
    return send;
  };
  const card = () => screen.getByRole('region', { name: 'Now' });

  it('says whose turn it is, and lets a part be left as it stands', async () => {
    const second = {
      ...view,
      at: 1,
      parts: [
        { ...calmagPart, state: 'inside' as const, netPpm: 52 },
        { ...feedPart, portions: 1, netPpm: 60 },
      ],
    };
    const send = now({ ...second, advice: { ...addAdvice, part: 1, portion: 2 } });
    expect(card()).toHaveTextContent(/2 of 2 · Portion 2 of about 2/);
    await userEvent.click(screen.getByRole('button', { name: 'Leave it here' }));
    expect(send).toHaveBeenCalledWith({ kind: 'leave', part: 1, why: 'enough' }, 'feed left at 60 over');
  });
  it('a stock says how it is made before its first portion, and offers its clock', () => {
    const epsom = {
      ...feedPart,
      short: 'Epsom',
      method: 'stock' as const,
      mlPerUnit: 20,
      stock: { grams: 5, waterMl: 100 },
      unit: 'g' as const,
    };
    now({ ...view, parts: [epsom], advice: { ...addAdvice, toolKind: 'syringe', toolId: 's', doseMl: 8, steps: 40 } });
    expect(card()).toHaveTextContent(/5 g of Epsom in 100 mL of hot water, in something heat-proof/);
    expect(card()).toHaveTextContent(/of the Epsom stock/);
    expect(screen.getByRole('button', { name: /Clock: dissolve/ })).toBeInTheDocument();
  });
  it('a stock made earlier is named by its day, and nothing has to dissolve', () => {
    const epsom = { ...feedPart, short: 'Epsom', method: 'stock' as const, mlPerUnit: 20, unit: 'g' as const };
    now({ ...view, parts: [{ ...epsom, stock: { grams: 20, waterMl: 100, madeOn: '2026-11-22', leftMl: 62 } }] });
    expect(card()).toHaveTextContent(/From the stock made 22 Nov: 20 g of Epsom in 100 mL, some 62 mL left/);
    expect(screen.queryByRole('button', { name: /Clock: dissolve/ })).not.toBeInTheDocument();
  });
  it('granules are counted, and another count too', async () => {
    const counted = { ...feedPart, short: 'Epsom', method: 'granules' as const, unit: 'g' as const };
    const send = now({
      ...view,
      parts: [counted],
      advice: { ...addAdvice, toolKind: 'granules', toolId: null, steps: 6, doseMl: 0.15, relativeSd: 0.25 },
    });
    expect(card()).toHaveTextContent(/Add 6.granules/);
    await userEvent.click(screen.getByRole('button', { name: 'I put in something else' }));
    await userEvent.type(screen.getByLabelText('I put in'), '8');
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), '71{Enter}');
    expect(send).toHaveBeenCalledWith(
      expect.objectContaining({ dose: { toolId: null, steps: 8, doseMl: 0.2, relativeSd: 0.25 } }),
      expect.stringMatching(/8.granules of Epsom/),
    );
  });
  it('by recipe it is in with one press; by measure it may stay unmeasured', async () => {
    const send = now({ ...view, byRecipe: true, advice: { ...addAdvice, way: 'recipe' } });
    await userEvent.click(screen.getByRole('button', { name: 'It is in, by recipe' }));
    expect(send).toHaveBeenCalledWith(expect.objectContaining({ byRecipe: true, reading: null }), expect.any(String));
  });
  it('what is measured out may stay unread', async () => {
    const send = now({ ...view, advice: { ...addAdvice, way: 'measure', hardPpm: null } });
    await userEvent.click(screen.getByRole('button', { name: 'It is in, not measured' }));
    expect(send).toHaveBeenCalledWith(
      expect.objectContaining({ reading: { kind: 'notMeasured' } }),
      expect.any(String),
    );
  });
  it('a dead pen: not measured is a value, of the water and of a portion', async () => {
    const send = now({ ...view, advice: { kind: 'readBase' } });
    await userEvent.click(screen.getByRole('button', { name: /take it as 9, as it last read/ }));
    expect(send).toHaveBeenCalledWith({ kind: 'base', reading: { kind: 'notMeasured' } }, expect.any(String));
  });
  it('goes on from a portion nobody can read', async () => {
    const send = now({ ...view, advice: { kind: 'readAgain', part: 0, expected: addAdvice.expected } });
    await userEvent.click(screen.getByRole('button', { name: /The pen is dead/ }));
    expect(send).toHaveBeenCalledWith({ kind: 'leave', part: 0, why: 'unread' }, 'Not measured');
  });
});

describe('pH', () => {
  const above = (corrections: number, choice = nitric): BatchView => ({
    ...view,
    stage: 'ph',
    ph: { ...view.ph, latest: 7.1, corrections, choices: corrections < 3 ? [choice] : [] },
  });
  const dosed = {
    ...nitric,
    wholeMl: 1,
    brings: '12 mg/L nitrogen',
    lasts: 'stays',
    why: null,
    dose: {
      ml: 0.3,
      ratio: 20,
      asBefore: false,
      doseMl: 6,
      steps: 30,
      toolId: 's',
      toolName: '5 mL syringe',
      toolKind: 'syringe' as const,
      dropsPerMl: null,
      dropSizeIsGuess: false,
      relativeSd: 0.05,
      expected: { ph: 6.1, low: 5.7, high: 6.5 },
      inWindow: 0.93,
      ppm: 104,
      tomorrowPh: 6.6,
      coarse: false,
    },
  };
  const showPh = (v: BatchView, send = vi.fn(async () => 'done' as const)) => {
    show(<PhNow view={v} send={send} dipNow={false} onUndo={nothing} onThrowOut={nothing} onPour={nothing} />);
    return send;
  };
  const card = () => screen.getByRole('region', { name: 'Now' });

  it('shows the caution with the acid, and without a label why it cannot say how much', () => {
    showPh(above(0));
    expect(screen.getByText('Eye protection and gloves.')).toBeInTheDocument();
    expect(card()).toHaveTextContent(/Add 1.drop/);
    expect(card()).toHaveTextContent(/copy its label on the Shelf.*start with one/);
  });
  const expected: BatchView['expected'] = {
    known: true,
    before: { ph: 7.4, lowPh: 7.1, highPh: 7.7, ppm: 304, tomorrowPh: 8.1 },
    now: { ph: 7.1, ppm: 304, tomorrowPh: 8.1, inAQuarterPh: 7.2 },
    waterFrom: 'kit',
    clouding: null,
    inside: { elements: [{ element: 'nitrogen', symbol: 'N', mgL: 19.4 }], alkalinityMeqL: 2.8, dKh: 7.9 },
  };
  it('says beforehand what the pH should be, between what and what, and where it goes by tomorrow', () => {
    showPh({ ...above(0), expected, ph: { ...view.ph, latest: null } });
    expect(card()).toHaveTextContent(/Expected pH 7\.4, between 7\.1 and 7\.7; standing open till tomorrow 8\.1/);
    expect(screen.getByLabelText('pH pen reads')).toHaveAttribute('placeholder', 'expect 7.4');
    expect(screen.getByLabelText('pH pen reads')).toHaveValue('');
  });
  it('says of a pen found off that its reading is no more than a hint', () => {
    showPh({
      ...above(0),
      ph: { ...view.ph, latest: null },
      phMeter: { id: 'n', name: 'Yellow pen', kind: 'pen', simulated: false, off: 'reads about 0.2 low since 4 Nov' },
    });
    expect(card()).toHaveTextContent(/Yellow pen reads about 0\.2 low since 4 Nov/);
  });
  it('has the acid thinned where a drop would jump too far, says what it should read, what it brings and how long it lasts', async () => {
    const send = showPh({ ...above(0, dosed), expected });
    expect(card()).toHaveTextContent(/1 part into 19 of still water \(acid into water, never the reverse\)/);
    expect(card()).toHaveTextContent(
      /should read 5\.7 to 6\.5, inside 93 times in 100.*6\.6 by tomorrow.*12 mg\/L nitrogen; it stays/,
    );
    await userEvent.type(screen.getByLabelText('pH pen reads'), '6.0{Enter}');
    expect(send).toHaveBeenCalledWith(
      {
        kind: 'correction',
        productId: 'a',
        dose: { toolId: 's', steps: 30, doseMl: 6, relativeSd: 0.05 },
        ratio: 20,
        reading: { kind: 'value', value: 6 },
        confirmedOdd: false,
      },
      expect.any(String),
    );
  });
  it('with a pen known to be off it says what that pen will show, and counts the figure put right', () => {
    const off = { ...above(1, dosed), expected };
    showPh({ ...off, ph: { ...off.ph, latest: 7.2, penOffBy: -0.3 } });
    expect(card()).toHaveTextContent(/pH 7\.2 \(6\.9 on this pen\) is above/);
    expect(card()).toHaveTextContent(/should read 5\.4 to 6\.2 on this pen/);
  });
  it('a careful first dose says that it stops short on purpose', () => {
    showPh({ ...above(0, { ...dosed, dose: { ...dosed.dose, inWindow: 0.02 } }), expected });
    expect(card()).toHaveTextContent(/Short of it on purpose.*more will be needed/);
  });
  it('a pH far from what it should read is questioned with its likely causes, and stands when kept again', async () => {
    const odd = new ProblemError({
      type: '',
      title: '',
      status: 422,
      code: 'reading-odd',
      detail: '8.4 is far from the 5.7 to 6.5 it should read.',
    });
    const send = showPh({ ...above(0, dosed), expected });
    send.mockRejectedValueOnce(odd);
    await userEvent.type(screen.getByLabelText('pH pen reads'), '8.4{Enter}');
    expect(await screen.findByRole('alert')).toHaveTextContent('far from the 5.7 to 6.5');
    expect(screen.getByRole('list', { name: 'Look at these, in order' })).toHaveTextContent(
      /Stirred.*right bottle, thinned as was said.*rinsed/,
    );
    await userEvent.type(screen.getByLabelText('pH pen reads'), '{Enter}');
    expect(send).toHaveBeenLastCalledWith(expect.objectContaining({ confirmedOdd: true }), expect.any(String));
  });
  it('takes another amount, and a drop kit’s range', async () => {
    const send = showPh({ ...above(1, dosed), expected });
    await userEvent.click(screen.getByRole('button', { name: 'I put in something else' }));
    await userEvent.type(screen.getByLabelText('I put in'), '3');
    expect(screen.getByLabelText('as bought, not thinned')).not.toBeChecked();
    await userEvent.click(screen.getByLabelText('as bought, not thinned'));
    await userEvent.type(screen.getByLabelText('pH pen reads'), '6.0-6.5{Enter}');
    expect(send).toHaveBeenCalledWith(
      expect.objectContaining({
        dose: expect.objectContaining({ toolId: 't', steps: 3 }),
        ratio: 1,
        reading: { kind: 'range', low: 6, high: 6.5 },
      }),
      expect.any(String),
    );
  });
  it('inside the window it says where the pH goes, with the clocks for it', () => {
    showPh({ ...above(1, dosed), expected, ph: { ...view.ph, latest: 6, inside: true } });
    expect(card()).toHaveTextContent(/near 7\.2 in a quarter of an hour and 8\.1 tomorrow/);
    expect(screen.getByRole('button', { name: /Clock: read again, 15/ })).toBeInTheDocument();
  });
  it('offers no fourth correction, and says why', () => {
    showPh(above(3));
    expect(screen.getByText('No fourth: start again')).toBeInTheDocument();
    expect(screen.getByText(/adds salts/)).toBeInTheDocument();
    expect(screen.queryByLabelText('pH pen reads')).not.toBeInTheDocument();
  });
});

it('the chart has a summary in words and its figures stand in the table', () => {
  render(
    <>
      <PortionChart view={view} part={0} />
      <PortionTable view={view} />
    </>,
  );
  expect(
    screen.getByText(/1 reading, last 9 ppm; comfortable 90 to 117; 0.5.mL more should bring it to about 69/),
  ).toBeInTheDocument();
  expect(screen.getByRole('rowheader', { name: 'water alone' })).toBeInTheDocument();
});
