import Button from 'react-bootstrap/Button';
import { METER_CONDITION_WORDS } from '../../contract/kinds.ts';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { STANDARDS } from '../../core/quantity/index.ts';
import { useActs } from '../shell/acts.tsx';
import { dayMonth, dayMonthYear } from '../shell/format.ts';
import type { RoomMeter } from './chemistry.ts';
import type { SheetProps, SmallKind } from './sheet.tsx';
import { TaintedReadings } from './tainted-readings.tsx';

type Check = RoomMeter['checks'][number];

/** A pen or kit: the routine at use, its checks against standards, how it stands, and what it taints. */
export function MeterSheet({ room, thing: meter, small, act }: SheetProps<RoomMeter>) {
  const { undo } = useActs();
  const { values } = meter;
  const kit = values.kind === 'kit';
  const main = meter.id === room.mainPpmMeterId || meter.id === room.mainPhMeterId;
  const open = meter.taints.find((t) => t.to === null);
  return (
    <>
      <Acts kit={kit} small={small} open={open} main={main} values={values} act={act} meter={meter} />
      <table className="facts">
        <tbody>
          <tr>
            <th scope="row">Stands</th>
            <td>{stateWords(meter, room.today)}</td>
          </tr>
          {!kit && (
            <tr>
              <th scope="row">Now</th>
              <td>{offsetWords(meter)}</td>
            </tr>
          )}
          {!kit && values.quantity === 'ppm' && (
            <tr>
              <th scope="row">In air</th>
              <td>{zeroWords(meter.checks)}</td>
            </tr>
          )}
          <tr>
            <th scope="row">Is</th>
            <td>
              {METER_CONDITION_WORDS[values.condition]}
              {values.quantity === 'ppm' &&
                (values.compensated
                  ? ', brings its reading to 25 °C'
                  : ', not compensated: it reads about 2 % more for each °C over 25')}
            </td>
          </tr>
        </tbody>
      </table>
      <Taints meter={meter} undo={undo} />
      <TaintedReadings meter={meter} today={room.today} />
      {!kit && (
        <section aria-label="Checks">
          <h3>Checks</h3>
          {meter.checks.length === 0 ? (
            <p className="small mb-0">Never checked. A month is good; by habit twice a year.</p>
          ) : (
            <table className="facts checks">
              <thead>
                <tr>
                  <th scope="col">Day</th>
                  <th scope="col">in</th>
                  <th scope="col">showed</th>
                  <th scope="col">so</th>
                </tr>
              </thead>
              <tbody>
                {meter.checks.slice(0, 12).map((c) => (
                  <tr key={c.id}>
                    <th scope="row">{dayMonth(c.on)}</th>
                    <td>{c.standard === 'zero' ? 'air' : STANDARDS[c.standard].name}</td>
                    <td className="num">{c.shown}</td>
                    <td>
                      {c.good ? '✓ in order' : !c.settled ? 'would not settle' : errorWords(c, values.quantity)}
                      {c.adjusted && ', set'}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
      )}
      <details className="small routine">
        <summary>Before each use</summary>
        {kit ? (
          <p className="mb-0">
            Rinse the tube with the sample, count the drops, shake, hold it to the card in daylight. Type what it says
            as a range, such as 6.0-6.5.
          </p>
        ) : (
          <ol className="mb-0">
            {values.quantity === 'ppm' && <li>In air it must show 0.</li>}
            <li>Rinse it in clean water and shake it off.</li>
            <li>Dip, stir with it, and wait until it stands still.</li>
            <li>
              {values.quantity === 'pH'
                ? 'Store it wet. One that will not settle has a flat battery or a dying probe.'
                : 'Rinse it again before the next sample.'}
            </li>
          </ol>
        )}
      </details>
    </>
  );
}

function Acts({
  kit,
  small,
  open,
  main,
  values,
  act,
  meter,
}: {
  kit: boolean;
  small: (kind: SmallKind) => void;
  open: RoomMeter['taints'][number] | undefined;
  main: boolean;
  values: RoomMeter['values'];
  act: SheetProps<RoomMeter>['act'];
  meter: SheetProps<RoomMeter>['thing'];
}) {
  return (
    <div className="d-flex gap-2 flex-wrap">
      {!kit && <Button onClick={() => small('check')}>Check it now</Button>}
      {!open && (
        <Button variant="outline-secondary" onClick={() => small('mark')}>
          It reads wrong
        </Button>
      )}
      {!main && values.unit === 'ppm' && (
        <Button
          variant="outline-secondary"
          aria-label={`Take ${values.name} as the pen at hand`}
          onClick={() => void act({ kind: 'main', meterId: meter.id }, `${values.name} is the pen at hand`)}
        >
          At hand
        </Button>
      )}
    </div>
  );
}

function Taints({ meter, undo }: { meter: SheetProps<RoomMeter>['thing']; undo: (targetId: string) => Promise<void> }) {
  return meter.taints.map((taint) => (
    <section key={taint.markId} className="taint" aria-label="What it taints">
      <p className="mb-0">
        <b>
          {taint.readings} reading{taint.readings === 1 ? '' : 's'}
        </b>{' '}
        {taint.fromOn ? `since ${dayMonth(taint.fromOn)}` : 'of all it ever read'}
        {taint.toOn ? ` until ${dayMonth(taint.toOn)}` : ''} {taint.toOn ? 'were' : 'are'} drawn hollow and count less
        {taint.batches > 0 && `; they touch ${taint.batches} batch${taint.batches === 1 ? '' : 'es'}`}.
        {taint.why && ` Why: ${taint.why}.`}
      </p>
      <Button size="sm" variant="outline-secondary" onClick={() => void undo(taint.markId)}>
        Undo, draw them solid
      </Button>
    </section>
  ));
}

/** In order, due, or off: said in words beside the colour. */
export function stateWords(meter: RoomMeter, today: string): string {
  const open = meter.taints.find((t) => t.to === null);
  if (open) return `off${open.fromOn ? ` since ${dayMonth(open.fromOn)}` : ''}: not to be trusted until it is set`;
  if (meter.dueOn === null) return 'never found in order by a check';
  return meter.dueOn < today
    ? `due a check since ${dayMonth(meter.dueOn)}`
    : `in order on ${dayMonthYear(meter.lastGoodOn!)}, next check ${dayMonth(meter.dueOn)}`;
}

/** 'fine', 'due' or 'off', for the picture. */
export function standing(meter: RoomMeter, room: ShelfRoom): 'fine' | 'due' | 'off' | 'unknown' {
  if (meter.taints.some((t) => t.to === null)) return 'off';
  if (meter.values.kind === 'kit') return 'fine';
  if (meter.dueOn === null) return 'unknown';
  return meter.dueOn < room.today || meter.values.condition !== 'fine' ? 'due' : 'fine';
}

function offsetWords(meter: RoomMeter): string {
  if (meter.offset === null) return 'nobody knows by how much it is off';
  const by =
    meter.values.quantity === 'pH'
      ? `${signed(meter.offset, 2)} at the last standard`
      : `${signed(100 * meter.offset, 1)} % at the last standard`;
  return meter.slope === null ? by : `${by}; slope ${Math.round(100 * meter.slope)} %`;
}

function zeroWords(checks: readonly Check[]): string {
  const zero = checks.find((c) => c.standard === 'zero');
  return zero
    ? `showed ${zero.shown} on ${dayMonth(zero.on)}${zero.good ? '' : ': not at zero, mark it or set it'}`
    : 'not looked at';
}

function errorWords(check: Check, quantity: 'ppm' | 'pH'): string {
  if (check.standard === 'zero') return `${check.shown} too much`;
  return quantity === 'pH' ? `${signed(check.error, 2)} off` : `${signed(100 * check.error, 0)} % off`;
}

export const signed = (value: number, digits: number) => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(digits)}`;
