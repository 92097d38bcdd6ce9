import type { EntityManager } from 'typeorm';
import type { BeforeStart, StartBatchRead } from '../../contract/bench.ts';
import { inSentence, ppmFromEc, volumeWords } from '../../core/quantity/index.ts';
import { WATER_BANDS } from '../../core/solution/index.ts';
import { daysBetween, keysIn, plusDays, serves } from '../../core/regimen/index.ts';
import { bottleStrength, finestStepMl, MOST_DROPS } from '../../core/strength/index.ts';
import { AppError } from '../app-error.ts';
import type { Pot, Water } from '../database/entities.ts';
import { mixNotices } from './mix-notices.ts';
import { planBatch, type ActAt } from './start-batch.ts';
import { madeEarlier, type PlannedPart } from './parts.ts';
import { trustIn } from './trust.ts';
import { codesOf, firstWords, potsFor } from './who-first.ts';
import {
  basesOf,
  batchesSince,
  bottleFacts,
  checkDueOn,
  collectionOf,
  growersScale,
  isStrengthKnown,
  leftOf,
  type Meters,
  metersOf,
  MIX_KEEPS_DAYS,
  offWords,
  stockOf,
  toolsOf,
} from '../collection/index.ts';

type Notice = BeforeStart['notices'][number];
/** A jug fuller than this leaves no room to thin in. */
const ROOM_TO_THIN = 0.8;
/** ppm (½ scale) over base past which tender and unrooted plants are asked about. House rule. */
const MUCH_FOR_TENDER_EC = 300;
const MUCH_FOR_ROOTING_EC = 240;

/** What a grower should know before a batch is started: is there enough of everything, is the pen in order, and does it suit the pots. */
export function beforeStart(manager: EntityManager, request: StartBatchRead, when: ActAt, zone: string): BeforeStart {
  const meters = metersOf(manager);
  let planned: Awaited<ReturnType<typeof planBatch>>;
  try {
    planned = planBatch(manager, request, when, meters);
  } catch (error) {
    if (!(error instanceof AppError)) throw error;
    return { notices: [{ level: 'stop', about: 'product', words: error.message }], steps: [], trust: null };
  }
  const { water, vessel, parts } = planned;
  const scale = growersScale(meters);
  const notices: Notice[] = [
    ...waterNotices(manager, water, request, meters, scale, when.localDate),
    ...productNotices(manager, parts, request, when.localDate),
    ...mixNotices(manager, parts, request, water, when.localDate),
    ...manyDrops(manager, parts, request),
    ...(request.volumeL > ROOM_TO_THIN * vessel.capacityL && parts.length > 0
      ? [
          mind(
            'vessel',
            `The ${inSentence(vessel.name)} would be nearly full: an overshoot could only be thinned by pouring some off.`,
          ),
        ]
      : []),
    ...oldAndFresh(manager, request, when.localDate),
    ...penNotices(request, meters, zone, when.localDate),
    ...potNotices(manager, parts, request, when.localDate),
  ];
  const trust = request.recipeId === null ? null : trustIn(manager, request, parts);
  return { notices, steps: stepsOf(parts, request, water, scale), trust };
}

/** More drops than anybody counts, with nothing larger among what was chosen. */
function manyDrops(
  manager: EntityManager,
  parts: readonly PlannedPart[],
  { toolIds, volumeL }: StartBatchRead,
): Notice[] {
  const tools = toolsOf(manager).filter((tool) => toolIds.includes(tool.id));
  if (tools.some((tool) => tool.kind !== 'dropper')) return [];
  return parts.flatMap(({ product, row, unitsPerL }) => {
    if (row.method === 'granules') return [];
    const drops = Math.round((unitsPerL * row.mlPerUnit * volumeL) / finestStepMl(tools));
    return drops <= DROPS_AT_LEISURE
      ? []
      : [
          mind(
            'product',
            `That is some ${drops} drops of ${product.name}: a syringe, or a spoon of known size, does it in one or two. Choose one, or put one on the Shelf.`,
          ),
        ];
  });
}
/** Twice what one counts without losing count. */
const DROPS_AT_LEISURE = 2 * MOST_DROPS;

/** When there will be enough, where so much is made or caught a day. */
function enoughIn({ perDayL, tankL }: Water, missingL: number): string {
  if (perDayL === null || !(perDayL > 0)) return '';
  const days = Math.ceil(missingL / perDayL);
  const room = tankL === null || missingL <= tankL ? '' : ', more than its tank holds at once';
  return ` At ${volumeWords(perDayL * 1000)} a day there is enough ${days === 1 ? 'tomorrow' : `in ${days} days`}${room}; make what there is now, and the rest then.`;
}

function mind(about: Notice['about'], words: string): Notice {
  return { level: 'mind', about, words };
}

function waterNotices(
  manager: EntityManager,
  water: Water,
  request: StartBatchRead,
  meters: Meters,
  scale: number,
  today: string,
): Notice[] {
  const notices: Notice[] = [];
  const stock = stockOf(manager, water, today);
  if (stock && stock.litres < request.volumeL)
    notices.push(
      mind(
        'water',
        `About ${volumeWords(stock.litres * 1000)} of ${inSentence(water.name)} stand in the tank, and this takes ${volumeWords(request.volumeL * 1000)}.${firstWords(manager, request, stock.litres, today)}${enoughIn(water, request.volumeL - stock.litres)}`,
      ),
    );
  if (water.chlorine === 'chlorine')
    notices.push(
      mind(
        'water',
        'It is chlorinated: let it stand open for 24 h first (2 h with an air stone). Standing takes out no minerals.',
      ),
    );
  if (water.chlorine === 'chloramine')
    notices.push(mind('water', 'It holds chloramine, which standing does not take out.'));
  const base = basesOf(manager, meters).get(water.id);
  const ppm = base === undefined ? undefined : ppmFromEc(base, scale);
  // Practice speaks in ppm of the half scale.
  const half = base === undefined ? undefined : ppmFromEc(base, 0.5);
  if (ppm !== undefined && half !== undefined && request.use !== 'water') {
    const most = request.use === 'soak' ? WATER_BANDS.shortSoak : WATER_BANDS.tooMuch;
    if (half >= most)
      notices.push(
        mind(
          'water',
          `It last read ${Math.round(ppm)}, which is much to start from ${request.use === 'soak' ? 'even for a short soak' : 'for a feed'}. Blend it with still water.`,
        ),
      );
  }
  return notices;
}

function productNotices(
  manager: EntityManager,
  parts: readonly PlannedPart[],
  request: StartBatchRead,
  today: string,
): Notice[] {
  const notices: Notice[] = [];
  for (const { product, bottle, unitsPerL, row, known } of parts) {
    const needed = unitsPerL * request.volumeL;
    const left = bottleFacts(manager, bottle, today)?.leftMl ?? null;
    const unit = row.method === 'stock' || row.method === 'granules' ? 'g' : 'mL';
    if (left !== null && left < needed)
      notices.push(
        mind(
          'product',
          `About ${Number(left.toFixed(1))}\u00a0${unit} of ${product.name} are left, and this takes about ${Number(needed.toFixed(1))}.`,
        ),
      );
    if (product.topDoseMlL !== null && row.netEcUsCm !== null && unitsPerL > product.topDoseMlL)
      notices.push(
        mind(
          'product',
          `That is about ${Number(unitsPerL.toFixed(2))} a litre of ${product.name}, past the top dose on its label, ${product.topDoseMlL}.`,
        ),
      );
    if (row.risk === 'sure')
      notices.push(
        mind(
          'product',
          `${product.name}: ${row.riskWords}, where it is poured in. Thin it well first, or leave it out.`,
        ),
      );
    if (
      bottleStrength(known.belief).sd > 0.25 * bottleStrength(known.belief).ecPerMlL &&
      row.netEcUsCm !== null &&
      known.batches === 0
    )
      notices.push({
        level: 'fine',
        about: 'product',
        words: `${product.name} is new to the bench: it starts with small portions and learns.`,
      });
  }
  return notices;
}

/** What is left of an earlier mix goes to the same pots: together its strength is reckoned, its pH is not. */
function oldAndFresh(manager: EntityManager, { mixKey: key, use }: StartBatchRead, today: string): Notice[] {
  if (key === null || use !== 'feed') return [];
  const { batches, drawn } = collectionOf(manager);
  const old = batchesSince(batches, plusDays(today, -MIX_KEEPS_DAYS)).find(
    ({ row }) => row.status === 'poured' && !row.emptied && row.mixKey !== null && sharesMix(row.mixKey, key),
  );
  const leftMl = old ? leftOf(old, drawn) : 0;
  if (!old || leftMl < LEAST_LEFT_ML) return [];
  return [
    mind(
      'water',
      `${volumeWords(leftMl)} of ${old.row.name} of ${old.row.startedOn === today ? 'today' : `${daysBetween(old.row.startedOn, today)} d ago`} are left. Poured together with the fresh one strengths add up by litres; pH does not: it is no average, so read it once they are together.`,
    ),
  ];
}
/** Less is tipped away without a thought. */
const LEAST_LEFT_ML = 100;
const sharesMix = (one: string, other: string) => keysIn(one).some((key) => serves(other, key));

function penNotices(request: StartBatchRead, meters: Meters, zone: string, today: string): Notice[] {
  const notices: Notice[] = [];
  for (const id of [request.ppmMeterId, request.phMeterId]) {
    const meter = id === null ? undefined : meters.get(id);
    if (!meter) continue;
    const off = offWords(meter, zone);
    const dueOn = checkDueOn(meter, zone);
    if (off) notices.push(mind('pen', `${meter.name} ${off}.`));
    else if (dueOn !== null && dueOn < today)
      notices.push(mind('pen', `${meter.name} was due for its check on ${dueOn}.`));
    else if (dueOn === null && meter.kind === 'pen')
      notices.push(mind('pen', `${meter.name} was never checked in a standard.`));
  }
  return notices;
}

/** Does it suit the pots it is for: named, or all those due for this mix. */
function potNotices(
  manager: EntityManager,
  parts: readonly PlannedPart[],
  request: StartBatchRead,
  today: string,
): Notice[] {
  const pots = potsFor(manager, request, today).map((s) => s.pot);
  if (pots.length === 0) return [];
  const net = parts.reduce((sum, part) => sum + netOf(part), 0);
  const clash = (which: (pot: Pot) => boolean, words: (codes: string) => string): Notice[] => {
    const some = pots.filter(which);
    return some.length > 0 ? [mind('pots', words(codesOf(some)))] : [];
  };
  return [
    ...(request.use === 'soak' || request.use === 'feed'
      ? clash(
          (p) => p.medium === 'basket' && request.use === 'soak',
          (codes) => `${codes}: a basket cannot be filled to the brim. Give it as a leaf spray in the same week.`,
        )
      : []),
    ...(request.use === 'spray'
      ? clash(
          (p) => p.medium !== 'basket',
          (codes) => `${codes} can be soaked: a spray reaches the leaves only.`,
        )
      : []),
    ...clash(
      (p) => p.stage === 'rooting' && net > MUCH_FOR_ROOTING_EC,
      (codes) => `${codes}: still rooting. Until a gentle tug holds, weaker is safer.`,
    ),
    ...clash(
      (p) => p.stage === 'rest' && (request.use === 'soak' || net > MUCH_FOR_ROOTING_EC),
      (codes) => `${codes}: at rest. Soaks and strong feeds belong to growth.`,
    ),
    ...clash(
      (p) => p.sensitivity === 'tender' && net > MUCH_FOR_TENDER_EC,
      (codes) => `${codes}: marked tender. Few tender plants want so much.`,
    ),
  ];
}

/** What a part brings, µS/cm: its aim, or what its measured dose comes to; nothing where nobody knows that. */
function netOf({ row, product, known, unitsPerL }: PlannedPart): number {
  if (row.netEcUsCm !== null) return row.netEcUsCm;
  return isStrengthKnown(product) || known.batches > 0 ? unitsPerL * bottleStrength(known.belief).ecPerMlL : 0;
}

const TOOL_WORDS = {
  plain: '',
  thinned: ', thinned first',
  stock: ', from a stock',
  granules: ', counted in granules',
} as const;

/** What will be done, in the order it is done. */
function stepsOf(
  parts: readonly PlannedPart[],
  request: StartBatchRead,
  water: Water,
  scale: number,
): BeforeStart['steps'] {
  const steps: BeforeStart['steps'] = [
    request.ppmMeterId === null
      ? {
          words: `Pour the ${inSentence(water.name)} in`,
          why: 'without a pen nobody reads it, and all goes in by measure',
        }
      : { words: `Read the plain ${inSentence(water.name)}`, why: 'everything is counted over it' },
    ...parts.map(({ product, row }) => ({
      words: `${product.name}${madeEarlier(row) ? ', from the stock made earlier' : TOOL_WORDS[row.method]}: ${row.netEcUsCm === null ? 'by measure' : `${Math.round(ppmFromEc(row.netEcUsCm, scale))} more`}`,
      why: row.riskWords ? `${row.reason}; ${row.riskWords}` : row.reason,
    })),
  ];
  if (request.phMeterId !== null)
    steps.push({ words: `pH, ${request.phLow} to ${request.phHigh}`, why: 'last: everything before moves it' });
  if (request.holdMinutes !== null)
    steps.push({ words: `Fill to the brim, hold ${request.holdMinutes} min, drain, flush`, why: null });
  return steps;
}
