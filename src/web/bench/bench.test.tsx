import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { BatchView } from '../../contract/bench.ts';
import { ActsProvider } from '../shell/acts.tsx';
import { ProblemError } from '../shell/api.ts';
import { OtherDose } from './other-dose.tsx';
import { PhNow } from './ph-now.tsx';
import { PortionChart } from './portion-chart.tsx';
import { PortionTable } from './portion-table.tsx';
import { StrengthNow } from './strength-now.tsx';

const view: BatchView = {
  id: '00000000-0000-4000-8000-000000000001',
  name: 'Feed',
  status: 'open',
  stage: 'strength',
  mixKey: null,
  potCodes: [],
  startedAt: '2026-11-25T09:05:00.000Z',
  startedOn: '2026-11-25',
  time: '09:05',
  water: { id: 'w', name: 'Still water', expectedPpm: 9 },
  vessel: { id: 'v', name: 'Jug', capacityL: 5 },
  product: { id: 'p', name: 'House feed', short: 'feed', label: '' },
  ppmMeter: { id: 'm', name: 'Blue pen', scale: 0.5, simulated: false, off: null },
  phMeter: { id: 'n', name: 'Yellow pen', simulated: false, off: null },
  acids: [{ id: 'a', name: 'Nitric pH-down, 10 %', direction: 'down', caution: 'Eye protection and gloves.' }],
  tools: [
    { id: 't', name: 'Glass dropper', kind: 'dropper', dropsPerMl: 18, stepMl: 1 / 18, capacityMl: null },
    { id: 's', name: '5 mL syringe', kind: 'syringe', dropsPerMl: null, stepMl: 0.2, capacityMl: 5 },
  ],
  volumeL: 2.6,
  leftMl: 0,
  thinRatio: 1,
  basePpm: 9,
  aim: { netPpm: 90, lowPpm: 81, highPpm: 108, hardPpm: 126 },
  phWindow: { low: 5.5, high: 6.5 },
  advice: {
    kind: 'add',
    portion: 1,
    portionsLikely: 2,
    doseMl: 0.5,
    steps: 9,
    toolId: 't',
    toolName: 'Glass dropper',
    toolKind: 'dropper',
    dropsPerMl: 18,
    dropSizeIsGuess: false,
    relativeSd: 0.05,
    expected: { ppm: 69, lowPpm: 64, highPpm: 75 },
    hardPpm: 135,
    pastHard: 0.0001,
  },
  rows: [
    { eventId: 'e', kind: 'base', label: 'water alone', doseMl: null, doseWords: '—', totalMl: 0, readsPpm: 9, netPpm: 0, ppmPerMlL: null, tainted: false },
  ],
  cone: [
    { totalMl: 0, ppm: 9, lowPpm: 8, highPpm: 10 },
    { totalMl: 1, ppm: 129, lowPpm: 110, highPpm: 150 },
  ],
  strength: { ppmPerMlL: 180, sd: 20, batches: 0, guessPpmPerMlL: 180 },
  ph: { readings: [], corrections: 0, latest: null, inside: false, movedPerDrop: null },
  aimBrings: null,
  predicted: { known: false, why: 'The pH can be told beforehand once the label of House feed is on the Shelf.' },
  lastEventId: 'e',
};
const nothing = () => undefined;
function show(node: ReactNode) {
  return render(
    <QueryClientProvider client={new QueryClient()}>
      <ActsProvider>{node}</ActsProvider>
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
      { kind: 'portion', dose: { toolId: 't', steps: 9, doseMl: 0.5, relativeSd: 0.05 }, reading: { kind: 'value', value: 71 }, confirmedOdd: false },
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
    const odd = new ProblemError({ type: '', title: '', status: 422, code: 'reading-odd', detail: 'far above what was expected' });
    const send = vi.fn().mockRejectedValueOnce(odd).mockResolvedValue('done');
    show(<StrengthNow view={view} send={send} dipNow={false} onUndo={nothing} onGoOn={nothing} />);
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), '300{Enter}');
    expect(await screen.findByRole('alert')).toHaveTextContent('far above');
    await userEvent.type(screen.getByLabelText('pen reads, ppm'), '{Enter}');
    await waitFor(() => expect(send).toHaveBeenLastCalledWith(expect.objectContaining({ confirmedOdd: true }), expect.any(String)));
  });
  it('says what to thin with, and pours off first when the vessel is full', () => {
    show(
      <StrengthNow
        view={{ ...view, advice: { kind: 'thin', pastHard: true, plan: 'pourOffAndReplace', addL: 1.2, pourOffL: 0.8, vesselName: 'Jug', expectedPpm: 99 } }}
        send={vi.fn()}
        dipNow={false}
        onUndo={nothing}
        onGoOn={nothing}
      />,
    );
    expect(screen.getByText(/Pour off 0.8.L/)).toBeInTheDocument();
    expect(screen.getByText(/garden plants/)).toBeInTheDocument();
  });
  it('an uncounted dropper says so and takes the count', () => {
    show(
      <StrengthNow
        view={{ ...view, advice: { ...view.advice, dropSizeIsGuess: true, dropsPerMl: null } as BatchView['advice'] }}
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

describe('pH', () => {
  const above = (corrections: number): BatchView => ({ ...view, stage: 'ph', ph: { ...view.ph, latest: 7.1, corrections } });
  it('shows the caution with the acid, and without a label why it cannot say how much', () => {
    show(<PhNow view={above(0)} send={vi.fn()} dipNow={false} onUndo={nothing} onThrowOut={nothing} onPour={nothing} />);
    expect(screen.getByText('Eye protection and gloves.')).toBeInTheDocument();
    expect(screen.getByText(/copy its label on the Shelf/)).toBeInTheDocument();
    expect(screen.getByLabelText('Drops')).toHaveValue('1');
  });
  const predicted: BatchView['predicted'] = {
    known: true,
    before: { ph: 7.4, lowPh: 7.1, highPh: 7.7, ppm: 304, tomorrowPh: 8.1 },
    now: { ph: 7.1, ppm: 304, tomorrowPh: 8.1 },
    dose: { productId: 'a', ml: 1, targetPh: 6, ph: 6, ppm: 326, tomorrowPh: 7.7, brings: '12 mg/L nitrogen' },
    waterFrom: 'kit',
    clouding: null,
  };
  it('says beforehand what the pH should be, between what and what, and where it goes by tomorrow', () => {
    const unread = { ...above(0), predicted, ph: { ...view.ph, latest: null } };
    show(<PhNow view={unread} send={vi.fn()} dipNow={false} onUndo={nothing} onThrowOut={nothing} onPour={nothing} />);
    expect(screen.getByRole('region', { name: 'Now' })).toHaveTextContent(/Expected pH 7\.4, between 7\.1 and 7\.7; standing open till tomorrow 8\.1/);
    expect(screen.getByLabelText('pH pen reads')).toHaveAttribute('placeholder', 'expect 7.4');
    expect(screen.getByLabelText('pH pen reads')).toHaveValue('');
  });
  it('says of a pen found off that its reading is no more than a hint', () => {
    const off = {
      ...above(0),
      ph: { ...view.ph, latest: null },
      phMeter: { id: 'n', name: 'Yellow pen', simulated: false, off: 'reads about 0.2 low since 4 Nov' },
    };
    show(<PhNow view={off} send={vi.fn()} dipNow={false} onUndo={nothing} onThrowOut={nothing} onPour={nothing} />);
    expect(screen.getByRole('region', { name: 'Now' })).toHaveTextContent(/Yellow pen reads about 0\.2 low since 4 Nov/);
  });
  it('gives most of the way in drops at first, with the reading after it and what it brings', () => {
    show(<PhNow view={{ ...above(0), predicted }} send={vi.fn()} dipNow={false} onUndo={nothing} onThrowOut={nothing} onPour={nothing} />);
    expect(screen.getByLabelText('Drops')).toHaveValue('14');
    expect(screen.getByRole('region', { name: 'Now' })).toHaveTextContent(
      /whole way to 6\.0 is about 18 drops; it would then read 326 \(before the acid 304\), and 7\.7 by tomorrow.*12 mg\/L nitrogen/,
    );
  });
  it('offers no fourth correction, and says why', () => {
    show(<PhNow view={above(3)} send={vi.fn()} dipNow={false} onUndo={nothing} onThrowOut={nothing} onPour={nothing} />);
    expect(screen.getByText('No fourth: start again')).toBeInTheDocument();
    expect(screen.getByText(/adds salts/)).toBeInTheDocument();
    expect(screen.queryByLabelText('Drops')).not.toBeInTheDocument();
  });
  it('wants whole drops', async () => {
    show(<PhNow view={above(1)} send={vi.fn()} dipNow={false} onUndo={nothing} onThrowOut={nothing} onPour={nothing} />);
    const drops = screen.getByLabelText('Drops');
    await userEvent.clear(drops);
    await userEvent.type(drops, '-2');
    expect(screen.getByRole('alert')).toHaveTextContent('Count whole drops');
    expect(screen.queryByLabelText('pH pen reads')).not.toBeInTheDocument();
  });
});

it('the chart has a summary in words and its figures stand in the table', () => {
  render(
    <>
      <PortionChart view={view} />
      <PortionTable view={view} />
    </>,
  );
  expect(screen.getByText(/1 reading, last 9 ppm; comfortable 90 to 117; 0.5.mL more should bring it to about 69/)).toBeInTheDocument();
  expect(screen.getByRole('rowheader', { name: 'water alone' })).toBeInTheDocument();
});
