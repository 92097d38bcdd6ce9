import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { NOT_MEASURED, type Reading } from '../../core/quantity/reading.ts';
import { WATER_BANDS } from '../../core/solution/water-verdict.ts';
import { inSentence } from '../../core/quantity/words.ts';
import { MOST_DROPS } from '../../core/strength/tool.ts';
import type { BatchView } from '../../contract/bench.ts';
import type { CoachAdvice } from '../../contract/coach.ts';
import { Icon } from '../drawing/icon.tsx';
import { doseMl, litres, NBSP, ppmText } from '../shell/format.ts';
import { CountDropper } from './count-dropper.tsx';
import { BySchool, MoreThanUsual } from './as-it-reads.tsx';
import { amountWords, lastReading, partShort } from './bench-words.ts';
import { OtherDose, type Dose } from './other-dose.tsx';
import { PrepareFirst } from './prepare-first.tsx';
import { ReadingEntry } from './reading-entry.tsx';
import type { SendStep } from './send-step.ts';
import { ThinOut } from './thin-out.tsx';
import { UndoKey } from './undo-key.tsx';
import { WaitButtons } from './wait-buttons.tsx';

type Props = { view: BatchView; send: SendStep; dipNow: boolean; onUndo(): void; onGoOn(): void };

/** The next act on the way to strength: one sentence, one quantity, one field. */
export function StrengthNow({ view, send, dipNow, onUndo, onGoOn }: Props) {
  const { advice } = view;
  switch (advice.kind) {
    case 'readBase':
      return <ReadBase view={view} send={send} />;
    case 'add':
      return <AddPortion key={view.rows.length} view={view} advice={advice} send={send} onUndo={onUndo} />;
    case 'readAgain':
    case 'overRange':
      return <ReadAgain view={view} advice={advice} send={send} dipNow={dipNow} onUndo={onUndo} />;
    case 'inside':
      return <Inside view={view} onUndo={onUndo} onGoOn={onGoOn} />;
    case 'thin':
      return <ThinOut key={view.rows.length} view={view} advice={advice} send={send} onUndo={onUndo} />;
    case 'tooCoarse':
      return <TooCoarse view={view} advice={advice} send={send} onUndo={onUndo} />;
  }
}

/** What is in is stirred and read, or was past the pen's end. */
function ReadAgain({
  view,
  advice,
  send,
  dipNow,
  onUndo,
}: Omit<Props, 'onGoOn'> & { advice: Extract<CoachAdvice, { kind: 'readAgain' | 'overRange' }> }) {
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
      {advice.kind === 'readAgain' && (
        <div className="entry-keys">
          <button
            type="button"
            onClick={() => void send({ kind: 'leave', part: advice.part, why: 'unread' }, 'Not measured')}
          >
            The pen is dead: go on, not measured
          </button>
        </div>
      )}
    </section>
  );
}

/** The strength is reached. */
function Inside({ view, onUndo, onGoOn }: Pick<Props, 'view' | 'onUndo' | 'onGoOn'>) {
  return (
    <section className="now" aria-label="Now">
      <small>{view.parts.length > 1 ? 'Everything is in' : 'Strength'}</small>
      <div className="say">{insideWords(view)}</div>
      <small>
        {view.parts.length === 0
          ? 'Plain water: nothing goes in but what brings the pH into its window.'
          : 'pH comes last, because everything before moves it.'}
      </small>
      <MoreThanUsual view={view} />
      <BySchool view={view} />
      <Button variant="clay" size="lg" autoFocus onClick={onGoOn}>
        {view.phMeter ? 'On to the pH' : 'On to pouring'}
      </Button>
      <UndoKey onUndo={onUndo} />
    </section>
  );
}

/** No tool at hand measures so little. */
function TooCoarse({
  view,
  advice,
  send,
  onUndo,
}: Pick<Props, 'view' | 'send' | 'onUndo'> & { advice: Extract<CoachAdvice, { kind: 'tooCoarse' }> }) {
  return (
    <section className="now" aria-label="Now">
      <small>As near as these tools get</small>
      <div className="say">
        Stop at {ppmText(lastReading(view))},
        <br />
        or measure finer
      </div>
      <small>
        One step of your finest tool is {doseMl(advice.stepMl)} and would carry this past its band. A finer syringe, or
        more water in the batch, would get nearer.
      </small>
      <Button
        variant="clay"
        size="lg"
        onClick={() =>
          void send(
            { kind: 'leave', part: advice.part, why: 'coarse' },
            `${partShort(view, advice.part)} left as it is`,
          )
        }
      >
        Leave it here
      </Button>
      <UndoKey onUndo={onUndo} />
    </section>
  );
}

function insideWords(view: BatchView): string {
  if (view.parts.length === 0) return `Water, reads ${ppmText(view.basePpm ?? 0)}`;
  if (view.parts.some((p) => p.state === 'byRecipe')) return 'All in, by recipe';
  const last = view.rows.at(-1)?.readsPpm;
  return last == null ? 'All in, not measured' : `On target at ${ppmText(last)}`;
}

/** No pen: what the water brings is not read, and only what is said of the strength depends on it. */
function UnreadBase({ view, send }: { view: BatchView; send: SendStep }) {
  return (
    <section className="now" aria-label="Now">
      <small>Without a pen</small>
      <div className="say">
        {litres(view.volumeL)} of {inSentence(view.water.name)}
        <br />
        into the {inSentence(view.vessel.name)}
      </div>
      <small>Nobody reads it: it is kept as not measured, and everything goes in by measure.</small>
      <Button
        variant="clay"
        size="lg"
        autoFocus
        onClick={() => void send({ kind: 'base', reading: NOT_MEASURED }, 'Water not measured')}
      >
        It is in
      </Button>
    </section>
  );
}

/** A pen found off, or not at zero in air: said where it is used. */
function StrengthPenOff({ meter }: { meter: BatchView['ppmMeter'] }) {
  if (!meter || meter.off === null) return null;
  const { name, off, zeroBy } = meter;
  return (
    <div className="caution">
      <Icon name="exclamationTriangle" />
      <span>
        {name} {off}.{' '}
        {zeroBy > 0
          ? `Rinse, dry and set it, or take the ${zeroBy} off what it shows, in the water and in the mix alike: over the water it then cancels out.`
          : 'Set it on the Shelf, or read with another. What it shows is kept and drawn hollow.'}
      </span>
    </div>
  );
}

function ReadBase({ view, send }: { view: BatchView; send: SendStep }) {
  if (!view.ppmMeter) return <UnreadBase view={view} send={send} />;
  return (
    <section className="now" aria-label="Now">
      <small>Before anything goes in</small>
      <div className="say">
        Read the plain
        <br />
        {inSentence(view.water.name)}
      </div>
      <small>
        {litres(view.volumeL)} in the {inSentence(view.vessel.name)}. Rinse the pen, dip, stir, wait until it stands
        still. Everything is counted over this figure.
      </small>
      <StrengthPenOff meter={view.ppmMeter} />
      <ReadingEntry
        batchId={view.id}
        moment="base"
        quantity="ppm"
        label="plain water, ppm"
        expected={view.water.expectedPpm === null ? undefined : ppmText(view.water.expectedPpm)}
        meter={view.ppmMeter}
        onKeep={(reading, again) => send({ kind: 'base', reading, confirmedOdd: again }, 'The water’s reading')}
      />
      {view.water.expectedPpm !== null && (
        <div className="entry-keys">
          <button
            type="button"
            onClick={() => void send({ kind: 'base', reading: NOT_MEASURED }, 'Water not measured')}
          >
            Not measured: take it as {ppmText(view.water.expectedPpm)}, as it last read
          </button>
        </div>
      )}
    </section>
  );
}

type Add = Extract<CoachAdvice, { kind: 'add' }>;

function AddPortion({ view, advice, send, onUndo }: { view: BatchView; advice: Add; send: SendStep; onUndo(): void }) {
  const [other, setOther] = useState<Dose>();
  const part = view.parts[advice.part]!;
  const advised: Dose = {
    toolId: advice.toolId,
    steps: advice.steps,
    doseMl: advice.doseMl,
    relativeSd: advice.relativeSd,
  };
  const dose = other ?? advised;
  const tool = view.tools.find((t) => t.id === dose.toolId);
  const counted = tool?.kind !== 'syringe';
  const amount = amountWords(dose, tool?.kind ?? 'granules', tool?.name);
  const words = `${amount} of ${part.short}`;
  const give = (reading: Reading | null, more: { again?: boolean; byRecipe?: boolean; thenDip?: boolean } = {}) => {
    const step = {
      kind: 'portion',
      part: advice.part,
      dose,
      reading,
      confirmedOdd: more.again ?? false,
      byRecipe: more.byRecipe ?? false,
    } as const;
    return more.thenDip ? send(step, words, true) : send(step, words);
  };
  return (
    <section className="now" aria-label="Now">
      <small>{headWords(view, advice)}</small>
      {advice.portion === 1 && <PrepareFirst part={part} />}
      <div className="say">
        Add {counted ? amount : doseMl(dose.doseMl)}
        <br />
        of the {{ plain: '', thinned: 'thinned ', stock: '', granules: '' }[part.method]}
        {part.short}
        {part.method === 'stock' && ' stock'}
      </div>
      <MeasuredWith dose={dose} counted={counted} tool={tool} other={other} advice={advice} view={view} />
      {advice.portion === 1 && <FirstCautions view={view} part={part} />}
      {advice.dropSizeIsGuess && advice.toolId && <CountDropper toolId={advice.toolId} toolName={advice.toolName} />}
      {advice.way === 'recipe' && (
        <Button variant="clay" size="lg" autoFocus onClick={() => void give(null, { byRecipe: true })}>
          It is in, by recipe
        </Button>
      )}
      {!view.ppmMeter && <InUnread onIn={() => void give(NOT_MEASURED)} onUndo={onUndo} />}
      <ReadingEntry
        batchId={view.id}
        moment={`portion-${advice.part}-${advice.portion}`}
        quantity="ppm"
        label="pen reads, ppm"
        expected={other ? undefined : ppmText(advice.expected.ppm)}
        meter={view.ppmMeter}
        autoFocus={advice.way !== 'recipe'}
        onKeep={(reading, again) => give(reading, { again })}
        beforeDip={async () => (await give(null, { thenDip: true }), false)}
        onUndo={onUndo}
      />
      <OtherWays advice={advice} give={give} part={part} send={send} view={view} />
      <OtherDose view={view} part={part} dose={other} onChange={setOther} />
    </section>
  );
}

/** No pen to read it with. */
function InUnread({ onIn, onUndo }: { onIn(): void; onUndo(): void }) {
  return (
    <>
      <Button variant="clay" size="lg" autoFocus onClick={onIn}>
        It is in, stirred
      </Button>
      <UndoKey onUndo={onUndo} />
    </>
  );
}

function OtherWays({
  advice,
  give,
  part,
  send,
  view,
}: {
  advice: Add;
  give(reading: Reading): Promise<unknown>;
  part: BatchView['parts'][number];
  send: SendStep;
  view: BatchView;
}) {
  return (
    <div className="entry-keys">
      {advice.way === 'measure' && view.ppmMeter && (
        <button type="button" onClick={() => void give(NOT_MEASURED)}>
          It is in, not measured
        </button>
      )}
      {part.portions > 0 && (
        <button
          type="button"
          onClick={() =>
            void send(
              { kind: 'leave', part: advice.part, why: 'enough' },
              `${part.short} left at ${ppmText(part.netPpm ?? 0)} over`,
            )
          }
        >
          Leave it here
        </button>
      )}
      {part.method === 'stock' && !part.stock?.madeOn && advice.portion === 1 && (
        <WaitButtons view={view} waits={['dissolve']} />
      )}
    </div>
  );
}

function MeasuredWith({
  dose,
  counted,
  tool,
  other,
  advice,
  view,
}: {
  view: BatchView;
  dose: Dose;
  counted: boolean;
  tool: BatchView['tools'][number] | undefined;
  other: Dose | undefined;
  advice: Add;
}) {
  return (
    <small>
      {dose.toolId === null
        ? 'One by one, of about the same size; stir until the last is gone.'
        : tool?.kind === 'spoon'
          ? `Level, ${doseMl(dose.doseMl)} in all.`
          : counted
            ? `${doseMl(dose.doseMl)} from the ${inSentence(tool?.name ?? '')}, ${tool?.dropsPerMl ?? 'perhaps 20'} to the mL.`
            : `With the ${tool?.name}.`}{' '}
      {counted &&
        !other &&
        dose.steps >= MOST_DROPS &&
        'As many as one counts without losing count; a larger syringe would do it in one. '}
      {other ? 'Your own amount; the coach will take it from there.' : expectWords(view, advice)}
      {!other && windowWords(advice)}
    </small>
  );
}

/** What is to be minded with the first of it. */
function FirstCautions({ view, part }: { view: BatchView; part: BatchView['parts'][number] }) {
  return (
    <>
      <StrengthPenOff meter={view.ppmMeter} />
      {view.use === 'soak' && (view.basePpm ?? 0) / (2 * view.scale) > WATER_BANDS.shortSoak && (
        <div className="caution">
          <Icon name="infoCircle" />
          <span>
            The water reads {ppmText(view.basePpm ?? 0)}: practice with short soaks ends at about{' '}
            {ppmText(2 * view.scale * WATER_BANDS.shortSoak)}. Blend it with still water, or give the soak another time.
          </span>
        </div>
      )}
      {part.kind === 'silicate' && <small>Well diluted, slowly, stirring: silicate poured in thick clouds.</small>}
      {part.caution && (
        <div className="caution">
          <Icon name="exclamationTriangle" />
          <span>{part.caution}</span>
        </div>
      )}
    </>
  );
}

/** "13 to 20 drops in all land inside; 12 is a little low." */
function windowWords({ window, toolKind, toolName, portion }: Add): string {
  if (!window) return '';
  const of = (steps: number) => amountWords({ steps, doseMl: 0 }, toolKind, toolName);
  const range =
    window.from === window.to
      ? `Only ${of(window.to)} land`
      : `${of(window.from).split(NBSP)[0]} to ${of(window.to)} land`;
  const low = window.from > 1 ? `; ${of(window.from - 1).split(NBSP)[0]} a little low` : '';
  return ` ${range} inside${portion > 1 ? ' from here' : ' in all'}, as the bottle is known${low}.`;
}

function headWords(view: BatchView, advice: Add): string {
  const turn = view.parts.length > 1 ? `${advice.part + 1} of ${view.parts.length} · ` : '';
  if (advice.way === 'recipe') return `${turn}by recipe, not read · stir it in`;
  if (advice.way === 'measure')
    return `${turn}by measure, all of it · stir it in${view.ppmMeter ? ' before you read' : ''}`;
  return `${turn}Portion ${advice.portion} of about ${Math.max(advice.portion, advice.portionsLikely)} · stir it in before you read`;
}

function expectWords(view: BatchView, advice: Add): string {
  if (!view.ppmMeter)
    return `A pen would read between ${ppmText(advice.expected.lowPpm)} and ${ppmText(advice.expected.highPpm)}, reckoned by what is known of it.`;
  const range = `It should land between ${ppmText(advice.expected.lowPpm)} and ${ppmText(advice.expected.highPpm)}`;
  if (advice.hardPpm === null) return `${range}.`;
  const seldom = advice.pastHard < 0.001 ? 'hardly ever' : 'less than once in a hundred';
  return `${range}; ${seldom} past ${ppmText(advice.hardPpm)}, if the bottle is what it was.`;
}
