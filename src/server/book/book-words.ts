import type { CarePayload } from '../../contract/care.ts';
import type { BookEntry } from '../../contract/book.ts';
import { doseWords, STANDARDS, volumeWords, type Reading, type VolumeUnits } from '../../core/quantity/index.ts';
import { lookWords } from '../../contract/seen.ts';
import type { ReadCareEvent } from '../database/care-log.ts';
import { toWords, filledWords, thinnedWords, correctionWords, lookOf } from '../collection/index.ts';

/** What an undo took back, in words. */
export const UNDO_WORDS: Record<string, string> = {
  potFilled: 'Took a filling back',
  potSkipped: 'Took a skip back',
  batchBase: "Took the water's reading back",
  batchPortion: 'Took a portion back',
  batchReading: 'Took a reading back',
  batchThinned: 'Took a thinning back',
  batchPh: 'Took a pH reading back',
  batchPartLeft: 'Took back that a part was left',
  batchCorrection: 'Took a pH correction back',
  photoKept: 'Took a photo away',
  batchPoured: 'Opened a batch again',
  batchAbandoned: 'Took a thrown-out batch back',
  batchAssigned: 'Took back that a leftover was meant for the round',
  batchEmptied: 'Took an emptied leftover back',
  dropperCounted: 'Took a dropper count back',
  waterRead: "Took a water's reading back",
  waterCounted: 'Took a look into a tank back',
  meterChecked: 'Took a check of a pen back',
  meterMarkedOff: 'Drew the readings of a pen solid again',
  recordsChanged: 'Took a change back',
  clayFilled: 'Took a change of water back',
  clayRead: "Took a soak's reading back",
  clayDrained: 'Put the clay back in its water',
  clayDried: 'Took a drying-out back',
  potHoldStarted: 'Took a hold back',
  potHoldRead: "Took a hold's reading back",
  potHoldDrained: 'Took a draining back',
  supplementStarted: 'Took a soak or spray back',
  supplementEnded: 'Put a pot back in its soak',
  potToppedUp: 'Took a top-up back',
  potLooked: 'Took a look back',
  potReread: "Took a pot's reading back",
  potPhotoKept: 'Took a photo away',
  soakStarted: 'Took a soak test back',
  soakRead: "Took a soak test's reading back",
  soakEnded: 'Opened a soak test again',
  potPotted: 'Took a potting-up back',
  undone: 'Put an act back',
};

export type Told = { group: BookEntry['group']; what: string; ppm?: Reading | null; ph?: Reading | null };
/** Names an event needs to be told: of its batch, water and product. */
export type Names = { batchName: string | null; water: string | null; product: string | null; meter: string | null; toolKind: string | null };

/** One event in the words of the book. */
export function tell(event: ReadCareEvent, names: Names, units: VolumeUnits): Told {
  const vol = (ml: number) => volumeWords(ml, units);
  switch (event.kind) {
    case 'potFilled': {
      const p = event.payload;
      const mix = p.batchId ? `of ${names.batchName}` : p.waterId ? `of ${names.water?.toLowerCase() ?? 'plain water'}` : 'of a mix not measured';
      const look = lookOf({ look: p.look ?? null, seen: p.seen ?? null });
      const looked = look && Object.keys(look.cues).length + look.note.length > 0 ? `; saw ${lookWords(look)}` : '';
      return {
        group: 'Round',
        what: `${p.flushMl > 0 ? `Flushed ${vol(p.flushMl)}, filled` : 'Filled'} ${vol(p.pouredMl)} ${mix}${looked}`,
        ppm: p.oldReservoir.ppm,
        ph: p.oldReservoir.ph,
      };
    }
    case 'potSkipped':
      return { group: 'Skip', what: `Skipped: ${event.payload.reason}; look again ${event.payload.lookAgainOn}` };
    case 'batchStarted':
      return { group: 'Mix', what: `Started ${vol(event.payload.volumeL * 1000)} of ${names.water?.toLowerCase() ?? 'water'}` };
    case 'batchBase':
      return { group: 'Mix', what: `Read the plain ${names.water?.toLowerCase() ?? 'water'}`, ppm: event.payload.reading };
    case 'batchPortion':
      return { group: 'Mix', what: `Added ${doseWords(event.payload.dose.doseMl)} of ${names.product ?? 'feed'}`, ppm: event.payload.reading };
    case 'batchPartLeft':
      return { group: 'Mix', what: `${names.product ?? 'A part'} left as it was${LEFT_WORDS[event.payload.why]}` };
    case 'batchReading':
      return { group: 'Mix', what: 'Read the mix', ppm: event.payload.reading };
    case 'batchThinned':
      return { group: 'Mix', what: thinnedWords(event.payload, vol), ppm: event.payload.reading };
    case 'batchPh':
      return { group: 'Mix', what: 'Read the pH', ph: event.payload.reading };
    case 'batchCorrection':
      return {
        group: 'Mix',
        what: `pH correction, ${correctionWords(event.payload, names.toolKind)}${names.product ? ` of ${names.product}` : ''}`,
        ph: event.payload.reading,
      };
    case 'photoKept':
      return { group: 'Mix', what: 'Put a photo beside a reading' };
    case 'batchPoured':
      return { group: 'Mix', what: `Ready to pour, ${vol(event.payload.volumeL * 1000)}` };
    case 'batchAbandoned':
      return { group: 'Mix', what: `Thrown out, ${vol(event.payload.volumeL * 1000)}${event.payload.reason ? `: ${event.payload.reason}` : ''}` };
    case 'batchAssigned':
      return { group: 'Mix', what: 'Taken for the round, as it is left over' };
    case 'batchEmptied':
      return { group: 'Mix', what: `Leftover ${vol(event.payload.leftMl)} to ${event.payload.to || 'the garden'}` };
    case 'dropperCounted':
      return { group: 'Check', what: `Counted a dropper: ${event.payload.dropsPerMl} drops to the mL` };
    case 'potReread':
      return { group: 'Round', what: event.payload.words, ppm: event.payload.ppm, ph: event.payload.ph };
    case 'waterRead':
      return { group: 'Check', what: `Read ${names.water ?? 'a water'}`, ppm: event.payload.ppm, ph: event.payload.ph };
    case 'waterCounted':
      return { group: 'Check', what: `${names.water ?? 'The tank'} holds ${vol(event.payload.litres * 1000)}` };
    case 'meterChecked':
      return { group: 'Check', what: checkWords(event.payload, names.meter ?? 'A pen') };
    case 'meterMarkedOff':
      return {
        group: 'Check',
        what: `Marked ${names.meter ?? 'a pen'} as off${event.payload.why ? `: ${event.payload.why}` : ''}; its readings are drawn hollow`,
      };
    case 'recordsChanged':
      return { group: event.payload.group, what: event.payload.words };
    case 'clayFilled':
      return { group: 'Clay', what: filledWords(event.payload, names.water, vol) };
    case 'clayRead':
      return { group: 'Clay', what: 'Read the soak', ppm: event.payload.ppm, ph: event.payload.ph };
    case 'clayDrained':
      return { group: 'Clay', what: `Drained ${vol(event.payload.pouredOffL * 1000)}${toWords(event.payload.to)}` };
    case 'potHoldRead':
      return { group: 'Clay', what: event.payload.words, ppm: event.payload.reading };
    case 'clayDried':
    case 'potHoldStarted':
    case 'potHoldDrained':
      return { group: 'Clay', what: event.payload.words };
    case 'soakRead':
      return { group: 'Drift', what: event.payload.words, ppm: event.payload.ppm, ph: event.payload.ph };
    case 'supplementStarted':
    case 'supplementEnded':
    case 'potToppedUp':
    case 'potLooked':
    case 'potPhotoKept':
      return { group: 'Round', what: event.payload.words };
    case 'soakStarted':
    case 'soakEnded':
      return { group: 'Drift', what: event.payload.words };
    case 'potPotted':
      return { group: 'Pots', what: event.payload.words };
    case 'undone':
      return { group: 'Undo', what: UNDO_WORDS[event.payload.targetKind] ?? 'Took an act back' };
  }
}

function checkWords(p: CarePayload<'meterChecked'>, name: string): string {
  const where = p.standard === 'zero' ? 'in air' : `in ${STANDARDS[p.standard].name}`;
  return `Checked ${name} ${where}: showed ${p.shown}${p.settled ? '' : ', would not settle'}${p.adjusted ? ', set to it' : ''}`;
}

const LEFT_WORDS = { coarse: ', as near as the tools get', enough: '', unread: ', not read' } as const;
