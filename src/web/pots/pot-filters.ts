import type { PotListItem, PotsView } from '../../contract/pots.ts';
import { MEDIUM_WORDS } from '../../contract/kinds.ts';
import { SIGN_WORDS } from './sign-words.ts';

/** A pot with the place it stands on, as lists go through them. */
export type PlacedPot = PotListItem & { placeId: string; place: string; order: number; today: string };

export const SORTS = ['worst', 'shelf', 'code', 'plant', 'due', 'poured', 'out', 'ph', 'dry', 'regimen'] as const;
export type Sort = (typeof SORTS)[number];

/** States a collection is gone through by, worst first. Thirsty is down to 15 % today or tomorrow. */
export const STATES = ['thirsty', 'salting', 'drifting', 'due', 'bloom'] as const;
export type State = (typeof STATES)[number];
export const IN_STATE: Readonly<Record<State, (pot: PlacedPot) => boolean>> = {
  thirsty: ({ stand }) => stand.dryInDays !== null && stand.dryInDays <= 1,
  salting: ({ stand }) => stand.signs.includes('salting'),
  drifting: ({ stand }) => stand.signs.includes('drifting'),
  due: (pot) => pot.due.daysLate >= 0,
  bloom: (pot) => pot.drawing.stage === 'bloom',
};

/** What is searched and filtered, all of it in the address: `?q=…&place=…&stage=…&state=thirsty&sort=due&down=1`. */
export type PotFilter = {
  readonly q: string;
  readonly places: readonly string[];
  readonly stages: readonly string[];
  readonly regimens: readonly string[];
  readonly media: readonly string[];
  readonly clays: readonly string[];
  readonly states: readonly State[];
  readonly sort: Sort;
  readonly down: boolean;
};

export function readFilter(params: URLSearchParams): PotFilter {
  const sort = params.get('sort') ?? 'worst';
  return {
    q: params.get('q') ?? '',
    places: params.getAll('place'),
    stages: params.getAll('stage'),
    regimens: params.getAll('regimen'),
    media: params.getAll('medium'),
    clays: params.getAll('clay'),
    states: params.getAll('state').filter((s): s is State => (STATES as readonly string[]).includes(s)),
    sort: (SORTS as readonly string[]).includes(sort) ? (sort as Sort) : 'worst',
    down: params.get('down') === '1',
  };
}

/** All pots in shelf order. */
export function placedPots(view: PotsView): PlacedPot[] {
  let order = 0;
  return view.places.flatMap((place) =>
    place.pots.map((pot) => ({ ...pot, placeId: place.id, place: place.name, order: order++, today: view.today })),
  );
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
      among(filter.clays, pot.clay ?? NO_CLAY) &&
      filter.states.every((state) => IN_STATE[state](pot)),
  );
  const key = KEYS[filter.sort];
  return found.sort((a, b) => {
    const [x, y] = [key(a), key(b)];
    if (x === y) return a.order - b.order;
    if (x === undefined) return 1;
    if (y === undefined) return -1;
    const before =
      typeof x === 'string' && typeof y === 'string'
        ? x.localeCompare(y, 'en', { numeric: true })
        : Number(x) - Number(y);
    return (filter.down ? -before : before) || a.order - b.order;
  });
}

/** In the address, for pots without a clay batch. */
export const NO_CLAY = 'none';

const KEYS: Record<Sort, (pot: PlacedPot) => string | number | undefined> = {
  worst: (pot) => -pot.stand.trouble,
  shelf: (pot) => pot.order,
  code: (pot) => pot.code,
  plant: (pot) => pot.name,
  due: (pot) => -pot.due.daysLate,
  poured: (pot) => pot.stand.ran?.pouredPpm ?? pot.lastPouredPpm ?? undefined,
  out: (pot) => pot.stand.ran?.ratio,
  ph: (pot) => pot.lastCameOut?.ph ?? undefined,
  dry: (pot) => pot.stand.dryInDays ?? undefined,
  regimen: (pot) => pot.regimen,
};

function textOf(pot: PlacedPot): string {
  return `${pot.code} ${pot.name} ${pot.plant} ${pot.place} ${pot.spot} ${pot.regimen} ${pot.clay ?? ''} ${pot.drawing.stage} ${MEDIUM_WORDS[pot.drawing.form]} ${pot.due.words} ${pot.stand.signs.map((sign) => SIGN_WORDS[sign].words).join(' ')}`.toLowerCase();
}

/** How many pots each choice of a filter would show, the other filters as they are. */
export function countBy(pots: readonly PlacedPot[], key: (pot: PlacedPot) => string): Map<string, number> {
  const counts = new Map<string, number>();
  for (const pot of pots) counts.set(key(pot), (counts.get(key(pot)) ?? 0) + 1);
  return counts;
}
