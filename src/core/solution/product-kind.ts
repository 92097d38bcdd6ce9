/** A kind of product: what it is called, and where it goes in among the others. */
export type ProductKindFacts = {
  /** In a list to choose from. */
  readonly words: string;
  /** Where it goes in by habit, 0 first. */
  readonly place: number;
  /** Once everything else is in. */
  readonly afterAll: boolean;
  /** Why there. */
  readonly reason: string;
};

/** Everything that tells one kind of product from another, in the order of a list to choose from. */
export const PRODUCT_KIND = {
  feed: { words: 'feed', place: 2, afterAll: false, reason: 'into thin calcium' },
  calmag: {
    words: 'calcium–magnesium',
    place: 1,
    afterAll: false,
    reason: 'calcium before the feed, so that it meets phosphate and sulphate thin',
  },
  magnesium: {
    words: 'magnesium (Epsom salt)',
    place: 3,
    afterAll: false,
    reason: 'sulphate goes in when calcium is thin',
  },
  silicate: {
    words: 'silicate',
    place: 0,
    afterAll: false,
    reason: 'alone and well stirred: late, or into strong calcium, it clouds',
  },
  acid: { words: 'pH-down (acid)', place: 6, afterAll: true, reason: 'pH goes last: everything before moves it' },
  base: { words: 'pH-up (alkali)', place: 5, afterAll: true, reason: 'pH goes after everything that moves it' },
  living: {
    words: 'living additive (bacteria, fungi)',
    place: 7,
    afterAll: true,
    reason: 'after the pH, and never beside peroxide',
  },
  other: { words: 'something else', place: 4, afterAll: false, reason: 'as its label says' },
} as const satisfies Record<string, ProductKindFacts>;

export type ProductKind = keyof typeof PRODUCT_KIND;
export const PRODUCT_KINDS = Object.keys(PRODUCT_KIND) as [ProductKind, ...ProductKind[]];
