/*
 * What a pot's behaviour is made of: quantities that no pen reads, each with the range the physics leaves it before anything was read. Reservoir,
 * pores between the grains and the water inside them are three bodies that exchange what is dissolved; water leaves by leaf and as vapour; clay,
 * roots and microbes move the alkali. Volumes in units of the fill, rates a day.
 */

/** One quantity: `around` and its 1 SD `give`, in a natural scale of its own: `ln`: of its logarithm; `share`: of its logit; `plain`: as it is. */
type Quantity = { readonly scale: 'ln' | 'share' | 'plain'; readonly around: number; readonly give: number };

/**
 * The quantities in their order, and what they are before anything was read. Ranges from memory where nothing else is said.
 * Pores and grains: so many times the water that stays in a drained pot; pebbles of 0.35 to 0.6 kg/L take up a tenth to a third of their mass.
 */
const QUANTITIES = {
  /** Share of the fill that leaves a day in a season of 1. Common practice: half to three quarters gone in a week. */
  loses: { scale: 'ln', around: Math.log(0.08), give: 0.5 },
  /** How closely that follows the season: 1 all the way. */
  season: { scale: 'plain', around: 0.5, give: 0.3 },
  /** Of what leaves, the share that leaves as vapour. */
  vapour: { scale: 'share', around: 0, give: 0.9 },
  /** Salts roots take with their water, against what stands in it. */
  uptake: { scale: 'ln', around: Math.log(0.7), give: 0.45 },
  pores: { scale: 'ln', around: Math.log(2), give: 0.45 },
  grains: { scale: 'ln', around: Math.log(1.9), give: 0.6 },
  /** How fast reservoir and pores, and pores and grains, come to one strength (15 D/r² of a sphere). */
  mixing: { scale: 'ln', around: Math.log(0.7), give: 0.8 },
  seeping: { scale: 'ln', around: Math.log(0.25), give: 0.9 },
  /** Of a flush, the share that runs past; and how well the rest mixes. */
  bypass: { scale: 'share', around: -0.7, give: 0.7 },
  flushing: { scale: 'ln', around: Math.log(0.7), give: 0.4 },
  /** Share of a pour that goes through the pores. */
  through: { scale: 'share', around: -1, give: 0.7 },
  /** Alkali of the clay, meq a litre of the fill (common practice: fed at 5.5 to 6 it reads 6.5 to 7 in two to four weeks); how it quickens as the pH falls (order in H⁺); and what it gives at once when filled. */
  clay: { scale: 'ln', around: Math.log(0.025), give: 1 },
  order: { scale: 'plain', around: 0.15, give: 0.12 },
  atOnce: { scale: 'plain', around: 0.015, give: 0.03 },
  /** Alkali that roots leave for each nitrate they take. */
  roots: { scale: 'plain', around: 0.25, give: 0.35 },
  /** Ammonium that is taken or turned into nitrate, share a day; and the acid of each: 1 where it is taken, 2 where it is turned. */
  nitrogen: { scale: 'ln', around: Math.log(0.15), give: 0.8 },
  acid: { scale: 'plain', around: 1.4, give: 0.3 },
  /** CO2 of the air in the pot against open air's: roots and microbes breathe. */
  co2: { scale: 'ln', around: Math.log(2.6), give: 0.5 },
  /** What nobody knows of the old water against this model: ln of its strength, and pH. */
  strengthOff: { scale: 'plain', around: 0, give: 0.08 },
  phOff: { scale: 'plain', around: 0, give: 0.25 },
  /** Salts the clay gives, share of the fill's a day. */
  gives: { scale: 'plain', around: 0.002, give: 0.006 },
  /** What stood in pores and grains before its first known filling, ln against that filling. */
  before: { scale: 'plain', around: 0, give: 0.35 },
} as const satisfies Record<string, Quantity>;
export type QuantityName = keyof typeof QUANTITIES;
export const QUANTITY_NAMES = Object.keys(QUANTITIES) as readonly QuantityName[];
/** Place of a quantity among a pot's. */
export const AT = Object.freeze(Object.fromEntries(QUANTITY_NAMES.map((name, i) => [name, i]))) as Readonly<
  Record<QuantityName, number>
>;
const LIST: readonly Quantity[] = QUANTITY_NAMES.map((name) => QUANTITIES[name]);
/** What a step of a quantity's own SD means, in its natural scale. */
export const giveOf = (name: QuantityName): number => QUANTITIES[name].give;

/** How a pot behaves: a figure for each quantity, in its natural unit. */
export type PotNature = Readonly<Record<QuantityName, number>>;

/** From standard units (0 the middle before anything was read, 1 its SD) to natural ones. @param z one for each quantity, from a place on */
export function natureAt(z: ArrayLike<number>, from = 0): PotNature {
  // Written out: an object of one shape is several times as fast as one that is filled by name.
  return {
    loses: natural(AT.loses, z, from),
    season: natural(AT.season, z, from),
    vapour: natural(AT.vapour, z, from),
    uptake: natural(AT.uptake, z, from),
    pores: natural(AT.pores, z, from),
    grains: natural(AT.grains, z, from),
    mixing: natural(AT.mixing, z, from),
    seeping: natural(AT.seeping, z, from),
    bypass: natural(AT.bypass, z, from),
    flushing: natural(AT.flushing, z, from),
    through: natural(AT.through, z, from),
    clay: natural(AT.clay, z, from),
    order: natural(AT.order, z, from),
    atOnce: natural(AT.atOnce, z, from),
    roots: natural(AT.roots, z, from),
    nitrogen: natural(AT.nitrogen, z, from),
    acid: natural(AT.acid, z, from),
    co2: natural(AT.co2, z, from),
    strengthOff: natural(AT.strengthOff, z, from),
    phOff: natural(AT.phOff, z, from),
    gives: natural(AT.gives, z, from),
    before: natural(AT.before, z, from),
  };
}

function natural(i: number, z: ArrayLike<number>, from: number): number {
  const { scale, around, give } = LIST[i]!;
  const value = around + give * z[from + i]!;
  return scale === 'plain' ? value : scale === 'ln' ? Math.exp(value) : 1 / (1 + Math.exp(-value));
}
