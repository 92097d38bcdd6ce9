/** Fired clay pebbles, packed like poured ones: rows that shift and swell a little. Three paths, one per shade of clay. */
export type Pebbles = readonly [string, string, string];

const cache = new Map<string, Pebbles>();

/** Pebbles for a pot, the same for the same seed. `coarse` packs fewer and larger ones, for small pictures. */
export function pebblesFor(seed: string, coarse: boolean): Pebbles {
  const variant = hash(seed) % 7;
  const key = `${variant}${coarse ? 'c' : 'f'}`;
  const known = cache.get(key);
  if (known) return known;
  const made = pack(variant + 1, coarse ? 4.6 : 3.3);
  cache.set(key, made);
  return made;
}

function pack(seed: number, radius: number): Pebbles {
  const random = mulberry(seed);
  const shades: string[][] = [[], [], []];
  const pitch = radius * 1.96;
  let row = 0;
  for (let y = 100 - radius * 0.7; y > 40; y -= pitch * 0.87, row++) {
    for (let x = 9 + (row % 2 ? pitch / 2 : 0); x < 56; x += pitch) {
      const r = radius * (0.78 + 0.3 * random());
      const cx = x + (random() - 0.5) * radius * 0.5;
      const cy = y + (random() - 0.5) * radius * 0.5;
      const squash = 0.9 + 0.12 * random();
      shades[Math.floor(random() * 3)]!.push(
        `M${n(cx - r)} ${n(cy)}a${n(r)} ${n(r * squash)} 0 1 0 ${n(2 * r)} 0a${n(r)} ${n(r * squash)} 0 1 0 ${n(-2 * r)} 0z`,
      );
    }
  }
  return [shades[0]!.join(''), shades[1]!.join(''), shades[2]!.join('')];
}

const n = (v: number) => v.toFixed(1);

function hash(text: string): number {
  let h = 7;
  for (const c of text) h = (Math.imul(h, 31) + c.charCodeAt(0)) >>> 0;
  return h;
}

function mulberry(seed: number): () => number {
  let s = seed;
  return () => {
    s = (s + 0x6d2b79f5) | 0;
    let t = Math.imul(s ^ (s >>> 15), 1 | s);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
