import { ESSENTIAL, ELEMENT_WORDS, type Element } from './elements.ts';
import type { ReadLabel } from './label.ts';
import { MOLAR, ATOM } from './masses.ts';
import type { ProductKind } from './product-kind.ts';

/** One thing to know of a product before it is used; `good` is no warning. Common practice unless chemistry says it. */
export type Remark = { readonly tone: 'good' | 'note' | 'warn'; readonly words: string; readonly why: string };

export type ProductFacts = {
  readonly kind: ProductKind;
  readonly hydroponics: 'yes' | 'unsaid' | 'no';
};

/** Most silica that may stand in a feed, mg/L SiO2 (common practice); amorphous silica drops out above about 117. */
export const MOST_STANDING_SIO2_MG_L = 60;
/** A trace in weight is no source of it: less than this share of the nitrogen (or potassium) counts as missing. */
const MISSING_SHARE = 0.05;

/** Elements of the twelve that a label declares, and those it does not. */
export function essentialsOf(label: ReadLabel): { present: Element[]; missing: Element[] } {
  const present = ESSENTIAL.filter((e) => label.elements[e] > 0 || (e === 'N' && label.organicN > 0));
  return { present, missing: ESSENTIAL.filter((e) => !present.includes(e)) };
}

type Add = (tone: Remark['tone'], words: string, why: string) => void;

/** What a label says for and against a product in clay over a reservoir fed with still water. */
export function remarksOf(label: ReadLabel, facts: ProductFacts): Remark[] {
  const remarks: Remark[] = [];
  const add: Add = (tone, words, why) => remarks.push({ tone, words, why });
  if (facts.kind === 'feed') {
    sayNitrogen(label, add);
    sayFeed(label, facts, add);
  }
  sayAnyProduct(label, facts, add);
  return remarks;
}

function sayNitrogen(label: ReadLabel, add: Add): void {
  const { elements, organicN } = label;
  const allN = elements.N + organicN;
  if (elements.ureaN > 0) {
    const share = Math.round((100 * elements.ureaN) / allN);
    add(
      'warn',
      `urea, ${share} % of its nitrogen`,
      'Urea needs soil life to become food, and no pen reads it. Flagged, not forbidden.',
    );
  } else if (label.unsaidN > 0.05 * allN) {
    add(
      'note',
      'form of nitrogen not said',
      'It may be nitrate, ammonium or urea: the packet’s small print or its maker knows.',
    );
  } else if (organicN <= 0 && allN > 0)
    add('good', 'nitrate feed, no urea', 'Nitrate and ammonium are taken up as they are.');
  if (organicN > 0) add('warn', 'organic nitrogen', 'Organics need soil life and may clog or smell in a reservoir.');
  if (elements.ammoniumN > 0.4 * allN)
    add('note', 'much ammonium', 'Over two fifths of the nitrogen: roots that take it make the water more acid.');
}

function sayFeed(label: ReadLabel, { hydroponics }: ProductFacts, add: Add): void {
  const { elements } = label;
  const allN = elements.N + label.organicN;
  if (hydroponics === 'yes') add('good', 'made for hydroponics', 'By its label.');
  else
    add(
      'note',
      hydroponics === 'no' ? 'not made for hydroponics' : 'no word of hydroponics',
      'Some use ordinary feeds and are content; watch crust, smell and leaf.',
    );
  if (!(elements.Ca > MISSING_SHARE * allN))
    add('warn', 'no calcium', 'Still water has none either: give calcium–magnesium beside it.');
  else add('good', 'has calcium', 'Enough to feed in still water.');
  if (!(elements.Mg > MISSING_SHARE * allN))
    add('warn', 'no magnesium', 'Still water has none either: give calcium–magnesium, or a pinch of Epsom salt.');
  else if (elements.Mg < 0.12 * allN)
    add('note', 'thin on magnesium', 'Under an eighth of the nitrogen; look at the older leaves.');
  const { present, missing } = essentialsOf(label);
  if (missing.length === 0) add('good', 'all twelve declared', 'Listed is not the same as available.');
  else
    add(
      'note',
      `${present.length} of 12 declared`,
      `Not on the label: ${missing.map((e) => ELEMENT_WORDS[e]).join(', ')}. They may be in it all the same.`,
    );
}

function sayAnyProduct(label: ReadLabel, { kind }: ProductFacts, add: Add): void {
  const { elements } = label;
  if (elements.Fe > 0)
    add(
      'note',
      'iron as its chelate',
      'Held to about pH 6.5 by the usual chelate; above it the iron goes out of reach. The label names which.',
    );
  if (elements.Ca > 0 && elements.P > 0 && kind !== 'acid') {
    add(
      'note',
      'calcium beside phosphate',
      'They hold together in the bottle because it is acid; thinned in hard, alkaline water they may cloud.',
    );
  }
  if (kind === 'silicate' || elements.Si > 0) {
    const sio2 = (elements.Si * MOLAR.SiO2) / ATOM.Si;
    if (sio2 > 0) {
      add(
        'note',
        `60 mg/L SiO₂ is ${(MOST_STANDING_SIO2_MG_L / sio2).toFixed(2)} mL in a litre`,
        'More than that in a standing feed slowed growth (seen once), and over 117 mg/L silica drops out.',
      );
      if (label.closedWith === 'alkali')
        add('warn', 'raises the pH strongly', 'It is an alkali: acid is needed after it.');
    }
  }
  if (kind === 'living')
    add('warn', 'living: no ppm aim', 'Keep it from peroxide, chlorine and heat. What it does is as claimed.');
  if (label.wide) {
    add(
      'note',
      `label does not balance, ${Math.round(label.gap * 100)} %`,
      `Its charges were closed with ${label.closedWith}: what a pen should read of it is a weak guess.`,
    );
  }
}
