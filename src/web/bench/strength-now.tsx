import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { MOST_DROPS } from '../../core/strength/tool.ts';
import type { BatchView, CoachAdvice } from '../../contract/bench.ts';
import { litres, doseMl, ppmText } from '../shell/format.ts';
import type { SendStep } from './send-step.ts';
import { CountDropper } from './count-dropper.tsx';
import { OtherDose, type Dose } from './other-dose.tsx';
import { ReadingEntry } from './reading-entry.tsx';
import { UndoKey } from './undo-key.tsx';
import { Icon } from '../drawing/icon.tsx';

type Props = { view: BatchView; send: SendStep; dipNow: boolean; onUndo(): void; onGoOn(): void };

/** The next act on the way to strength: one sentence, one quantity, one field. */
export function StrengthNow({ view, send, dipNow, onUndo, onGoOn }: Props) {
  const { advice } = view;
  switch (advice.kind) {
    case 'readBase':
      return (
        <section className="now" aria-label="Now">
          <small>Before anything goes in</small>
          <div className="say">
            Read the plain
            <br />
            {view.water.name.toLowerCase()}
          </div>
          <small>
            {litres(view.volumeL)} in the {view.vessel.name.toLowerCase()}. Rinse the pen, dip, stir, wait until it stands still. Everything is counted over
            this figure.
          </small>
          <ReadingEntry
            batchId={view.id}
            moment="base"
            quantity="ppm"
            label="plain water, ppm"
            expected={view.water.expectedPpm === null ? undefined : ppmText(view.water.expectedPpm)}
            meter={view.ppmMeter}
            onKeep={(reading) => send({ kind: 'base', reading }, 'The water’s reading')}
          />
        </section>
      );
    case 'add':
      return <AddPortion key={view.rows.length} view={view} advice={advice} send={send} onUndo={onUndo} />;
    case 'readAgain':
    case 'overRange':
      return (
        <section className="now" aria-label="Now">
          <small>{advice.kind === 'overRange' ? 'The pen was past its end' : 'It is in'}</small>
          <div className="say">{advice.kind === 'overRange' ? 'Thin it, then read again' : 'Stir, then read'}</div>
          <small>
            {advice.kind === 'overRange'
              ? 'A pen that shows its over mark tells nothing of how much too strong it is. Take the last portion back and add water, or throw this batch out.'
              : `It should land between ${ppmText(advice.expected.lowPpm)} and ${ppmText(advice.expected.highPpm)}, nine times in ten.`}
          </small>
          <ReadingEntry
            batchId={view.id}
            moment={`after-${view.lastEventId}`}
            quantity="ppm"
            label="pen reads, ppm"
            expected={advice.kind === 'readAgain' ? ppmText(advice.expected.ppm) : undefined}
            meter={view.ppmMeter}
            dipNow={dipNow}
            onKeep={(reading, again) => send({ kind: 'reading', reading, confirmedOdd: again }, 'A reading')}
            onUndo={onUndo}
          />
        </section>
      );
    case 'inside':
      return (
        <section className="now" aria-label="Now">
          <small>Strength</small>
          <div className="say">On target{view.rows.length > 1 ? ` at ${ppmText(lastReading(view))}` : ''}</div>
          <small>
            Inside {ppmText((view.basePpm ?? 0) + view.aim.lowPpm)} to {ppmText((view.basePpm ?? 0) + view.aim.highPpm)}. Nothing more goes in; pH comes last,
            because everything before moves it.
          </small>
          <Button variant="clay" size="lg" autoFocus onClick={onGoOn}>
            {view.phMeter ? 'On to the pH' : 'On to pouring'}
          </Button>
          <UndoKey onUndo={onUndo} />
        </section>
      );
    case 'thin':
      return <ThinOut key={view.rows.length} view={view} advice={advice} send={send} onUndo={onUndo} />;
    case 'tooCoarse':
      return (
        <section className="now" aria-label="Now">
          <small>As near as these tools get</small>
          <div className="say">
            Stop at {ppmText(lastReading(view))},
            <br />
            or measure finer
          </div>
          <small>
            One step of your finest tool is {doseMl(advice.stepMl)} and would carry this past its band. A finer syringe, or more water in the batch, would get
            nearer.
          </small>
          <Button variant="clay" size="lg" onClick={onGoOn}>
            Leave it here
          </Button>
          <UndoKey onUndo={onUndo} />
        </section>
      );
  }
}

function AddPortion({ view, advice, send, onUndo }: { view: BatchView; advice: Extract<CoachAdvice, { kind: 'add' }>; send: SendStep; onUndo(): void }) {
  const [other, setOther] = useState<Dose>();
  const advised: Dose = { toolId: advice.toolId, steps: advice.steps, doseMl: advice.doseMl, relativeSd: advice.relativeSd };
  const dose = other ?? advised;
  const tool = view.tools.find((t) => t.id === dose.toolId);
  const inDrops = tool?.kind === 'dropper';
  const words = `${doseMl(dose.doseMl)} of ${view.product.short}`;
  return (
    <section className="now" aria-label="Now">
      <small>
        Portion {advice.portion} of about {Math.max(advice.portion, advice.portionsLikely)} · stir it in before you read
      </small>
      {view.thinRatio > 1 && advice.portion === 1 && (
        <div className="caution">
          <Icon name="dropletHalf" />
          <span>
            One drop of it plain would jump half the band. First thin it: 1 part {view.product.short} and {view.thinRatio - 1} of the same water; measure from
            that.
          </span>
        </div>
      )}
      <div className="say">
        Add {inDrops ? `${dose.steps}\u00a0drop${dose.steps === 1 ? '' : 's'}` : doseMl(dose.doseMl)}
        <br />
        of the {view.thinRatio > 1 ? `thinned ${view.product.short}` : view.product.short}
      </div>
      <small>
        {inDrops ? `${doseMl(dose.doseMl)} from the ${tool.name.toLowerCase()}, ${tool.dropsPerMl ?? 'perhaps 20'} to the mL.` : `With the ${tool?.name}.`}{' '}
        {inDrops && !other && dose.steps >= MOST_DROPS && 'As many as one counts without losing count; a larger syringe would do it in one. '}
        {other
          ? 'Your own amount; the coach will take it from there.'
          : `It should land between ${ppmText(advice.expected.lowPpm)} and ${ppmText(advice.expected.highPpm)}; ${advice.pastHard < 0.001 ? 'it will not' : 'it is most unlikely to'} pass ${ppmText(advice.hardPpm)}.`}
      </small>
      {advice.dropSizeIsGuess && <CountDropper toolId={advice.toolId} toolName={advice.toolName} />}
      <ReadingEntry
        batchId={view.id}
        moment={`portion-${advice.portion}`}
        quantity="ppm"
        label="pen reads, ppm"
        expected={other ? undefined : ppmText(advice.expected.ppm)}
        meter={view.ppmMeter}
        onKeep={(reading, again) => send({ kind: 'portion', dose, reading, confirmedOdd: again }, words)}
        beforeDip={async () => (await send({ kind: 'portion', dose, reading: null, confirmedOdd: false }, words, true), false)}
        onUndo={onUndo}
      />
      <OtherDose view={view} dose={other} onChange={setOther} />
    </section>
  );
}

function ThinOut({ view, advice, send, onUndo }: { view: BatchView; advice: Extract<CoachAdvice, { kind: 'thin' }>; send: SendStep; onUndo(): void }) {
  const addL = Math.max(0.01, Math.round(advice.addL * 100) / 100);
  const pourOffL = Math.round(advice.pourOffL * 100) / 100;
  const words = `${litres(addL)} of water`;
  return (
    <section className="now" aria-label="Now">
      <small>{advice.pastHard ? 'Past its limit: thin it out' : 'A little over: thin it out'}</small>
      <div className="say">
        {advice.plan === 'pourOffAndReplace' && (
          <>
            Pour off {litres(pourOffL)},
            <br />
          </>
        )}
        {advice.plan === 'pourOffAndReplace' ? 'then add' : 'Add'} {litres(addL)}
        <br />
        of {view.water.name.toLowerCase()}
      </div>
      <small>
        {advice.plan === 'add'
          ? `The ${advice.vesselName.toLowerCase()} holds it: ${litres(view.volumeL + addL)} of ${litres(view.vessel.capacityL)}. `
          : `The ${advice.vesselName.toLowerCase()} would not hold the water alone. What you pour off can water tolerant garden plants, thinned. `}
        It should then read about {ppmText(advice.expectedPpm)}.
      </small>
      <ReadingEntry
        batchId={view.id}
        moment={`thin-${view.rows.length}`}
        quantity="ppm"
        label="pen reads, ppm"
        expected={ppmText(advice.expectedPpm)}
        meter={view.ppmMeter}
        onKeep={(reading) => send({ kind: 'thin', addL, pourOffL, reading }, words)}
        beforeDip={async () => (await send({ kind: 'thin', addL, pourOffL, reading: null }, words, true), false)}
        onUndo={onUndo}
      />
    </section>
  );
}

function lastReading(view: BatchView): number {
  return [...view.rows].reverse().find((r) => r.readsPpm !== null)?.readsPpm ?? 0;
}
