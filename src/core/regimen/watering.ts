import { strengthByHeight } from './height-bands.ts';
import { CALMAG_EC, doseAt, type Feed, type FeedDose, type FeedWhat, type Regimen } from './regimen.ts';

/** What of a plant changes what it is given. */
export type PlantNow = {
  readonly stage: 'rooting' | 'growth' | 'rest' | 'spike' | 'bloom';
  readonly sensitivity: 'tender' | 'usual' | 'hardy';
  /** Marked as a vegetable or herb. */
  readonly crop: boolean;
  readonly heightCm: number | null;
};

/** What a pot is given at its next watering. Net µS/cm over base at 25 °C. */
export type Watering = {
  readonly what: FeedWhat;
  readonly netEcUsCm: number;
  /** Given by measure; null where it is mixed to the strength. */
  readonly dose: FeedDose | null;
  readonly pourPhLow: number;
  readonly pourPhHigh: number;
  /** Days until the watering after it. */
  readonly everyDays: number;
  readonly flushTimesReservoir: number;
  readonly fillWith: 'still' | 'tap' | null;
  /** Which of the rota's waterings it is. */
  readonly turn: number;
  /** What of the plant changed it, in words; empty where nothing did. */
  readonly because: readonly string[];
};

/**
 * The watering of a turn for a plant as it is now: the rota's feed, weaker in rest or while rooting, calcium–magnesium in bud where the regimen
 * says so, weaker for tender plants, by height for vegetables and herbs.
 */
export function wateringOf(regimen: Regimen, plant: PlantNow, turn: number): Watering {
  const n = regimen.feeds.length;
  const i = ((turn % n) + n) % n;
  const feed = regimen.feeds[i]!;
  const because: string[] = [];
  const { what, netEcUsCm, dose } = strengthFor(regimen, feed, plant, because);
  const flushes = regimen.flush.at === 'watering' || (regimen.flush.at === 'change' && i === 0);
  return {
    what,
    netEcUsCm,
    dose,
    pourPhLow: feed.pourPhLow,
    pourPhHigh: feed.pourPhHigh,
    everyDays: feed.days,
    flushTimesReservoir: flushes ? regimen.flush.timesReservoir : 0,
    fillWith: regimen.fillWith,
    turn: i,
    because,
  };
}

function strengthFor(
  regimen: Regimen,
  feed: Feed,
  plant: PlantNow,
  because: string[],
): { what: FeedWhat; netEcUsCm: number; dose: FeedDose | null } {
  if (feed.what === 'plain') return PLAIN;
  const { stages } = regimen;
  if (stages.inBud === 'calmag' && (plant.stage === 'spike' || plant.stage === 'bloom') && feed.what !== 'calmag') {
    because.push('in bud: calcium–magnesium alone');
    return { what: 'calmag', netEcUsCm: CALMAG_EC, dose: null };
  }
  const byBand = regimen.byHeight && plant.crop && feed.what !== 'calmag';
  const net = byBand ? byHeight(feed.netEcUsCm, plant.heightCm, because) : feed.netEcUsCm;
  const share = shareOf(regimen, plant, because);
  if (!(net * share > 0)) return PLAIN;
  // A band by height is a strength, whatever the dose.
  const dose = net === feed.netEcUsCm ? feed.dose : null;
  return { what: feed.what, netEcUsCm: net * share, dose: dose && doseAt(dose, share) };
}
const PLAIN = { what: 'plain', netEcUsCm: 0, dose: null } as const;

/** Share of its strength by stage and tenderness. */
function shareOf({ stages, tenderShare }: Regimen, { stage, sensitivity }: PlantNow, because: string[]): number {
  const byStage = stage === 'rest' ? stages.restShare : stage === 'rooting' ? stages.rootingShare : 1;
  const tender = sensitivity === 'tender' ? tenderShare : 1;
  if (byStage !== 1) because.push(`${stage === 'rest' ? 'at rest' : 'rooting'}: ${shareWords(byStage)}`);
  if (tender !== 1) because.push(`tender: ${shareWords(tender)}`);
  return byStage * tender;
}

function byHeight(net: number, heightCm: number | null, because: string[]): number {
  if (heightCm === null) {
    because.push('its height was never measured, so the strength of the regimen');
    return net;
  }
  const by = strengthByHeight(heightCm);
  if (by.kind === 'band') {
    because.push(`by its ${heightCm} cm`);
    return by.netEcUsCm;
  }
  because.push(
    `${heightCm} cm lies between the bands (${by.aboveCm} to ${by.belowCm} cm): practice does not say, so the strength of the regimen`,
  );
  return net;
}

const shareWords = (share: number) =>
  share === 0 ? 'plain water' : share === 0.5 ? 'half strength' : `${Math.round(share * 100)} % of the strength`;

/** Does any of it come from practice that says nothing here? */
export function inGap(regimen: Regimen, plant: PlantNow): boolean {
  return regimen.byHeight && plant.crop && plant.heightCm !== null && strengthByHeight(plant.heightCm).kind === 'gap';
}

/** Flush water for a pot, mL, by rule of thumb. */
export function flushMl(watering: Pick<Watering, 'flushTimesReservoir'>, reservoirMl: number): number {
  return watering.flushTimesReservoir * reservoirMl;
}
