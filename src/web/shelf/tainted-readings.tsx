import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { MeterReadings } from '../../contract/shelf.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { get } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';
import type { RoomMeter } from './chemistry.ts';
import { ReadingsChart } from './readings-chart.tsx';

const DAYS_BACK = 60;
/** Batches named; the rest are counted. */
const NAMED = 6;

/** What a pen read of late, hollow where it was off, and the batches that touches. */
export function TaintedReadings({
  meter,
  today,
  compact = false,
}: {
  meter: RoomMeter;
  today: string;
  compact?: boolean;
}) {
  const from = [
    plusDays(today, -DAYS_BACK),
    ...meter.taints.flatMap((t) => (t.fromOn ? [plusDays(t.fromOn, -20)] : [])),
  ].sort()[0]!;
  const query = useQuery({
    queryKey: ['meter-readings', meter.id, from],
    queryFn: () => get<MeterReadings>(`/api/shelf/meters/${meter.id}/readings?since=${from}`),
  });
  if (!query.data)
    return (
      <p className="small mb-0">
        {query.isPending ? 'Reading what it read …' : 'What it read could not be had just now.'}
      </p>
    );
  const { readings } = query.data;
  const batches = [
    ...new Map(readings.filter((r) => r.tainted && r.of === 'batch').map((r) => [r.subjectId, r])).values(),
  ].reverse();
  const newest = meter.taints[meter.taints.length - 1];
  return (
    <>
      <ReadingsChart
        readings={readings.map((r) => ({ id: `${r.eventId}`, at: r.at, on: r.on, value: r.value, tainted: r.tainted }))}
        what={meter.values.quantity === 'pH' ? 'pH' : meter.values.unit}
        empty="It read nothing of late."
        since={newest?.from}
      />
      {!compact && batches.length > 0 && (
        <ul className="tainted-batches small" aria-label="Batches it taints">
          {batches.slice(0, NAMED).map((b) => (
            <li key={b.subjectId}>
              <Link to={`/bench/${b.subjectId}`}>
                {b.name}, {dayMonth(b.on)}
              </Link>
            </li>
          ))}
          {batches.length > NAMED && <li>and {batches.length - NAMED} more</li>}
        </ul>
      )}
    </>
  );
}
