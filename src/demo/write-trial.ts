import { plusDays } from '../core/regimen/index.ts';
import { seededRandom } from '../core/simulation/index.ts';
import { matchedPairs } from '../core/trial/index.ts';
import { changeRecords, type RecordChange } from '../server/database/records.ts';
import { PLACES, TRIAL } from './scenario.ts';
import { uuidFrom, type LivePot, type World } from './world.ts';

const DAYS_PER_WEEK = 7;
const SEED = 1109;

/** A trial under way on the lamp shelf. Nothing that the readings were simulated with knows of it: whatever it shows is chance. */
export async function writeTrial({ manager, today }: World, pots: readonly LivePot[], weeks: number): Promise<void> {
  if (weeks * DAYS_PER_WEEK <= TRIAL.daysAgo) return;
  // A source of its own: what else the demo holds stays as it was.
  const random = seededRandom(SEED);
  const uuid = () => uuidFrom(random);
  const codes: readonly string[] = TRIAL.pots;
  const chosen = pots.filter(({ spec }) => codes.includes(spec.code)).slice(0, codes.length);
  const { pairs } = matchedPairs(
    chosen.map(({ id, spec }) => ({
      id,
      place: PLACES.find(({ key }) => key === spec.place)!.key,
      plant: spec.name,
      fillMl: spec.reservoirMl,
      before: null,
    })),
    SEED,
  );
  const [trialId, on] = [uuid(), plusDays(today, -TRIAL.daysAgo)];
  const codeOf = new Map(chosen.map(({ id, spec }) => [id, spec.code]));
  await changeRecords(manager, {
    eventId: uuid(),
    when: { at: new Date(`${on}T17:40:00Z`), localDate: on },
    group: 'Trial',
    words: `Began a trial: ${TRIAL.question} ${pairs.map(([first]) => codeOf.get(first)).join(', ')} ${TRIAL.doing}`,
    changes: [
      {
        table: 'trial',
        id: trialId,
        after: {
          question: TRIAL.question,
          change: JSON.stringify({ kind: 'own', words: TRIAL.doing }),
          measure: 'strength',
          matters: TRIAL.matters,
          startOn: on,
          weeks: TRIAL.weeks,
          alike: JSON.stringify(TRIAL.alike),
          seed: SEED,
          endedOn: null,
          endWhy: '',
        },
      },
      ...pairs.flatMap((pair, i) =>
        pair.map((potId, arm): RecordChange => ({
          table: 'trial_pot',
          id: uuid(),
          after: { trialId, potId, arm, pair: i, fromOn: plusDays(on, 1), leftOn: null, leftWhy: '' },
        })),
      ),
    ],
  });
}
