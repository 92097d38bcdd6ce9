import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import type { BatchView, CoachAdvice } from '../../contract/bench.ts';
import { newId } from '../shell/api.ts';
import { inLargeUnit, largeSign, litres, ppmText, readLarge } from '../shell/format.ts';
import { partShort } from './bench-words.ts';
import { ReadingEntry } from './reading-entry.tsx';
import type { SendStep } from './send-step.ts';

/** Who can take what was poured off; kept, it becomes a batch of its own. */
const KEPT = 'another vessel, kept and labelled';
const TAKERS = ['tolerant garden plants, thinned', 'soil plants, thinned', KEPT, 'the drain'] as const;

type Thin = Extract<CoachAdvice, { kind: 'thin' }>;
type Own = { add: string; off: string };

/** Too strong: so much water, or so much poured off first when the vessel would not hold it. */
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
  const [to, setTo] = useState<string>(TAKERS[0]);
  const [keptId] = useState(newId);
  const [own, setOwn] = useState<Own>();
  const advised = {
    addL: Math.max(0.01, Math.round(advice.addL * 100) / 100),
    pourOffL: Math.round(advice.pourOffL * 100) / 100,
  };
  const { addL, pourOffL } = own
    ? { addL: litresOf(own.add), pourOffL: own.off.trim() === '' ? 0 : litresOf(own.off) }
    : advised;
  const words = `${litres(addL)} of water`;
  const pouring = own ? pourOffL > 0 : advice.plan === 'pourOffAndReplace';
  const step = {
    kind: 'thin',
    addL,
    pourOffL,
    to: pouring ? to : '',
    keepAs: pouring && to === KEPT ? keptId : null,
  } as const;
  return (
    <section className="now" aria-label="Now">
      <small>{advice.pastHard ? 'Past its limit: thin it out' : 'A little over: thin it out'}</small>
      <ThinWords view={view} advice={advice} advised={advised} />
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
      {own && <OwnAmounts own={own} change={setOwn} off={pourOffL >= 0} added={addL > 0} />}
      {addL > 0 && pourOffL >= 0 && (
        <ReadingEntry
          batchId={view.id}
          moment={`thin-${view.rows.length}`}
          quantity="ppm"
          label="pen reads, ppm"
          expected={own ? undefined : ppmText(advice.expectedPpm)}
          meter={view.ppmMeter}
          // It comes while the amount is still being typed: the cursor stays where it is.
          autoFocus={!own}
          onKeep={(reading) => send({ ...step, reading }, words)}
          beforeDip={async () => (await send({ ...step, reading: null }, words, true), false)}
          onUndo={onUndo}
        />
      )}
      <div className="entry-keys">
        <button type="button" onClick={() => setOwn(own ? undefined : { add: '', off: '' })}>
          {own ? 'As advised' : 'I poured other amounts'}
        </button>
        <button
          type="button"
          onClick={() =>
            void send(
              { kind: 'leave', part: advice.part, why: 'enough' },
              `${partShort(view, advice.part)} left over its band`,
            )
          }
        >
          Leave it as it is
        </button>
      </div>
    </section>
  );
}

/** What to do, and what it comes to. */
function ThinWords({
  view,
  advice,
  advised,
}: {
  view: BatchView;
  advice: Thin;
  advised: { addL: number; pourOffL: number };
}) {
  const toPour = advice.plan === 'pourOffAndReplace';
  const thinner = view.parts.filter((p, i) => i < advice.part && p.netPpm !== null);
  const share = view.basePpm === null ? 1 : (advice.expectedPpm - view.basePpm) / Math.max(1, lastNet(view));
  return (
    <>
      <div className="say">
        {toPour && (
          <>
            Pour off {litres(advised.pourOffL)},
            <br />
          </>
        )}
        {toPour ? 'then add' : 'Add'} {litres(advised.addL)}
        <br />
        of {view.water.name.toLowerCase()}
      </div>
      <small>
        {toPour
          ? `The ${advice.vesselName.toLowerCase()} would not hold the water alone. `
          : `The ${advice.vesselName.toLowerCase()} holds it: ${litres(view.volumeL + advised.addL)} of ${litres(view.vessel.capacityL)}. `}
        It should then read about {ppmText(advice.expectedPpm)}; thinned mixes read a few percent over that.
        {thinner.map((p) => ` ${p.short} thins with it, from ${ppmText(p.netPpm!)} to ${ppmText(p.netPpm! * share)}.`)}
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
