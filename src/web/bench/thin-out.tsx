import { useState, type ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { BatchView } from '../../contract/bench.ts';
import type { CoachAdvice } from '../../contract/coach.ts';
import { newId } from '../shell/api.ts';
import { inLargeUnit, largeSign, litres, ppmText, readLarge } from '../shell/format.ts';
import { inSentence } from '../../core/quantity/words.ts';
import { lastReading, partShort } from './bench-words.ts';
import { OddCauses, ReadingEntry } from './reading-entry.tsx';
import type { SendStep } from './send-step.ts';
import { UndoKey } from './undo-key.tsx';

/** Who can take what was poured off; kept, it becomes a batch of its own. */
const KEPT = 'another vessel, kept and labelled';
const TAKERS = ['tolerant garden plants, thinned', 'soil plants, thinned', KEPT, 'the drain'] as const;

type Thin = Extract<CoachAdvice, { kind: 'thin' }>;
type Own = { add: string; off: string };
/** What is done about it: nothing, so much water as brings it back into the band or to the aim, or amounts of one's own. */
type Way = 'leave' | 'edge' | 'aim' | 'own';

/** Too strong. Within its limit it may stay; else the least water comes first, and what must be poured off where the vessel would not hold it. */
export function ThinOut({
  view,
  advice,
  send,
  onUndo,
}: {
  view: BatchView;
  advice: Thin;
  send: SendStep;
  onUndo(): void;
}) {
  const [way, setWay] = useState<Way>(advice.pastHard ? 'edge' : 'leave');
  const [checked, setChecked] = useState(view.usualNetPpm === null);
  const net = lastNet(view);
  const head = `${advice.pastHard ? 'Past its limit' : 'A little over'}: reads ${ppmText(lastReading(view))}, ${ppmText(net)} over the water`;
  if (!checked && view.usualNetPpm !== null)
    return (
      <section className="now" aria-label="Now">
        <small>{head}</small>
        <div className="say">
          A fifth past the usual:
          <br />
          look first
        </div>
        <small>
          This recipe usually comes to {ppmText(view.usualNetPpm)} over the water. Before any water goes in, look at
          these, in order:
        </small>
        <OddCauses moment="thin" quantity="ppm" />
        <Button variant="clay" size="lg" autoFocus onClick={() => setChecked(true)}>
          All in order: it is so strong
        </Button>
        <UndoKey onUndo={onUndo} />
      </section>
    );
  return (
    <section className="now" aria-label="Now">
      <small>{head}</small>
      {way === 'leave' ? (
        <MayStay view={view} advice={advice} net={net} send={send} onUndo={onUndo} />
      ) : (
        <Water key={way} view={view} advice={advice} way={way} send={send} onUndo={onUndo} />
      )}
      <div className="entry-keys">
        <OtherWay to="leave" way={way} onWay={setWay}>
          Leave it as it is
        </OtherWay>
        <OtherWay to="edge" way={way} onWay={setWay}>
          {litres(rounded(advice.edge).addL)} of water: back inside
        </OtherWay>
        {differs(advice) && (
          <OtherWay to="aim" way={way} onWay={setWay}>
            {litres(rounded(advice.aim).addL)}: back to the aim
          </OtherWay>
        )}
        <OtherWay to="own" way={way} onWay={setWay}>
          I poured other amounts
        </OtherWay>
      </div>
    </section>
  );
}

function OtherWay({ to, way, onWay, children }: { to: Way; way: Way; onWay(to: Way): void; children: ReactNode }) {
  if (to === way) return null;
  return (
    <button type="button" onClick={() => onWay(to)}>
      {children}
    </button>
  );
}

const rounded = ({ addL, pourOffL }: Thin['aim']) => ({
  addL: Math.max(0.01, Math.round(addL * 100) / 100),
  pourOffL: Math.round(pourOffL * 100) / 100,
});
/** A tenth of a litre is no choice. */
const differs = ({ edge, aim }: Thin) => Math.abs(edge.addL - aim.addL) >= 0.1;

/** Over its comfortable band: what leaving it means. */
function MayStay({
  view,
  advice,
  net,
  send,
  onUndo,
}: {
  view: BatchView;
  advice: Thin;
  net: number;
  send: SendStep;
  onUndo(): void;
}) {
  const short = partShort(view, advice.part);
  return (
    <>
      <div className="say">{advice.pastHard ? 'Past its limit' : 'It may stay as it is'}</div>
      <small>
        {advice.pastHard
          ? `The limit of this use is ${ppmText(advice.hardPpm)}. Left so, it is poured at your own risk: for tolerant plants, or as a stronger feed less often.`
          : `Comfortable ends at ${ppmText(advice.topPpm)}, the limit is ${ppmText(advice.hardPpm)}: between them nothing is hurt by one watering. Salts reach the top a little sooner, so flush as planned, and aim a little lower next time.`}
      </small>
      <Button
        variant="clay"
        size="lg"
        autoFocus
        onClick={() =>
          void send({ kind: 'leave', part: advice.part, why: 'enough' }, `${short} left at ${ppmText(net)} over`)
        }
      >
        Leave it
      </Button>
      <UndoKey onUndo={onUndo} />
    </>
  );
}

/** So much water, or so much poured off first when the vessel would not hold it; then it is read. */
function Water({
  view,
  advice,
  way,
  send,
  onUndo,
}: {
  view: BatchView;
  advice: Thin;
  way: Exclude<Way, 'leave'>;
  send: SendStep;
  onUndo(): void;
}) {
  const [to, setTo] = useState<string>(TAKERS[0]);
  const [keptId] = useState(newId);
  const [typed, setTyped] = useState<Own>({ add: '', off: '' });
  const own = way === 'own' ? typed : undefined;
  const plan = way === 'aim' ? advice.aim : advice.edge;
  const { addL, pourOffL } = own
    ? { addL: litresOf(own.add), pourOffL: own.off.trim() === '' ? 0 : litresOf(own.off) }
    : rounded(plan);
  const words = `${litres(addL)} of water`;
  const pouring = pourOffL > 0;
  const step = {
    kind: 'thin',
    addL,
    pourOffL,
    to: pouring ? to : '',
    keepAs: pouring && to === KEPT ? keptId : null,
  } as const;
  return (
    <>
      {!own && <ThinWords view={view} advice={advice} plan={plan} />}
      {own && <div className="say">What did you pour?</div>}
      {pouring && (
        <div className="d-flex gap-2 align-items-center">
          <label htmlFor="poured-off-to">What is poured off goes to</label>
          <Form.Select id="poured-off-to" size="sm" value={to} onChange={(e) => setTo(e.target.value)}>
            {TAKERS.map((t) => (
              <option key={t}>{t}</option>
            ))}
          </Form.Select>
        </div>
      )}
      {own && <OwnAmounts own={own} change={setTyped} off={pourOffL >= 0} added={addL > 0} />}
      {addL > 0 && pourOffL >= 0 && (
        <ReadingEntry
          batchId={view.id}
          moment={`thin-${view.rows.length}`}
          quantity="ppm"
          label="pen reads, ppm"
          expected={own ? undefined : ppmText(plan.expectedPpm)}
          meter={view.ppmMeter}
          // It comes while the amount is still being typed: the cursor stays where it is.
          autoFocus={!own}
          onKeep={(reading) => send({ ...step, reading }, words)}
          beforeDip={async () => (await send({ ...step, reading: null }, words, true), false)}
          onUndo={onUndo}
        />
      )}
    </>
  );
}

/** What to do, and what it comes to. */
function ThinWords({ view, advice, plan }: { view: BatchView; advice: Thin; plan: Thin['aim'] }) {
  const { addL, pourOffL } = rounded(plan);
  const toPour = pourOffL > 0;
  const thinner = view.parts.filter((p, i) => i < advice.part && p.netPpm !== null);
  const share = view.basePpm === null ? 1 : (plan.expectedPpm - view.basePpm) / Math.max(1, lastNet(view));
  const vessel = inSentence(advice.vesselName);
  return (
    <>
      <div className="say">
        {toPour && (
          <>
            Pour off {litres(pourOffL)},
            <br />
          </>
        )}
        {toPour ? 'then add' : 'Add'} {litres(addL)}
        <br />
        of {inSentence(view.water.name)}
      </div>
      <small>
        {toPour
          ? `The ${vessel} would not hold the water alone. `
          : `The ${vessel} holds it: ${litres(view.volumeL + addL)} of ${litres(view.vessel.capacityL)}. `}
        It should then read about {ppmText(plan.expectedPpm)}; thinned mixes read a few percent over that.
        {thinner.map((p) => ` ${p.short} thins with it, from ${ppmText(p.netPpm!)} to ${ppmText(p.netPpm! * share)}.`)}
        {!toPour &&
          ` The ${litres(addL)} more than planned is kept track of as left over, for the next pots of this mix.`}
      </small>
    </>
  );
}

/** Amounts of one's own. */
function OwnAmounts({ own, change, off, added }: { own: Own; change(next: Own): void; off: boolean; added: boolean }) {
  return (
    <>
      <div className="d-flex gap-2 align-items-center flex-wrap">
        <label htmlFor="own-off">I poured off</label>
        <Form.Control
          id="own-off"
          size="sm"
          inputMode="decimal"
          className="other-amount"
          value={own.off}
          isInvalid={!off}
          onChange={(e) => change({ ...own, off: e.target.value })}
        />
        <label htmlFor="own-add">and added, {largeSign()}</label>
        <Form.Control
          id="own-add"
          size="sm"
          inputMode="decimal"
          className="other-amount"
          value={own.add}
          isInvalid={!added}
          onChange={(e) => change({ ...own, add: e.target.value })}
        />
      </div>
      {!(added && off) && (
        <small>Give what was added, such as {inLargeUnit(1200)}; nothing poured off may stay empty.</small>
      )}
    </>
  );
}

function litresOf(text: string): number {
  const typed = readLarge(text);
  return typed.kind === 'volume' ? typed.ml / 1000 : NaN;
}

function lastNet(view: BatchView): number {
  return [...view.rows].reverse().find((r) => r.netPpm !== null)?.netPpm ?? 0;
}
