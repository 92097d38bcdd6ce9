import type { BatchView, BenchRow, BenchStep, PhChoice } from '../../../contract/bench.ts';
import {
  decidePh,
  MOST_CORRECTIONS,
  PEN_PH_SD,
  responseSdOf,
  type PhSeen,
  type Stirred,
} from '../../../core/correction/index.ts';
import { readingMiddle, type Reading } from '../../../core/quantity/index.ts';
import {
  practiceReading,
  PRACTICE_LABEL_EC,
  PRACTICE_NET_EC,
  simEc,
  type PracticeBucket,
  type PracticeDeed,
} from '../../../core/simulation/index.ts';
import { composition, titrantPerMl } from '../../../core/solution/index.ts';
import {
  adviseBench,
  coneOf,
  dosingOf,
  feedAim,
  priorBelief,
  replayBench,
  sessionStrength,
  shownAdvice,
  type BenchAct,
  type BenchSession,
  type BenchSetup,
  type MeasuredDose,
  type Tool,
} from '../../../core/strength/index.ts';

export type PracticeStep = { readonly id: string; readonly step: BenchStep };
export const DROPPER: Tool = { kind: 'dropper', id: 'dropper', name: 'Glass dropper', dropsPerMl: 20 };
export const SYRINGE: Tool = { kind: 'syringe', id: 'syringe', name: '5 mL syringe', capacityMl: 5, stepMl: 0.2 };
const TOOLS = [DROPPER, SYRINGE];
const PEN = { resolutionEcUsCm: 2, relativeSd: 0.02 };
const SCALE = 0.5;
const AIM = feedAim(PRACTICE_NET_EC);
const WINDOW = { low: 5.5, high: 6.5 };
const ACID = titrantPerMl('nitric', 10);
/** Soft water with a weak feed in it, as far as anyone would guess; nobody tested its alkalinity. */
const SUPPOSED = composition({ Ca: 0.12, K: 1.6, NO3: 1.3, PO4: 0.28, CO2: 0.3 });
const SUPPOSED_SD = 0.12;

/** What was truly done, for the bucket. */
export function deedsOf(steps: readonly PracticeStep[]): PracticeDeed[] {
  return steps.flatMap(({ id, step }): PracticeDeed[] => {
    if (step.kind === 'portion') return [{ id, kind: 'stock', ml: step.dose.doseMl }];
    if (step.kind === 'correction') return [{ id, kind: 'acid', ml: step.dose.doseMl / (step.ratio ?? 1) }];
    return step.kind === 'thin' ? [{ id, kind: 'thin', pourOffL: step.pourOffL, addL: step.addL }] : [];
  });
}

const ecOf = (reading: Reading | null): number | null => {
  const ppm = reading && readingMiddle(reading);
  return ppm === undefined || ppm === null ? null : ppm / SCALE;
};

function actsOf(bucket: PracticeBucket, steps: readonly PracticeStep[]): BenchAct[] {
  // What stands in the bucket when the exercise begins: its water was read, and somebody poured.
  const base: BenchAct = { kind: 'base', readingEcUsCm: Math.round(simEc(bucket.water)) };
  const poured: BenchAct = {
    kind: 'portion',
    doseMl: bucket.alreadyMl,
    relativeSd: 0.05,
    readingEcUsCm: null,
    confirmedOdd: true,
  };
  const read: BenchAct = {
    kind: 'reading',
    readingEcUsCm: Number(practiceReading(bucket, [], 'ppm', 0)) / SCALE,
    confirmedOdd: true,
  };
  const given = { reach: [], rescue: [base, poured, read], ph: [base, poured, read] }[bucket.exercise];
  return [
    ...given,
    ...steps.flatMap(({ step }): BenchAct[] => {
      switch (step.kind) {
        case 'base':
          return [{ kind: 'base', readingEcUsCm: ecOf(step.reading) }];
        case 'portion':
          return [
            {
              kind: 'portion',
              doseMl: step.dose.doseMl,
              relativeSd: step.dose.relativeSd,
              readingEcUsCm: ecOf(step.reading),
              confirmedOdd: true,
            },
          ];
        case 'reading':
          return [{ kind: 'reading', readingEcUsCm: ecOf(step.reading), confirmedOdd: true }];
        case 'leave':
          return [{ kind: 'leave', part: 0 }];
        case 'thin':
          return [{ kind: 'thin', pourOffL: step.pourOffL, addL: step.addL, readingEcUsCm: ecOf(step.reading) }];
        case 'ph':
          return [{ kind: 'ph', ph: readingMiddle(step.reading) ?? null }];
        case 'correction':
          return [
            {
              kind: 'correction',
              steps: step.dose.steps,
              ph: step.reading ? (readingMiddle(step.reading) ?? null) : null,
            },
          ];
        default:
          return [];
      }
    }),
  ];
}

/** Pens and tools of the exercise. */
const AT_HAND = {
  scale: SCALE,
  usualNetPpm: null,
  baseIsThought: false,
  ppmMeter: { id: 'ppm', name: 'Practice pen', simulated: true, off: null, zeroBy: 0 },
  phMeter: { id: 'pH', name: 'Practice pH pen', kind: 'pen', simulated: true, off: null },
  tools: [
    { id: DROPPER.id, name: DROPPER.name, kind: 'dropper', dropsPerMl: 20, stepMl: 0.05, capacityMl: null },
    { id: SYRINGE.id, name: SYRINGE.name, kind: 'syringe', dropsPerMl: null, stepMl: 0.2, capacityMl: 5 },
  ],
} satisfies Partial<BatchView>;

/** The one concentrate, as far as it is in. */
function partOf(session: BenchSession): BatchView['parts'][number] {
  const part = session.parts[0]!;
  const strength = sessionStrength(session) ?? { ecPerMlL: PRACTICE_LABEL_EC, sd: 0.3 * PRACTICE_LABEL_EC };
  return {
    productId: 'stock',
    name: 'Practice stock',
    short: 'stock',
    label: '',
    kind: 'feed',
    caution: '',
    unit: 'mL',
    method: 'plain',
    mlPerUnit: 1,
    stock: null,
    aimWords: `${PRACTICE_NET_EC * SCALE} over base`,
    aim: {
      netPpm: AIM.netEcUsCm * SCALE,
      lowPpm: AIM.lowEcUsCm * SCALE,
      highPpm: AIM.highEcUsCm * SCALE,
      hardPpm: AIM.hardEcUsCm * SCALE,
    },
    doseUnits: null,
    reason: '',
    risk: 'none',
    riskWords: null,
    state: part.state,
    portions: part.portionsUsed,
    totalMl: part.totalMl,
    overPpm: part.overEcUsCm === undefined ? null : part.overEcUsCm * SCALE,
    netPpm: part.netEcUsCm === undefined ? null : part.netEcUsCm * SCALE,
    strength: {
      ppmPerMlL: strength.ecPerMlL * SCALE,
      sd: strength.sd * SCALE,
      batches: 0,
      guessPpmPerMlL: PRACTICE_LABEL_EC * SCALE,
    },
    brings: null,
  };
}

/** Where its pH stands, and the acid for it. */
function phOf(steps: readonly PracticeStep[], session: BenchSession): BatchView['ph'] {
  const latest = session.latestPh ?? null;
  const inside = latest !== null && latest >= WINDOW.low && latest <= WINDOW.high;
  return {
    readings: [],
    corrections: session.corrections,
    latest,
    penOffBy: 0,
    inside,
    movedPerStep: session.phPerStep ?? null,
    response: null,
    choices: latest !== null && !inside && session.corrections < MOST_CORRECTIONS ? choicesOf(steps, session) : [],
  };
}

/** The practice bucket as the bench shows a batch: the same coach on the same kind of readings. */
export function practiceView(bucket: PracticeBucket, steps: readonly PracticeStep[]): BatchView {
  const setup: BenchSetup = {
    volumeL: bucket.volumeL,
    parts: [{ belief: priorBelief(PRACTICE_LABEL_EC), mlPerUnit: 1, aim: { by: 'pen', aim: AIM } }],
    pen: PEN,
  };
  const acts = actsOf(bucket, steps);
  const session = replayBench(setup, acts);
  const vesselName = bucket.exercise === 'rescue' ? 'Jug' : 'Bucket';
  const advice = shownAdvice(
    adviseBench(setup, session, () => TOOLS, bucket.capacityL),
    setup,
    session,
    () => TOOLS,
    vesselName,
    (ec) => ec * SCALE,
  );
  return {
    id: `practice-${bucket.exercise}-${bucket.seed}-${steps.length}`,
    name: 'Practice bucket',
    use: 'feed',
    recipeId: null,
    status: 'open',
    stage: !session.batch ? 'water' : session.strengthReached ? 'ph' : 'strength',
    mixKey: null,
    potCodes: [],
    forPots: [],
    startedAt: '',
    startedOn: '',
    time: '',
    openDays: 0,
    water: { id: 'water', name: 'Soft water', expectedPpm: null },
    vessel: { id: 'vessel', name: vesselName, capacityL: bucket.capacityL },
    parts: [partOf(session)],
    at: session.at,
    byRecipe: false,
    ...AT_HAND,
    volumeL: session.volumeL,
    leftMl: 0,
    pouredPpm: null,
    keepsUntil: null,
    basePpm: session.baseEcUsCm === undefined ? null : session.baseEcUsCm * SCALE,
    aimPpm: PRACTICE_NET_EC * SCALE,
    netPpm: PRACTICE_NET_EC * SCALE,
    phWindow: WINDOW,
    holdMinutes: null,
    advice,
    rows: rowsOf(acts, session),
    cone: coneOf(setup, session, advice.kind === 'add' ? advice.doseMl : 0).map((c) => ({
      totalMl: c.totalMl,
      ppm: c.readingEcUsCm * SCALE,
      lowPpm: c.lowEcUsCm * SCALE,
      highPpm: c.highEcUsCm * SCALE,
    })),
    ph: phOf(steps, session),
    expected: { known: false, why: 'Nobody tested this water, so its pH is found out by reading.' },
    lastEventId: steps.at(-1)?.id ?? null,
  };
}

const toolOf = (dose: MeasuredDose): Tool => TOOLS.find((t) => t.id === dose.toolId)!;

function choicesOf(steps: readonly PracticeStep[], session: BenchSession): PhChoice[] {
  const stirred: Stirred[] = [];
  const seen: PhSeen[] = [];
  for (const { step } of steps) {
    if (step.kind === 'correction')
      stirred.push({ perMl: ACID, mlPerL: step.dose.doseMl / (step.ratio ?? 1) / session.volumeL });
    const reading = step.kind === 'ph' || step.kind === 'correction' ? step.reading : null;
    const ph = reading && readingMiddle(reading);
    if (ph) seen.push({ ph, sd: PEN_PH_SD, after: [...stirred] });
  }
  const decision = decidePh({
    total: SUPPOSED,
    alkalinitySd: SUPPOSED_SD,
    responseSd: responseSdOf(0.05, undefined),
    carbonateSd: 0,
    volumeL: session.volumeL,
    window: WINDOW,
    seen,
    stirred,
    correctionsUsed: session.corrections,
    perMl: ACID,
    direction: 'down',
    tools: TOOLS,
  });
  const choice: PhChoice = {
    productId: 'acid',
    name: 'Practice acid, 10 % nitric',
    direction: 'down',
    caution: 'At the real bench: eye protection and gloves, acid into water and never the reverse, follow its label.',
    wholeMl: null,
    brings: '',
    lasts: 'stays',
    warning: null,
    dose: null,
    why: decision.kind === 'wrongWay' ? 'It is under the window already.' : null,
  };
  if (decision.kind !== 'dose') return [choice];
  return [
    {
      ...choice,
      dose: {
        ml: decision.ml,
        ratio: decision.ratio,
        asBefore: steps.some(({ step }) => step.kind === 'correction' && (step.ratio ?? 1) > 1),
        ...dosingOf(decision.dose, toolOf(decision.dose)),
        expected: decision.expected,
        inWindow: decision.inWindow,
        ppm: decision.ecUsCm * SCALE,
        tomorrowPh: decision.tomorrowPh,
        coarse: decision.coarse,
      },
    },
  ];
}

const LABELS: Partial<Record<BenchAct['kind'], string>> = {
  base: 'water alone',
  portion: 'portion',
  reading: 'read',
  thin: 'thinned',
};

function rowsOf(acts: readonly BenchAct[], session: BenchSession): BenchRow[] {
  return acts.flatMap((act, i): BenchRow[] => {
    const snapshot = session.snapshots[i];
    const kind = act.kind;
    if (!snapshot || (kind !== 'base' && kind !== 'portion' && kind !== 'reading' && kind !== 'thin')) return [];
    return [
      {
        eventId: String(i),
        kind,
        part: 0,
        label: LABELS[kind] ?? kind,
        doseMl: kind === 'portion' ? act.doseMl : null,
        doseWords:
          kind === 'portion'
            ? `${Number(act.doseMl.toFixed(2))}\u00a0mL`
            : kind === 'thin'
              ? `+${Number(act.addL.toFixed(2))}\u00a0L`
              : '—',
        totalMl: snapshot.totalMl,
        readsPpm: snapshot.readingEcUsCm === null ? null : snapshot.readingEcUsCm * SCALE,
        netPpm: snapshot.netEcUsCm === null ? null : snapshot.netEcUsCm * SCALE,
        ppmPerMlL: snapshot.ecPerMlL === null ? null : snapshot.ecPerMlL * SCALE,
        tainted: false,
      },
    ];
  });
}
