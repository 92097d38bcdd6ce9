import type { ClayAct, ClayValues } from '../contract/clay.ts';
import { plusDays } from '../core/regimen/index.ts';
import { drawBag, seededRandom, simEc, simPh } from '../core/simulation/index.ts';
import { actOnClay } from '../server/clay/clay-service.ts';
import { trueClay, trueHold } from '../server/devices/simulated-clay.ts';
import { writeTruth } from '../server/devices/simulated-truth.ts';
import { DEMO_ZONE } from './scenario.ts';
import { penReading } from './pen-reading.ts';
import { PEN_SCALE, PENS } from './truth.ts';
import { uuidFrom, type LivePot, type World } from './world.ts';

/** How salty the clay in the pots of batch 3 truly is, by code: strength in its pores. */
const PORES: Record<string, number> = { 'L-03': 2400, 'P-04': 1500, 'R-07': 1250, 'L-02': 1900, 'R-02': 1100 };
const FORTY: Pick<ClayValues, 'gatePpm' | 'coverL' | 'lookEveryHours' | 'way' | 'note'> = {
  gatePpm: 40,
  coverL: null,
  lookEveryHours: 12,
  way: 'own',
  note: '',
};

/**
 * Clay of the library: 1 and 2 leached before it was kept here, 3 bought second-hand and planted as it came, 4 leached in two weeks of summer's
 * end and ready, 5 soaking with its third change due, 6 rinsed only; and salt checks of the pots in batch 3.
 */
export async function writeClay(world: World, pots: readonly LivePot[]): Promise<void> {
  const { manager } = world;
  // A source of its own: what else the demo holds stays as it was.
  const random = seededRandom(4177);
  const uuid = () => uuidFrom(random);
  const hand = clayHand(world, uuid, random);

  await writeOlder(hand);
  await writeFour(hand, manager);
  await writeFive(hand, manager);
  await writeSix(hand, manager);
  await writeHolds(world, pots, hand.act, random);
}

type ClayHand = ReturnType<typeof clayHand>;

/** What is done with clay, on a day at a time: kept, rinsed, filled, read. */
function clayHand(world: World, uuid: () => string, random: ReturnType<typeof seededRandom>) {
  const { manager, today } = world;
  const still = world.ids.water['still']!;
  const act = async (day: number, time: string, body: ClayAct): Promise<string> => {
    const id = uuid();
    const at = new Date(`${plusDays(today, day)}T${time}:00Z`);
    await actOnClay(manager, id, body, { at, localDate: plusDays(today, day), zone: DEMO_ZONE });
    return id;
  };
  const batch = async (
    day: number,
    values: Partial<ClayValues> & Pick<ClayValues, 'name' | 'volumeL' | 'prep'>,
  ): Promise<string> => {
    const clayId = uuid();
    const all: ClayValues = {
      grainLowMm: 8,
      grainHighMm: 16,
      origin: '',
      price: null,
      openedOn: plusDays(today, day),
      ...FORTY,
      ...values,
    };
    await act(day, '07:20', { kind: 'put', clayId, values: all });
    return clayId;
  };
  const readings = async (clayId: string, day: number, time: string) => {
    const at = new Date(`${plusDays(today, day)}T${time}:00Z`);
    const water = await trueClay(manager, clayId, at);
    const ppm = penReading(simEc(water!) * PEN_SCALE, PENS.ppm, random);
    // A drop kit says a quarter of a pH.
    const low = Math.floor(simPh(water!) * 4) / 4;
    await act(day, time, {
      kind: 'read',
      clayId,
      ppm: { kind: 'value', value: ppm },
      ph: { kind: 'range', low, high: low + 0.25 },
      ppmMeterId: world.ids.ppm,
      phMeterId: world.ids.kit,
      temperatureC: null,
      at: null,
      confirmedOdd: true,
    });
  };
  const water = (clayId: string, day: number, time: string, pouredOffL: number, freshL: number) =>
    act(day, time, {
      kind: 'fill',
      clayId,
      waterId: still,
      pouredOffL,
      offMeasured: true,
      freshL,
      to: pouredOffL > 0 ? 'the bean bed' : '',
      at: null,
      unread: false,
    });
  const prepared = async (clayId: string, day: number, boiled: boolean) => {
    await act(day, '07:30', { kind: 'prep', clayId, step: 'rinsed', done: true });
    if (boiled) await act(day, '07:45', { kind: 'prep', clayId, step: 'boiled', done: true });
  };

  return { act, batch, readings, water, prepared };
}

/** Clay that was there before. */
async function writeOlder({ batch }: ClayHand): Promise<void> {
  await batch(-363, { name: 'batch 1', volumeL: 20, prep: 'leached', origin: 'garden centre, 20 L bag', price: 11.5 });
  await batch(-362, { name: 'batch 2', volumeL: 20, prep: 'leached', origin: 'garden centre, 20 L bag', price: 11.5 });
  await batch(-361, {
    name: 'batch 3',
    volumeL: 8,
    prep: 'unleached',
    origin: 'second-hand, from a closed nursery',
    note: 'Grey dust, smelt of old feed.',
  });
}

/** Leached in two weeks, and ready. */
async function writeFour(
  { act, batch, readings, water, prepared }: ClayHand,
  manager: World['manager'],
): Promise<void> {
  const four = await batch(-78, {
    name: 'batch 4',
    volumeL: 16,
    prep: 'new',
    origin: 'pond shop, 50 L sack shared',
    price: 9,
  });
  await writeTruth(manager, 'clay', four, drawBag(seededRandom(504), 16));
  await prepared(four, -78, true);
  await water(four, -78, '08:10', 0, 12);
  for (const [day, off] of [
    [-75, 9],
    [-71, 9],
    [-66, 9],
  ] as const) {
    await readings(four, day, '08:00');
    await water(four, day, '08:05', off, 9);
  }
  await readings(four, -61, '08:00');
  await act(-61, '08:05', {
    kind: 'drain',
    clayId: four,
    pouredOffL: 9,
    offMeasured: true,
    to: 'the bean bed',
    at: null,
  });
}

/** In its soaks. */
async function writeFive({ batch, readings, water, prepared }: ClayHand, manager: World['manager']): Promise<void> {
  const five = await batch(-5, { name: 'batch 5', volumeL: 6, prep: 'new', origin: 'hydro shop, 6 L bag', price: 6.4 });
  await writeTruth(manager, 'clay', five, drawBag(seededRandom(507), 6));
  await prepared(five, -5, true);
  await water(five, -5, '08:10', 0, 5);
  await readings(five, -5, '14:00');
  await readings(five, -4, '08:00');
  await readings(five, -3, '08:00');
  await water(five, -3, '08:05', 3.5, 3.5);
  await readings(five, -3, '19:30');
  await readings(five, -2, '19:40');
  await water(five, -2, '19:45', 3.5, 3.5);
  await readings(five, -1, '08:00');
}

/** Rinsed only. */
async function writeSix({ batch, prepared }: ClayHand, manager: World['manager']): Promise<void> {
  const six = await batch(-2, {
    name: 'batch 6',
    volumeL: 10,
    prep: 'new',
    grainLowMm: 4,
    grainHighMm: 10,
    origin: 'hydro shop, 10 L bag',
    price: 8.9,
  });
  await writeTruth(manager, 'clay', six, drawBag(seededRandom(502), 10));
  await prepared(six, -2, false);
}

/** Salt checks of the pots in batch 3, and one hold that was tried. */
async function writeHolds(
  world: World,
  pots: readonly LivePot[],
  act: (day: number, time: string, body: ClayAct) => Promise<string>,
  random: ReturnType<typeof seededRandom>,
): Promise<void> {
  const { manager, today, ids } = world;
  for (const pot of pots) {
    const porePpm = PORES[pot.spec.code];
    if (porePpm === undefined || pot.spec.form === 'water') continue;
    const clayL = Math.round(pot.spec.reservoirMl / 20) / 10;
    await writeTruth(manager, 'potClay', pot.id, { bag: { ...drawBag(seededRandom(77), clayL), dust: 0 }, porePpm });
  }
  const hold = async (code: string, day: number, hour: number, purpose: 'check' | 'leach', minutes: number) => {
    const pot = pots.find((p) => p.spec.code === code);
    if (!pot) return;
    const time = (minute: number) =>
      `${String(hour + Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
    const waterL = Math.round((pot.spec.reservoirMl * 2.6) / 10) / 100;
    const clockId = uuidFrom(random);
    const holdId = await act(day, time(0), {
      kind: 'startHold',
      potId: pot.id,
      clockId,
      planId: null,
      purpose,
      waterId: ids.water['still']!,
      waterL,
      minutes,
    });
    const read = async (minute: number, where: 'top' | 'hole') => {
      const truth = await trueHold(manager, holdId, where, new Date(`${plusDays(today, day)}T${time(minute)}:00Z`));
      const value = penReading(simEc(truth!) * PEN_SCALE, PENS.ppm, random);
      await act(day, time(minute), {
        kind: 'readHold',
        holdId,
        where,
        reading: { kind: 'value', value },
        ppmMeterId: ids.ppm,
        confirmedOdd: true,
      });
    };
    await read(30, 'top');
    if (minutes > 30) await read(minutes, 'top');
    await read(minutes + 1, 'hole');
    await act(day, time(minutes + 2), { kind: 'drainHold', holdId, to: 'the bean bed' });
  };
  await hold('L-02', -16, 9, 'check', 30);
  await hold('R-02', -12, 10, 'check', 30);
  await hold('L-03', -10, 9, 'check', 30);
  await hold('P-04', -9, 9, 'check', 30);
  await hold('L-02', -9, 11, 'leach', 60);
}
