/* What the columns of somebody else's table may be, by the words over them. A guess to begin with: the grower says. */

/** What a column of old records can hold. `out…`: what stood in the pot; `in…`: what it was filled with. */
export const COLUMN_ROLES = [
  'day',
  'time',
  'pot',
  'outStrength',
  'outPh',
  'left',
  'inStrength',
  'inPh',
  'poured',
  'flushed',
  'temperature',
  'note',
  'skip',
] as const;
export type ColumnRole = (typeof COLUMN_ROLES)[number];

/** How strengths are written: ppm on so many ppm a µS/cm, or conductivity. */
export type StrengthUnit =
  { readonly as: 'ppm'; readonly scale: number } | { readonly as: 'µS/cm' } | { readonly as: 'mS/cm' };

const IN = /\b(?:in|into|fed|feed|given|new|mix|poured|pour|fresh|after)\b/;
const OUT = /\b(?:out|old|before|came|reservoir|run ?off|runoff|drained|res)\b/;
const STRENGTH = /\b(?:ppm|tds|ec|strength|conductivity)\b|µs|\bus\/cm|ms\/cm/;
const PH = /\bph\b/;
const RULES: readonly (readonly [ColumnRole, (head: string) => boolean])[] = [
  ['day', (h) => /\b(?:date|day|when|timestamp|datum)\b/.test(h) || h === 'date time'],
  ['time', (h) => /^(?:time|hour|clock|at)\b/.test(h)],
  [
    'pot',
    (h) =>
      /\b(?:pot|plant|code|label|tag|number|nr|no|orchid|which|name)\b/.test(h) && !STRENGTH.test(h) && !PH.test(h),
  ],
  ['flushed', (h) => /\bflush(?:ed)?\b|\brins/.test(h)],
  ['left', (h) => /\b(?:left|remaining|level)\b/.test(h)],
  ['temperature', (h) => /\btemp|°c|celsius/.test(h)],
  ['inPh', (h) => PH.test(h) && IN.test(h) && !OUT.test(h)],
  ['outPh', (h) => PH.test(h)],
  ['inStrength', (h) => STRENGTH.test(h) && IN.test(h) && !OUT.test(h)],
  ['outStrength', (h) => STRENGTH.test(h)],
  ['poured', (h) => /\b(?:poured|filled|amount|volume|ml|water(?:ed)?)\b/.test(h)],
  ['note', (h) => /\b(?:note|notes|remark|remarks|comment|comments|seen)\b/.test(h)],
];

const plainHead = (head: string) =>
  head
    .toLowerCase()
    .replace(/[_()[\],.:-]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** A first guess of what each column is; each kind once. @example guessRoles(['Date', 'Pot', 'PPM out', 'pH out']) // ['day', 'pot', 'outStrength', 'outPh'] */
export function guessRoles(heads: readonly string[]): ColumnRole[] {
  const used = new Set<ColumnRole>();
  return heads.map((head) => {
    const plain = plainHead(head);
    const role = RULES.find(([role, is]) => !used.has(role) && is(plain))?.[0] ?? 'skip';
    if (role !== 'skip') used.add(role);
    return role;
  });
}

/** Whether a first line names columns: most of its words are such names, and it holds no figures. */
export function isHeading(cells: readonly string[]): boolean {
  const words = cells.filter((cell) => cell.trim() !== '');
  return (
    words.length > 0 && words.every((cell) => /\p{L}/u.test(cell)) && guessRoles(words).some((role) => role !== 'skip')
  );
}

/** The unit a heading names; undefined where it does not say. ppm alone does not say on which scale. */
export function strengthUnitIn(head: string): StrengthUnit | 'ppm' | undefined {
  const plain = head.toLowerCase();
  if (/\bms(?:\/cm)?\b/.test(plain)) return { as: 'mS/cm' };
  if (/[µu]s(?:\/cm)?\b/.test(plain)) return { as: 'µS/cm' };
  const scale = /ppm[^\d]*(0[.,]\d+|500|640|700)|(500|640|700)[^\d]*ppm/.exec(plain);
  const found = Number((scale?.[1] ?? scale?.[2] ?? '').replace(',', '.'));
  if (found > 0) return { as: 'ppm', scale: found > 1 ? found / 1000 : found };
  return /ppm|tds/.test(plain) ? 'ppm' : undefined;
}
