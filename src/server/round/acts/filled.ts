import { carePayloads, type CarePayload } from '../../../contract/care.ts';
import { lookWords } from '../../../contract/seen.ts';
import { inSentence } from '../../../core/quantity/index.ts';
import { atThePot } from '../../act/common.ts';
import { act } from '../../act/definition.ts';
import { leftWords, readingWords } from '../../act/words.ts';
import { lookOf, requireVolumesFit } from '../../collection/index.ts';
import { requirePot } from '../../database/records.ts';

/** A pot flushed and filled, with what stood in it read first. */
export const filled = act({
  kind: 'potFilled',
  payload: carePayloads.potFilled,
  group: 'Round',
  where: atThePot,
  words: (p, { batchName, water }, vol) => {
    const mix = p.batchId
      ? `of ${batchName}`
      : p.told
        ? toldWords(p.told)
        : p.waterId
          ? `of ${water ? inSentence(water) : 'plain water'}`
          : 'of a mix not measured';
    const look = lookedAt(p);
    const looked = look && Object.keys(look.cues).length + look.note.length > 0 ? `; saw ${lookWords(look)}` : '';
    return `${p.flushMl > 0 ? `Flushed ${vol(p.flushMl)}, filled` : 'Filled'} ${vol(p.pouredMl)} ${mix}${looked}`;
  },
  undone: 'Took a filling back',
  dates: { days: ['dueOn'] },
  figures: ({ oldReservoir }) => oldReservoir,
  correct: {
    fixed: [
      'dueOn',
      'batchId',
      'ppmMeterId',
      'phMeterId',
      'waterId',
      'waterEcUsCm',
      'turn',
      'brought',
      'told',
      'askedFor',
    ],
    figures: (p, vol) => {
      const look = lookedAt(p);
      return [
        readingWords(p.oldReservoir.ppm, 'ppm'),
        readingWords(p.oldReservoir.ph, 'pH'),
        leftWords(p.oldReservoir.leftMl, vol),
        `filled ${vol(p.pouredMl)}`,
        `flushed ${vol(p.flushMl)}`,
        look ? lookWords(look) : 'not looked over',
      ];
    },
    before: async (manager, { potId }, payload) =>
      requireVolumesFit(manager, await requirePot(manager, potId!), { ...payload, confirmedOdd: true }),
  },
});

/** What older records tell it was filled with. */
function toldWords({ ppm, ph, productId }: NonNullable<CarePayload<'potFilled'>['told']>): string {
  const read = [
    ...(ppm.kind === 'notMeasured' ? [] : [readingWords(ppm, 'ppm')]),
    ...(ph.kind === 'notMeasured' ? [] : [readingWords(ph, 'pH')]),
  ];
  return `of ${productId === null ? 'plain water' : 'feed'}${read.length > 0 ? ` that read ${read.join(', ')}` : ''}`;
}

/** Before looks had grades, and before they were noted at all. */
const lookedAt = ({ look, seen }: Partial<Pick<CarePayload<'potFilled'>, 'look' | 'seen'>>) =>
  lookOf({ look: look ?? null, seen: seen ?? null });
