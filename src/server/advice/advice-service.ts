import type { EntityManager } from 'typeorm';
import type { AdviceAct } from '../../contract/advice.ts';
import { SCHOOL_TEXTS } from '../../core/regimen/index.ts';
import { AppError } from '../app-error.ts';
import { collectionOf, followFrom, writeParams } from '../collection/index.ts';
import type { RegimenRow } from '../database/entities.ts';
import { changeRecords, requirePot, type RecordChange } from '../database/records.ts';
import { adviceNow } from './advice-view.ts';

type When = { at: Date; localDate: string };
type Pot = Awaited<ReturnType<typeof requirePot>>;
type Advice = NonNullable<ReturnType<typeof adviceNow>>['advice'];

/**
 * An advice taken up (it becomes a planned act, or a changed regimen) or declined until its evidence changes. One act, undone whole.
 * @throws AppError `not-found`, `changed-since` where the advice stands on something else by now
 */
export async function actOnAdvice(
  manager: EntityManager,
  eventId: string,
  act: AdviceAct,
  when: When,
): Promise<{ repeated: boolean }> {
  const [known] = await manager.query<{ kind: string }[]>('SELECT kind FROM care_event WHERE id = ?', [eventId]);
  if (known?.kind === 'recordsChanged') return { repeated: true };
  const pot = await requirePot(manager, act.potId);
  const now = adviceNow(collectionOf(manager), pot.id, act.rule, when.localDate);
  if (!now || now.advice.evidenceKey !== act.evidenceKey)
    throw new AppError(
      'changed-since',
      `Something was logged of ${pot.code} since, and that advice no longer stands as it was. Look again.`,
    );
  const { advice, state } = now;
  const answer: RecordChange = {
    table: 'advice_answer',
    id: act.answerId,
    after: {
      potId: pot.id,
      rule: act.rule,
      answer: act.kind === 'accept' ? 'accepted' : 'declined',
      evidence: act.evidenceKey,
      onDate: when.localDate,
    },
  };
  const carriedOut = () => CARRIED_OUT[advice.act.kind]({ manager, pot, act, advice, dueOn: state.due.dueOn, when });
  const changes = act.kind === 'accept' ? [answer, ...(await carriedOut())] : [answer];
  const words = `${pot.code}: ${act.kind === 'accept' ? '' : 'not now, '}${advice.title}`;
  return changeRecords(manager, { eventId, when, group: 'Advice', words, changes });
}

type Taken = { manager: EntityManager; pot: Pot; act: AdviceAct; advice: Advice; dueOn: string; when: When };

/** What taking an advice up changes, by what it asks for. */
const CARRIED_OUT: Readonly<Record<Advice['act']['kind'], (taken: Taken) => Promise<RecordChange[]>>> = {
  hold: async () => [],
  plan: async ({ pot, act, advice, dueOn, when }) => [
    {
      table: 'planned_act',
      id: act.planId,
      after: {
        ...{ subjectKind: 'pot', subjectId: pot.id, origin: 'round', originId: null, doneOn: null, droppedOn: null },
        words: advice.act.kind === 'plan' ? advice.act.words : advice.title,
        onDate: dueOn > when.localDate ? dueOn : when.localDate,
      },
    },
  ],
  plainOnly: async ({ manager, pot, act, advice, when }) => {
    const [there] = await manager.query<RegimenRow[]>(
      `SELECT * FROM regimen WHERE kind = 'plain' AND retiredOn IS NULL LIMIT 1`,
    );
    const follow = await followFrom(manager, pot.id, there?.id ?? act.planId, when.localDate, advice.because);
    if (there) return follow;
    const school = SCHOOL_TEXTS.find((s) => s.school === 'plain')!;
    const params = writeParams(school.regimen);
    const after = { name: school.title, kind: 'plain', params, retiredOn: null };
    return [{ table: 'regimen', id: act.planId, after }, ...follow];
  },
  backToFeed: async ({ manager, pot, advice, when }) => {
    const [before] = await manager.query<{ id: string; name: string; retiredOn: string | null }[]>(
      `SELECT r.id, r.name, r.retiredOn FROM pot_regimen pr JOIN regimen r ON r.id = pr.regimenId
         WHERE pr.potId = ? AND pr.fromDate < ? AND r.kind <> 'plain' ORDER BY pr.fromDate DESC LIMIT 1`,
      [pot.id, when.localDate],
    );
    // Changed since, it is its newest version that is followed.
    const newest = before?.retiredOn ? await inUseNow(manager, before.name) : before;
    if (!newest)
      throw new AppError(
        'not-found',
        `What ${pot.code} followed before is not in use any more. Choose a regimen on its page.`,
      );
    return followFrom(manager, pot.id, newest.id, when.localDate, advice.because);
  },
};

async function inUseNow(manager: EntityManager, name: string): Promise<{ id: string } | undefined> {
  const found = 'SELECT id FROM regimen WHERE name = ? AND retiredOn IS NULL';
  return (await manager.query<{ id: string }[]>(found, [name]))[0];
}
