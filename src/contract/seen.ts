/** Things seen when a pot is looked over. Apart from the schemas, so that the first screen need not carry them. */
export const SEEN = ['tips', 'crust', 'new roots', 'pests', 'loose'] as const;
export type Seen = (typeof SEEN)[number];
