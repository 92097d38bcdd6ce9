import { lately, seen, sureOf } from './measures.ts';
import type { PotFacts } from './facts.ts';
import type { Finding, Rule } from './rule.ts';
import { upperFirst } from '../quantity/index.ts';
import { SOAKS } from '../regimen/index.ts';

/* What the plant shows. A cue noted once may be a slip; it takes two looks, unless waiting hurts. */

/** A rule over one cue seen at enough looks. */
function cueRule(
  rule: Omit<Rule, 'find' | 'source'> & { source?: Rule['source'] },
  cue: string,
  grades: readonly string[],
  looks: number,
  say: (f: PotFacts, times: number) => Pick<Finding, 'title' | 'because' | 'then' | 'act'> | undefined,
): Rule {
  return {
    source: 'common practice',
    ...rule,
    find: (f) => {
      const found = seen(f, cue, grades);
      // At so many of the last three looks, and still there at the last or the one before: a cue may be missed, and one tap may be a slip.
      if (found.length < looks || lately(f, cue, grades, 3) < looks || lately(f, cue, grades, 2) === 0)
        return undefined;
      const words = say(f, found.length);
      return words && { ...words, evidence: found.map((x) => x.evidence), sure: sureOf(found.map((x) => x.evidence)) };
    },
  };
}

export const PLANT_RULES: readonly Rule[] = [
  cueRule(
    {
      id: 'rot',
      matter: 'danger',
      seen: 'soft at the crown, or soft dark roots',
      think: 'rot',
      act: 'trim to firm tissue, keep the crown dry, lower the fill',
      danger: true,
      silences: ['newRoots', 'takesAll', 'hungry'],
    },
    'rot',
    ['soft'],
    1,
    () => ({
      title: 'Trim the rot',
      because: 'Something was soft at the crown or the roots.',
      then: 'Cut to firm tissue with a clean blade, keep the crown dry, no silicate meanwhile.',
      act: { kind: 'plan', words: 'Lift it, trim soft roots, lower its fill' },
    }),
  ),
  cueRule(
    {
      id: 'pestsMany',
      matter: 'danger',
      seen: 'pests at two looks, many of them now',
      think: 'pest',
      act: 'isolate, treat',
      silences: ['pests'],
    },
    'pests',
    ['some', 'many'],
    2,
    (f) =>
      lately(f, 'pests', ['many'], 2) === 0
        ? undefined
        : {
            title: 'Isolate it today',
            because: 'Pests at two looks, many of them now.',
            then: 'Away from the others, then treat by the label; firm leaves may resist.',
            act: { kind: 'plan', words: 'Isolate it, treat, look at its neighbours' },
          },
  ),
  cueRule(
    {
      id: 'pests',
      matter: 'pest',
      seen: 'scale or mites at two looks',
      think: 'pest',
      act: 'isolate, treat; firm leaves may resist',
    },
    'pests',
    ['some', 'many'],
    2,
    (_f, n) => ({
      title: 'Isolate and treat',
      because: `Pests at ${n} looks.`,
      then: 'Away from the others until two looks find none.',
      act: { kind: 'plan', words: 'Isolate it and treat the pests' },
    }),
  ),
  cueRule(
    {
      id: 'growthLow',
      matter: 'danger',
      seen: 'new growth below the fill line',
      think: 'can rot',
      act: 'lower the fill line for that pot',
      danger: true,
    },
    'growth',
    ['below the fill'],
    1,
    () => ({
      title: 'Lower its fill line',
      because: 'New growth starts below where it is filled to.',
      then: 'Set its fill limit under the growth until it is up.',
      act: { kind: 'plan', words: 'Lower its fill limit below the new growth' },
    }),
  ),
  cueRule(
    {
      id: 'magnesium',
      matter: 'magnesium',
      seen: 'poor older leaves (not a sun scar)',
      think: 'magnesium',
      act: 'in the next soak',
    },
    'leaves',
    ['old pale'],
    2,
    (f, n) => {
      if (lately(f, 'sun', ['scar']) > 0) return undefined;
      const open = f.soaks.find((s) => SOAKS[s.what].byPen && s.open);
      return {
        title: open ? 'Magnesium at its next soak' : 'A little magnesium with the feed',
        because: `Older leaves pale at ${n} looks.`,
        then: open
          ? 'Its season is open.'
          : 'No soak is in season for it: a pinch of Epsom salt with the calcium–magnesium instead.',
        act: { kind: 'plan', words: open ? 'Magnesium soak' : 'A pinch of Epsom salt with its calcium–magnesium' },
      };
    },
  ),
  cueRule(
    {
      id: 'hungry',
      matter: 'feed',
      seen: 'pale or watery marks, new growth pale, leaves floppy',
      think: 'nitrogen, calcium, magnesium short, or too little light',
      act: 'calcium–magnesium one week, feed the next',
      silences: ['takesAll'],
    },
    'leaves',
    ['marks', 'floppy'],
    2,
    (f, n) =>
      f.stage === 'rest'
        ? undefined
        : {
            title: 'Calcium–magnesium one week, feed the next',
            because: `Marked or floppy leaves at ${n} looks.`,
            then: 'Look at its light as well: pale and floppy is also too dark.',
            act: { kind: 'plan', words: 'Calcium–magnesium this time, feed the next; look at its light' },
          },
  ),
  cueRule(
    {
      id: 'airTips',
      matter: 'salt',
      seen: 'root tips burnt at the surface',
      think: 'salts at the top, dry air',
      act: 'flush from the top, mist, moss collar',
    },
    'air',
    ['burnt tips'],
    2,
    (_f, n) => ({
      title: 'Rinse its top, and mist',
      because: `Root tips burnt at ${n} looks.`,
      then: 'Flush slowly from the top; a moss collar keeps the surface damp.',
      act: { kind: 'plan', words: 'Flush slowly from the top, mist, moss collar' },
    }),
  ),
  cueRule(
    {
      id: 'loose',
      matter: 'form',
      seen: 'loose in the pot',
      think: 'rocked, or lost roots',
      act: 'settle pebbles; look at roots',
    },
    'loose',
    ['loose'],
    2,
    (_f, n) => ({
      title: 'Settle its pebbles',
      because: `Loose at ${n} looks.`,
      then: 'If it stays loose, look at the roots.',
      act: { kind: 'plan', words: 'Settle the pebbles; look at the roots' },
    }),
  ),
  cueRule(
    {
      id: 'sun',
      matter: 'form',
      seen: 'a bleached patch',
      think: 'sun; an hour of strong sun can be enough',
      act: 'shade; harden off by steps',
    },
    'sun',
    ['scar'],
    2,
    () => ({
      title: 'Shade it, and harden it off by steps',
      because: 'A bleached patch, at two looks.',
      then: 'Silicate is no sun-proofing. After an outdoor soak: shade until dry.',
      act: { kind: 'plan', words: 'Shade it; move it to light by steps' },
    }),
  ),
  cueRule(
    {
      id: 'mould',
      matter: 'form',
      seen: 'fuzzy white on the clay',
      think: 'mould, not salts: it is fuzzy and does not rinse off',
      act: 'let the top dry between, more air',
    },
    'mould',
    ['fuzzy'],
    2,
    () => ({
      title: 'Mould, not salt',
      because: 'Fuzzy at two looks.',
      then: 'More air over the pot; wipe it off. White fuzz on air roots is normal.',
      act: { kind: 'plan', words: 'Wipe the mould off, more air' },
    }),
  ),
  {
    id: 'newRoots',
    matter: 'season',
    seen: 'new roots starting',
    think: 'the best time for supplements',
    act: 'give the soak that is in season now',
    source: 'common practice',
    find: (f) => {
      const roots = seen(f, 'roots', ['few', 'many'], 21);
      const soak = f.soaks.find((s) => s.open && (s.lastOn === undefined || day(f.today) - day(s.lastOn) > 28));
      if (roots.length < 2 || !soak) return undefined;
      return {
        title: 'Its roots are starting: soak it now',
        because: `New roots at ${roots.length} looks.`,
        then: 'With active growth supplements do most.',
        act: { kind: 'plan', words: `${upperFirst(SOAKS[soak.what].name)}, its roots are starting` },
        evidence: roots.map((r) => r.evidence),
        sure: 0.5,
      };
    },
  },
  {
    id: 'rooted',
    matter: 'feed',
    seen: 'rooted: a gentle tug holds, new roots seen',
    think: 'may take constant feed; before that weaker',
    act: 'set its stage to growth',
    source: 'common practice',
    find: (f) => {
      const roots = seen(f, 'roots', ['few', 'many'], 60);
      const firm = f.looks.slice(-3);
      if (f.stage !== 'rooting' || roots.length < 2 || firm.length < 3 || firm.some((l) => l.cues['loose'] === 'loose'))
        return undefined;
      return {
        title: 'It has rooted',
        because: `New roots at ${roots.length} looks, and firm three times running.`,
        then: 'Try a gentle tug. If it holds, set its stage to growth and feed it fully.',
        act: { kind: 'plan', words: 'Gentle tug: if it holds, set its stage to growth' },
        evidence: roots.map((r) => r.evidence),
        sure: 0.6,
      };
    },
  },
  {
    id: 'holdSoak',
    matter: 'season',
    seen: 'a soak whose season is over',
    think: 'by daylight growth is over; supplements wait',
    act: 'hold it until the season opens',
    source: 'common practice',
    find: (f) => {
      const over = f.soaks.filter(
        (s) => !s.open && s.lastOn !== undefined && s.nextFrom !== undefined && day(f.today) - day(s.lastOn) < 75,
      );
      const [closed] = [...over].sort((a, b) => (a.nextFrom! < b.nextFrom! ? -1 : 1));
      if (!closed) return undefined;
      const { brings, byPen, name: whole, label } = SOAKS[closed.what];
      const name = over.length > 1 || brings.length > 1 ? 'soaks' : byPen ? whole : label;
      return {
        title: `Hold the ${name}`,
        because: `Its season is over: it grows by daylight${f.site.lamps ? '' : ', not lamps'}.`,
        then: `Last on ${shortDate(closed.lastOn!)}, next from ${shortDate(closed.nextFrom!)}.`,
        act: { kind: 'hold', words: `Hold the ${name} until ${shortDate(closed.nextFrom!)}` },
        evidence: [{ on: closed.lastOn!, words: `last ${name} ${shortDate(closed.lastOn!)}`, weight: 1 }],
        sure: 0.99,
      };
    },
  },
];

const day = (on: string) => Date.parse(`${on}T00:00:00Z`) / 86_400_000;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const shortDate = (on: string) => `${Number(on.slice(8))} ${MONTHS[Number(on.slice(5, 7)) - 1]}`;
