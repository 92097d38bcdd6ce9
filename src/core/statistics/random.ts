import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';

/** A source of independent uniforms on [0, 1). Passed into every simulator; nothing in the core makes its own. */
export type Random = () => number;

/** A reproducible source from an integer seed. */
export function seededRandom(seed: number): Random {
  const generator = xoroshiro128plus(seed | 0);
  // The first outputs of neighbouring seeds are alike; after a few dozen steps they are not.
  for (let i = 0; i < 64; i++) uniformFloat64(generator);
  return () => uniformFloat64(generator);
}

/** A 32-bit seed from a text (FNV-1a), so that an event's own noise is the same whenever its history is replayed. */
export function seedOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    hash ^= text.charCodeAt(i);
    hash = Math.imul(hash, 0x01000193);
  }
  return hash | 0;
}

/** One standard normal deviate (Box and Muller 1958). */
export function normal(random: Random): number {
  const u = 1 - random();
  return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * random());
}

/** Fills an array with independent standard normal deviates, both of each pair of Box and Muller: half the work of one at a time. */
export function fillNormals(random: Random, into: Float64Array): void {
  for (let i = 0; i < into.length; i += 2) {
    const radius = Math.sqrt(-2 * Math.log(1 - random()));
    const angle = 2 * Math.PI * random();
    into[i] = radius * Math.cos(angle);
    if (i + 1 < into.length) into[i + 1] = radius * Math.sin(angle);
  }
}
