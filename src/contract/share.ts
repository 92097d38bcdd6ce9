import { z } from 'zod';
import { clayValues, toldBag } from './clay.ts';
import { recipeValues, type RecipeValues } from './recipes.ts';
import { regimenValues, type RegimenValues } from './regimens.ts';
import { shelfValues } from './shelf.ts';

/* A regimen, a recipe or a product's label as a small file, for another grower. */

export const SHARE_FORMAT = 'Frugal Sip share';
export const SHARE_VERSION = 1;
/** Such a file is a few kB; anything much larger is none. */
export const MOST_SHARE_BYTES = 200_000;

const head = {
  format: z.literal(SHARE_FORMAT),
  version: z.literal(SHARE_VERSION),
  /** Strengths in it are ppm with so many ppm for each µS/cm. */
  scale: z.number().min(0.3).max(1),
};
/** A label without what is only the grower's own: how they once dosed it, and with which tool. */
export const sharedProduct = shelfValues.product.omit({ recipe: true });
export type SharedProduct = z.infer<typeof sharedProduct>;

/** Of a bag what another grower may know: no price, no note, nowhere it came from. */
export const sharedClay = z.object({
  name: toldBag.shape.name,
  grainLowMm: clayValues.shape.grainLowMm,
  grainHighMm: clayValues.shape.grainHighMm,
  volumeL: clayValues.shape.volumeL,
});
/** The beliefs of this model are about these coordinates. */
export const CLAY_MODEL = 1;

export const shareFile = z.discriminatedUnion('kind', [
  z.object({ ...head, kind: z.literal('regimen'), values: regimenValues }),
  /** `products`: what its parts are of, in their order; the numbers in its parts are the sender's own. */
  z.object({ ...head, kind: z.literal('recipe'), values: recipeValues, products: z.array(sharedProduct).max(12) }),
  z.object({ ...head, kind: z.literal('product'), values: sharedProduct }),
  /** What a bag of clay was found to do: `model` names what the belief is about, so that another one is refused. */
  z.object({
    ...head,
    kind: z.literal('clay'),
    model: z.literal(CLAY_MODEL, 'It was found by another version of Frugal Sip, which knows clay otherwise.'),
    values: sharedClay,
    found: toldBag.omit({ name: true }),
  }),
]);
export type ShareFile = z.infer<typeof shareFile>;

const one = (figure: number) => Math.max(0.1, Number(figure.toFixed(1)));

/** A regimen of one pen's ppm in another's. @param times ppm of the other for one of this */
export const regimenOnScale = (values: RegimenValues, times: number): RegimenValues => ({
  ...values,
  feeds: values.feeds.map((feed) => ({ ...feed, netPpm: feed.netPpm === 0 ? 0 : one(feed.netPpm * times) })),
  soaks: values.soaks.map((soak) => ({ ...soak, netPpm: soak.netPpm === null ? null : one(soak.netPpm * times) })),
});

/** A recipe of one pen's ppm in another's. @param times ppm of the other for one of this */
export const recipeOnScale = (values: RecipeValues, times: number): RecipeValues => ({
  ...values,
  parts: values.parts.map((part) =>
    part.aim.kind === 'net' ? { ...part, aim: { ...part.aim, ppm: one(part.aim.ppm * times) } } : part,
  ),
});

/**
 * What a file of somebody's holds, or in words why it is none.
 * @example readShare('{"format":"Frugal Sip share","version":2}') // { ok: false, message: 'That file is of a later version …' }
 */
export function readShare(
  text: string,
): { readonly ok: true; readonly file: ShareFile } | { readonly ok: false; readonly message: string } {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return { ok: false, message: 'That is no file that Frugal Sip shared: it is not whole, or of another kind.' };
  }
  const { format, version } = (typeof data === 'object' && data !== null ? data : {}) as {
    format?: unknown;
    version?: unknown;
  };
  if (format !== SHARE_FORMAT)
    return { ok: false, message: 'That is no file that Frugal Sip shared. A whole collection is brought in above.' };
  if (typeof version === 'number' && version > SHARE_VERSION)
    return { ok: false, message: 'That file is of a later version of Frugal Sip. Bring this one up to date first.' };
  const read = shareFile.safeParse(data);
  if (read.success) return { ok: true, file: read.data };
  const issue = read.error.issues[0]!;
  return {
    ok: false,
    message: `Something in that file does not fit, at ${issue.path.join('.') || 'its beginning'}: ${issue.message}`,
  };
}
