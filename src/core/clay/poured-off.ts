/** Who could take the water poured off a bath or out of a pot. */
export type PouredOffVerdict = { readonly to: 'pots in soil' | 'garden' | 'garden, thinned'; readonly words: string };

/** At the half scale: above a pot's fare; above what soil takes neat. Common practice for tolerant plants. */
const POT_FARE_EC = 200;
const NEAT_EC = 600;
/** Above this it locks up iron for plants that hate lime. Common practice. */
const LIMY_PH = 8;

/**
 * Where poured-off water may go. @param ecUsCm conductivity as read, µS/cm @param ph undefined where it was not read
 */
export function pouredOffVerdict(ecUsCm: number, ph: number | undefined): PouredOffVerdict {
  const limy = ph !== undefined && ph > LIMY_PH ? '; not for plants that hate lime' : '';
  if (ecUsCm <= POT_FARE_EC) return { to: 'pots in soil', words: `mild enough for pots in soil${limy}` };
  if (ecUsCm <= NEAT_EC) return { to: 'garden', words: `more than a pot wants, no trouble for soil${limy}` };
  return { to: 'garden, thinned', words: `strong: thin it with as much tap or rain first${limy}` };
}
