import type { EntityManager } from 'typeorm';
import type { PenAct, PenAdvice } from '../../contract/advice.ts';
import { watchPen, type PenMiss, type PenOff, type PenRound } from '../../core/judgement/index.ts';
import { AppError } from '../app-error.ts';
import { changeRecords, type RecordChange } from '../database/records.ts';
import { collectionOf, potStates, type Collection, type PotState } from '../collection/index.ts';

/** Rounds a pot must have been followed for before its forecast is trusted wholly. */
const TRUSTED_AFTER = 4;
/** Of the first round nothing is known but pots at large: that says nothing of a pen. */
const NEVER_BEFORE = 1;
type What = 'ppm' | 'pH';
type Suspect = { readonly meterId: string; readonly what: What; readonly off: PenOff };

/** How far each reading of each pen lay from what its pot was forecast to read. */
function missesByPen(states: readonly PotState[]): Map<string, { what: What; misses: PenMiss[] }> {
  const byPen = new Map<string, { what: What; misses: PenMiss[] }>();
  const add = (meterId: string | null, what: What, miss: PenMiss) => {
    if (meterId === null || !Number.isFinite(miss.miss)) return;
    const pen = byPen.get(`${meterId}:${what}`) ?? { what, misses: [] };
    pen.misses.push(miss);
    byPen.set(`${meterId}:${what}`, pen);
  };
  for (const { pot, known } of states) {
    let seen = 0;
    for (const { endedOn: on, cameOutEcUsCm, cameOutPh, forecast, ppmMeterId, phMeterId } of known?.intervals ?? []) {
      const weight = Math.min(1, seen / TRUSTED_AFTER);
      if (seen++ < NEVER_BEFORE) continue;
      if (cameOutEcUsCm !== undefined)
        add(ppmMeterId, 'ppm', {
          potId: pot.id,
          on,
          miss: Math.log(Math.max(1, cameOutEcUsCm) / Math.max(1, forecast.ecUsCm)),
          weight,
        });
      if (cameOutPh !== undefined && forecast.ph !== undefined)
        add(phMeterId, 'pH', { potId: pot.id, on, miss: cameOutPh - forecast.ph, weight });
    }
  }
  return byPen;
}

/** Pens that read off all their pots at once and were not checked since. */
function suspects(collection: Collection, today: string): Suspect[] {
  return [...missesByPen(potStates(collection, today))].flatMap(([key, { what, misses }]): Suspect[] => {
    const meterId = key.slice(0, key.lastIndexOf(':'));
    const off = watchPen(misses, what, today);
    const checkedSince = collection.meters
      .get(meterId)
      ?.checks.some((check) => off && check.at.slice(0, 10) >= off.round.on);
    return off && !checkedSince ? [{ meterId, what, off }] : [];
  });
}

const evidenceOf = ({ round }: PenOff) => `${round.from}:${round.on}:${round.readings}`;

/** What is advised of the pens, but for what was answered. */
export function penAdvice(collection: Collection, today: string): PenAdvice[] {
  const { meters, penAnswers: answers } = collection;
  return suspects(collection, today).flatMap(({ meterId, what, off }): PenAdvice[] => {
    const meter = meters.get(meterId);
    const evidenceKey = evidenceOf(off);
    if (!meter || answers.some((a) => a.meterId === meterId && a.evidence === evidenceKey)) return [];
    const { shift, round, before, sure } = off;
    const by =
      what === 'ppm' ? `${Math.round(100 * Math.abs(Math.expm1(shift)))} %` : `${Math.abs(shift).toFixed(1)} pH`;
    return [
      {
        meterId,
        name: meter.name,
        what,
        title: `Check the ${meter.name}: it may read ${by} ${shift > 0 ? 'high' : 'low'}`,
        because: `Read on ${round.readings} pots${round.from === round.on ? '' : ' in a few days'}, it stood ${by} ${shift > 0 ? 'over' : 'under'} what each of them was forecast to read.`,
        then: 'One pot off is that pot; all of them the same way is the pen, or something they share: a hot week, a new bottle, another water. The standard tells.',
        sureWords: `${sure >= 0.7 ? 'fairly sure' : 'a fair guess'}, ${round.readings} readings`,
        rounds: [...before.slice(-4), round].map((r: PenRound) => ({
          on: r.on,
          readings: r.readings,
          off: what === 'ppm' ? 100 * Math.expm1(r.miss) : r.miss,
        })),
        evidenceKey,
      },
    ];
  });
}

/**
 * A check of a pen taken up, as an act on the list, or declined until another round speaks for it. One act, undone whole.
 * @throws AppError `changed-since` where it stands on something else by now
 */
export async function actOnPen(
  manager: EntityManager,
  eventId: string,
  act: PenAct,
  when: { at: Date; localDate: string },
): Promise<{ repeated: boolean }> {
  const [done] = await manager.query<{ kind: string }[]>('SELECT kind FROM care_event WHERE id = ?', [eventId]);
  if (done?.kind === 'recordsChanged') return { repeated: true };
  const collection = collectionOf(manager);
  const now = suspects(collection, when.localDate).find((s) => s.meterId === act.meterId);
  const name = collection.meters.get(act.meterId)?.name;
  if (!now || !name || evidenceOf(now.off) !== act.evidenceKey)
    throw new AppError(
      'changed-since',
      'Something was read or checked since, and that no longer stands as it was. Look again.',
    );
  const words = `Check the ${name} in its standard`;
  const changes: RecordChange[] = [
    {
      table: 'pen_answer',
      id: act.answerId,
      after: {
        meterId: act.meterId,
        answer: act.kind === 'accept' ? 'accepted' : 'declined',
        evidence: act.evidenceKey,
        onDate: when.localDate,
      },
    },
  ];
  if (act.kind === 'accept')
    changes.push({
      table: 'planned_act',
      id: act.planId,
      after: {
        subjectKind: 'collection',
        subjectId: null,
        words,
        onDate: when.localDate,
        origin: 'shelf',
        originId: null,
        doneOn: null,
        droppedOn: null,
      },
    });
  return changeRecords(manager, {
    eventId,
    when,
    group: 'Advice',
    words: act.kind === 'accept' ? words : `Not now: ${words}`,
    changes,
  });
}
