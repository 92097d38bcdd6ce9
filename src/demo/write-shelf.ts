import type { EntityManager } from 'typeorm';
import { plusDays, type LocalDate } from '../core/regimen/index.ts';
import type { Bottle, Meter, Product, ToolRow, Vessel, Water } from '../server/database/entities.ts';
import { writeTruth } from '../server/devices/simulated-truth.ts';
import type { LabelFigures } from '../contract/shelf.ts';
import { seededRandom } from '../core/simulation/index.ts';
import { readLabel } from '../core/solution/index.ts';
import { ACID_CAUTION, ALKALI_CAUTION } from '../contract/cautions.ts';
import { UNIT_SCALE } from '../contract/kinds.ts';
import {
  BOTTLE_CHANGED_DAYS_AGO,
  FEED_BOTTLES,
  FEED_CHANGED_DAYS_AGO,
  GUESS_EC_PER_ML_L,
  CITRIC,
  NITRIC,
  OTHER_BOTTLES,
  PEN_SCALE,
  PENS,
  POTASH,
  WATERS,
} from './truth.ts';
import { uuidFrom, type World } from './world.ts';

export const TOOLS: readonly Omit<ToolRow, 'id' | 'position'>[] = [
  {
    kind: 'dropper',
    name: 'Glass dropper',
    dropsPerMl: 18,
    capacityMl: null,
    stepMl: null,
    stepG: null,
    retiredOn: null,
  },
  {
    kind: 'syringe',
    name: '1 mL syringe',
    dropsPerMl: null,
    capacityMl: 1,
    stepMl: 0.05,
    stepG: null,
    retiredOn: null,
  },
  { kind: 'syringe', name: '5 mL syringe', dropsPerMl: null, capacityMl: 5, stepMl: 0.2, stepG: null, retiredOn: null },
  { kind: 'syringe', name: '20 mL syringe', dropsPerMl: null, capacityMl: 20, stepMl: 1, stepG: null, retiredOn: null },
  {
    kind: 'dropper',
    name: 'Plastic dropper',
    dropsPerMl: null,
    capacityMl: null,
    stepMl: null,
    stepG: null,
    retiredOn: null,
  },
  {
    kind: 'spoon',
    name: 'Quarter teaspoon',
    dropsPerMl: null,
    capacityMl: 1.23,
    stepMl: null,
    stepG: null,
    retiredOn: null,
  },
  { kind: 'spoon', name: 'Teaspoon', dropsPerMl: null, capacityMl: 4.93, stepMl: null, stepG: null, retiredOn: null },
  {
    kind: 'scale',
    name: 'Kitchen scale',
    dropsPerMl: null,
    capacityMl: null,
    stepMl: null,
    stepG: 0.1,
    retiredOn: null,
  },
];

function liquid(densityGMl: number, percent: LabelFigures['percent'], thinned = 1): LabelFigures {
  return { form: 'liquid', basis: 'w/w', densityGMl, percent, thinned };
}
const NO_LIMITS = { hydroponics: 'unsaid', topDoseMlL: null, longestDays: null, slowsGrowth: false } as const;

/** What else stands on the Shelf and waits for the rooms that use it. */
const OTHERS: readonly (Pick<Product, 'name' | 'shortName' | 'kind' | 'label' | 'caution'> & {
  figures: LabelFigures | null;
  sizeMl: number | null;
  price: number | null;
})[] = [
  {
    name: 'Calcium–magnesium syrup',
    shortName: 'cal-mag',
    kind: 'calmag',
    label: 'for soft water',
    caution: '',
    figures: liquid(1.25, { 'NO3-N': 3.4, Ca: 3.6, Mg: 0.8, Fe: 0.05 }),
    sizeMl: 500,
    price: 11,
  },
  {
    name: 'Epsom salt',
    shortName: 'Epsom',
    kind: 'magnesium',
    label: 'plain magnesium sulphate',
    caution: '',
    figures: { form: 'powder', basis: 'w/w', densityGMl: null, percent: { Epsom: 100 }, thinned: 1 },
    sizeMl: 400,
    price: 3,
  },
  {
    name: 'Liquid silicate',
    shortName: 'silicate',
    kind: 'silicate',
    label: 'potassium silicate, 9 % SiO2',
    caution: ALKALI_CAUTION,
    figures: liquid(1.1, { SiO2: 9 }),
    sizeMl: 250,
    price: 14,
  },
  {
    name: 'Citric, 5 % home-made',
    shortName: 'citric',
    kind: 'acid',
    label: '5 % citric acid',
    caution: ACID_CAUTION,
    figures: liquid(1.02, { citric: 5 }),
    sizeMl: 200,
    price: 0.6,
  },
  {
    name: 'Peat granules',
    shortName: 'peat',
    kind: 'other',
    label: 'for a cup of them in the pot',
    caution: '',
    figures: null,
    sizeMl: null,
    price: null,
  },
];

/** Waters, vessels, pens, tools and products, with what they truly are. */
export async function writeShelf(manager: EntityManager, uuid: () => string, today: LocalDate): Promise<World['ids']> {
  const water = await writeWaters(manager, uuid);
  const vessel = await writeVessels(manager, uuid);
  const pens = await writePens(manager, uuid);
  const tools = await writeTools(manager, uuid);
  const products = [...ownProducts(uuid), ...otherProducts(uuid)];
  // One by one: after a list TypeORM reads columns with defaults back in another order and mixes the ids up.
  for (const product of products) await manager.getRepository<Product>('product').insert({ ...product });
  await writeTruth(manager, 'product', products[1]!.id, NITRIC);
  await writeTruth(manager, 'product', products[2]!.id, POTASH);
  const bottles = bottlesOf(products, uuid, today);
  await manager.getRepository<Bottle>('bottle').insert(bottles);
  for (const product of products.slice(3)) {
    const truth = OTHER_BOTTLES[product.kind];
    if (truth) await writeTruth(manager, 'bottle', bottles.find((b) => b.productId === product.id)!.id, truth);
    else if (product.kind === 'acid') await writeTruth(manager, 'product', product.id, CITRIC);
  }
  const feed = [bottles[1]!.id, bottles[0]!.id];
  for (const [i, bottleId] of feed.entries()) await writeTruth(manager, 'bottle', bottleId, FEED_BOTTLES[i]!);
  const formerFeed = await writeFormerFeed(manager, today);
  return { water, vessel, bottles: feed, formerFeed, nitric: products[1]!.id, ...pens, glass: tools[0]!, tools };
}

type NewId = () => string;

/** The feed in use before last spring: gone now. Of a source of its own, so that what else the demo holds stays as it was. */
async function writeFormerFeed(manager: EntityManager, today: LocalDate): Promise<string> {
  const random = seededRandom(2405);
  const [productId, id] = [uuidFrom(random), uuidFrom(random)];
  const until = plusDays(today, -FEED_CHANGED_DAYS_AGO);
  await manager.getRepository<Product>('product').insert({
    id: productId,
    name: 'Bark feed',
    shortName: 'bark feed',
    kind: 'feed',
    guessEcPerMlL: GUESS_EC_PER_ML_L,
    recipe: null,
    retiredOn: until,
    label: 'made for bark; thinned 1 + 1 with still water',
    analysis: JSON.stringify(
      liquid(1.2, { 'NO3-N': 4, 'NH4-N': 2, P2O5: 4, K2O: 7, CaO: 2, MgO: 1.1, SO3: 3.4, Fe: 0.05 }, 2),
    ),
    ...NO_LIMITS,
    caution: '',
    position: 20,
  });
  await manager.getRepository<Bottle>('bottle').insert({
    id,
    productId,
    openedOn: plusDays(today, -364),
    note: 'thinned 1 + 1',
    sizeMl: 250,
    price: 16,
    position: 20,
    finishedOn: until,
  });
  await writeTruth(manager, 'bottle', id, FEED_BOTTLES[0]!);
  return id;
}

async function writeWaters(manager: EntityManager, uuid: NewId): Promise<Record<string, string>> {
  const water: Record<string, string> = {};
  const waters: ['still' | 'tap' | 'rain', string, string, Water['kind']][] = [
    ['still', 'Still water', 'reverse osmosis, 9 L a day into a 25 L tank', 'still'],
    ['tap', 'Kitchen tap', 'pH 7.6, 8 °dKH, chlorinated: let it stand a day', 'tap'],
    ['rain', 'Rain butt', 'pH 6.3, seasonal', 'rain'],
  ];
  for (const [position, [key, name, note, kind]] of waters.entries()) {
    water[key] = uuid();
    await manager.getRepository<Water>('water').insert({
      id: water[key],
      name,
      note,
      position,
      kind,
      tankL: key === 'still' ? 25 : null,
      perDayL: key === 'still' ? 9 : null,
      chlorine: key === 'tap' ? 'chlorine' : 'none',
      costPerL: { still: 0.02, tap: 0.003, rain: 0 }[key],
      known: key === 'tap' ? JSON.stringify(TAP_BY_KIT) : null,
      retiredOn: null,
    });
    await writeTruth(manager, 'water', water[key], WATERS[key]);
  }
  return water;
}
const TAP_BY_KIT = {
  method: 'kit',
  alkalinity: { value: 8, unit: '°dKH' },
  hardness: { value: 10, unit: '°dKH' },
};

async function writeVessels(manager: EntityManager, uuid: NewId): Promise<Record<string, string>> {
  const vessel: Record<string, string> = {};
  const vessels: [string, string, number, string, boolean][] = [
    ['can', 'Can', 12, 'zinc', false],
    ['bucket', 'Bucket', 10, 'plastic', false],
    ['jug5', 'Jug', 5, 'plastic', false],
    ['jug2', 'Glass jug', 2, 'glass', true],
  ];
  for (const [position, [key, name, capacityL, material, heatProof]] of vessels.entries()) {
    vessel[key] = uuid();
    await manager
      .getRepository<Vessel>('vessel')
      .insert({ id: vessel[key], name, capacityL, material, heatProof, position, retiredOn: null });
  }
  return vessel;
}

/** Two simulated pens at hand, a bench meter and a drop kit whose figures are typed. */
async function writePens(
  manager: EntityManager,
  uuid: NewId,
): Promise<Pick<World['ids'], 'ppm' | 'ph' | 'bench' | 'kit'>> {
  const [ppm, ph, bench, kit] = [uuid(), uuid(), uuid(), uuid()];
  for (const meter of [...pensAtHand(ppm, ph), ...metersBeside(bench, kit)])
    await manager.getRepository<Meter>('meter').insert(meter);
  await writeTruth(manager, 'pen', ppm, PENS.ppm);
  await writeTruth(manager, 'pen', ph, PENS.pH);
  return { ppm, ph, bench, kit };
}

function pensAtHand(ppm: string, ph: string): Meter[] {
  return [
    {
      id: ppm,
      name: 'Blue pen',
      kind: 'pen',
      quantity: 'ppm',
      unit: 'ppm',
      compensated: true,
      checkEveryDays: 30,
      condition: 'fine',
      scale: PEN_SCALE,
      resolution: 1,
      scaleFrom: 'label',
      device: 'simulated',
      position: 0,
      retiredOn: null,
    },
    {
      id: ph,
      name: 'Yellow pen',
      kind: 'pen',
      unit: 'ppm',
      compensated: true,
      checkEveryDays: 30,
      condition: 'battery',
      quantity: 'pH',
      scale: null,
      resolution: 0.1,
      scaleFrom: null,
      device: 'simulated',
      position: 1,
      retiredOn: null,
    },
  ];
}

function metersBeside(bench: string, kit: string): Meter[] {
  const others = { compensated: true, condition: 'fine', device: 'typed', retiredOn: null } as const;
  return [
    {
      ...others,
      id: bench,
      name: 'Bench meter',
      kind: 'pen',
      quantity: 'ppm',
      unit: 'mS/cm',
      scale: UNIT_SCALE['mS/cm'],
      scaleFrom: 'label',
      resolution: 0.01,
      checkEveryDays: 60,
      position: 2,
    },
    {
      ...others,
      id: kit,
      name: 'Drop kit',
      kind: 'kit',
      quantity: 'pH',
      unit: 'ppm',
      scale: null,
      scaleFrom: null,
      resolution: 0.5,
      checkEveryDays: 365,
      position: 3,
    },
  ];
}

async function writeTools(manager: EntityManager, uuid: NewId): Promise<string[]> {
  const tools: string[] = [];
  for (const [position, tool] of TOOLS.entries()) {
    tools.push(uuid());
    await manager.getRepository<ToolRow>('tool').insert({ ...tool, id: tools[position]!, position });
  }
  return tools;
}

/** The feed, and what brings the pH down and up. */
function ownProducts(uuid: NewId): Product[] {
  return [
    {
      id: uuid(),
      name: 'House feed',
      shortName: 'feed',
      kind: 'feed',
      guessEcPerMlL: GUESS_EC_PER_ML_L,
      recipe: null,
      retiredOn: null,
      label: 'made for hydroponics; thinned 1 + 1 with still water',
      analysis: JSON.stringify(
        liquid(1.2, { 'NO3-N': 5, 'NH4-N': 1, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1, Fe: 0.05 }, 2),
      ),
      ...NO_LIMITS,
      hydroponics: 'yes',
      caution: '',
      position: 0,
    },
    {
      id: uuid(),
      name: 'Nitric pH-down, 10 %',
      shortName: 'pH-down',
      kind: 'acid',
      guessEcPerMlL: null,
      recipe: null,
      retiredOn: null,
      label: '10 % nitric acid',
      analysis: JSON.stringify(liquid(1.055, { nitric: 10 })),
      ...NO_LIMITS,
      caution: ACID_CAUTION,
      position: 1,
    },
    {
      id: uuid(),
      name: 'Potash pH-up, 10 %',
      shortName: 'pH-up',
      kind: 'base',
      guessEcPerMlL: null,
      recipe: null,
      retiredOn: null,
      label: '10 % potassium carbonate',
      analysis: JSON.stringify(liquid(1.09, { K2CO3: 10 })),
      ...NO_LIMITS,
      caution: ALKALI_CAUTION,
      position: 2,
    },
  ];
}

function otherProducts(uuid: NewId): Product[] {
  return OTHERS.map(({ figures, sizeMl: _size, price: _price, ...other }, i) => {
    const label = figures && readLabel(figures);
    return {
      ...other,
      ...NO_LIMITS,
      id: uuid(),
      analysis: figures && JSON.stringify(figures),
      guessEcPerMlL: label?.ok && label.ecPerUnitL > 0 ? label.ecPerUnitL : null,
      recipe: null,
      position: 3 + i,
      retiredOn: null,
    };
  });
}

/** A bottle in use of each product, and the feed's first, finished. */
function bottlesOf(products: readonly Product[], uuid: NewId, today: LocalDate): Bottle[] {
  const bottles: Bottle[] = [
    {
      id: uuid(),
      productId: products[0]!.id,
      openedOn: plusDays(today, -BOTTLE_CHANGED_DAYS_AGO),
      note: 'second stock, thinned 1 + 1',
      sizeMl: 250,
      price: 9,
      position: 0,
      finishedOn: null,
    },
    {
      id: uuid(),
      productId: products[0]!.id,
      openedOn: plusDays(today, -FEED_CHANGED_DAYS_AGO),
      note: 'first stock, thinned 1 + 1',
      sizeMl: 250,
      price: 9,
      position: 9,
      finishedOn: plusDays(today, -BOTTLE_CHANGED_DAYS_AGO),
    },
    {
      id: uuid(),
      productId: products[1]!.id,
      openedOn: plusDays(today, -300),
      note: '',
      sizeMl: 100,
      price: 6,
      position: 2,
      finishedOn: null,
    },
    {
      id: uuid(),
      productId: products[2]!.id,
      openedOn: plusDays(today, -300),
      note: '',
      sizeMl: 100,
      price: 6,
      position: 3,
      finishedOn: null,
    },
  ];
  for (const [i, product] of products.slice(3).entries())
    bottles.push({
      id: uuid(),
      productId: product.id,
      openedOn: plusDays(today, -200 + 20 * i),
      note: '',
      sizeMl: OTHERS[i]?.sizeMl ?? null,
      price: OTHERS[i]?.price ?? null,
      position: 4 + i,
      finishedOn: null,
    });
  return bottles;
}
