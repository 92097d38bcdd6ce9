import type { ClayRoom } from '../../contract/clay.ts';
import { answerLeach, leachWish, type LeachWish } from '../../core/clay/index.ts';
import type { PlanLeach } from '../../core/plan/index.ts';

/** What to ask of a batch of new clay in its water. */
export type LeachAsk = {
  readonly id: string;
  readonly name: string;
  /** Its changes draw on the still water. */
  readonly still: boolean;
  readonly wish: LeachWish;
};

const HOUR_MS = 3_600_000;
const A_DAY_H = 24;

/** Batches that are being leached. By the hour, so that a page that looks again a minute later asks the same; the season counts the still water itself. */
export function leachAsks(room: ClayRoom): LeachAsk[] {
  const nowMs = Math.floor(Date.parse(room.now) / HOUR_MS) * HOUR_MS;
  const still = room.waters.find(({ kind }) => kind === 'still')?.id;
  return room.batches
    .filter(({ leach, ready, retiredOn }) => leach !== null && leach.drainedAt === null && !ready && retiredOn === null)
    .map((batch) => ({
      id: batch.id,
      name: batch.values.name,
      still: batch.leach!.waterId === still,
      wish: leachWish(batch, nowMs, room.scale, null),
    }));
}

/** The changes of water that the followed way of each still wants: even ones, as a plan takes them. */
export function leachesOf(asks: readonly LeachAsk[]): PlanLeach[] {
  return asks.flatMap(({ id, name, still, wish }): PlanLeach[] => {
    const { ways } = answerLeach(wish);
    const changes = ways.find(({ way }) => way === wish.way)?.plan.changes ?? [];
    const [first, ...later] = changes;
    if (!first) return [];
    const gaps = later.map((change, i) => change.inHours - changes[i]!.inHours);
    const mean = (figures: readonly number[]) => figures.reduce((sum, figure) => sum + figure, 0) / figures.length;
    const gapDays = gaps.length === 0 ? 1 : Math.max(1, Math.round(mean(gaps) / A_DAY_H));
    const changeL = still ? Number(mean(changes.map(({ freshL }) => freshL)).toFixed(1)) : 0;
    return [
      { id, name, changeL, gapDays, dueOn: Math.max(0, Math.round(first.inHours / A_DAY_H)), changes: changes.length },
    ];
  });
}
