import type { PotListItem, PotsView } from '../../contract/pots.ts';
import { MEDIUM_WORDS } from '../../contract/kinds.ts';

/** A pot with the place it stands on, as lists go through them. */
export type PlacedPot = PotListItem & { placeId: string; place: string; order: number };

export const SORTS = ['shelf', 'code', 'plant', 'due', 'poured', 'out', 'ph', 'regimen'] as const;
export type Sort = (typeof SORTS)[number];

/** What is searched and filtered, all of it in the address: `?q=…&place=…&stage=…&due=now&sort=due&down=1`. */
export type PotFilter = {
  readonly q: string;
  readonly places: readonly string[];
  readonly stages: readonly string[];
  readonly regimens: readonly string[];
  readonly media: readonly string[];
  readonly due: boolean;
  readonly sort: Sort;
  readonly down: boolean;
};

export function readFilter(params: URLSearchParams): PotFilter {
  const sort = params.get('sort') ?? 'shelf';
  return {
    q: params.get('q') ?? '',
    places: params.getAll('place'),
    stages: params.getAll('stage'),
    regimens: params.getAll('regimen'),
    media: params.getAll('medium'),
    due: params.get('due') === 'now',
    sort: (SORTS as readonly string[]).includes(sort) ? (sort as Sort) : 'shelf',
    down: params.get('down') === '1',
  };
}

/** All pots in shelf order. */
export function placedPots(view: PotsView): PlacedPot[] {
  let order = 0;
  return view.places.flatMap((place) => place.pots.map((pot) => ({ ...pot, placeId: place.id, place: place.name, order: order++ })));
}

/** The pots that answer, in the order asked for; shelf order decides between equals, and unread figures come last either way. */
export function filterPots(pots: readonly PlacedPot[], filter: PotFilter): PlacedPot[] {
  const words = filter.q.toLowerCase().split(/\s+/).filter(Boolean);
  const among = (chosen: readonly string[], value: string) => chosen.length === 0 || chosen.includes(value);
  const found = pots.filter(
    (pot) =>
      words.every((word) => textOf(pot).includes(word)) &&
      among(filter.places, pot.placeId) &&
      among(filter.stages, pot.drawing.stage) &&
      among(filter.regimens, pot.regimenId) &&
      among(filter.media, pot.drawing.form) &&
      (!filter.due || pot.due.daysLate >= 0),
  );
  const key = KEYS[filter.sort];
  return found.sort((a, b) => {
    const [x, y] = [key(a), key(b)];
    if (x === y) return a.order - b.order;
    if (x === undefined) return 1;
    if (y === undefined) return -1;
    const before = typeof x === 'string' && typeof y === 'string' ? x.localeCompare(y, 'en', { numeric: true }) : Number(x) - Number(y);
    return (filter.down ? -before : before) || a.order - b.order;
  });
}

const KEYS: Record<Sort, (pot: PlacedPot) => string | number | undefined> = {
  shelf: (pot) => pot.order,
  code: (pot) => pot.code,
  plant: (pot) => pot.name,
  due: (pot) => -pot.due.daysLate,
  poured: (pot) => pot.lastPouredPpm ?? undefined,
  out: (pot) => pot.lastCameOut?.ppm ?? undefined,
  ph: (pot) => pot.lastCameOut?.ph ?? undefined,
  regimen: (pot) => pot.regimen,
};

function textOf(pot: PlacedPot): string {
  return `${pot.code} ${pot.name} ${pot.plant} ${pot.place} ${pot.spot} ${pot.regimen} ${pot.clay ?? ''} ${pot.drawing.stage} ${MEDIUM_WORDS[pot.drawing.form]} ${pot.due.words}`.toLowerCase();
}

/** How many pots each choice of a filter would show, the other filters as they are. */
export function countBy(pots: readonly PlacedPot[], key: (pot: PlacedPot) => string): Map<string, number> {
  const counts = new Map<string, number>();
  for (const pot of pots) counts.set(key(pot), (counts.get(key(pot)) ?? 0) + 1);
  return counts;
}
