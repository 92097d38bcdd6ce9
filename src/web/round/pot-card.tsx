import { useState, type FormEvent, type ReactNode, type Ref } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { RoundAct, RoundMix, RoundPot, RoundView } from '../../contract/round.ts';
import { newId } from '../shell/api.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import { CardButtons } from './card-buttons.tsx';
import { FillSteps } from './fill-steps.tsx';
import { PenFields } from './pen-fields.tsx';
import { PotHead } from './pot-head.tsx';
import { LeftUnread, ReadWhy } from './read-why.tsx';
import { SkipForm } from './skip-form.tsx';
import { SoakNow } from './soak-now.tsx';
import { SomethingQuick } from './something-quick.tsx';
import { StandsNow } from './stands-now.tsx';
import { usePotFilling } from './use-pot-filling.ts';
import { askedNow, CALLED, type AsksHere } from './what-is-asked.ts';

type Props = {
  pot: RoundPot;
  mix: RoundMix | undefined;
  view: RoundView;
  waiting: boolean;
  /** How many more are given the same and could be logged with it, and the way there. */
  others: number;
  onMany(): void;
  onDone(): void;
  onUndo: (() => void) | undefined;
  /** On a phone, under what is in hand. */
  below?: ReactNode;
  ref?: Ref<HTMLElement>;
};

/** One pot on the round: its steps in order, and one key to log it. */
export function PotCard(props: Props) {
  const { pot, mix, view, waiting, onUndo, ref } = props;
  const narrow = useNarrow();
  const [skipping, setSkipping] = useState(false);
  const filling = usePotFilling(props);
  const { form, isDue, log, send, fillEarly } = filling;
  const soak = useSoak(props, filling);
  useHotkeys('s', () => setSkipping(true), { enabled: isDue, preventDefault: true });
  const head = (
    <PotHead
      pot={pot}
      mix={mix}
      soakMix={soak.soaking ? soak.mix : undefined}
      isDue={isDue}
      onUndo={narrow ? onUndo : undefined}
    />
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void log();
  };
  const skip = (reason: string, lookAgainOn: string | null) => {
    setSkipping(false);
    const act = { kind: 'skipped', potId: pot.id, dueOn: pot.due.dueOn, reason, lookAgainOn } as RoundAct;
    void send(act, `${pot.code} skipped: ${reason}`);
  };
  const parts = partsOf(props, { filling, soak, narrow, onSkip: () => setSkipping(true) });
  const Arranged = narrow ? OnThePhone : AtTheTable;
  return (
    <aside ref={ref} className={narrow ? 'pot-card narrow' : 'sheet pot-card'} aria-label={`${pot.code} ${pot.name}`}>
      {skipping ? (
        <div className={narrow ? 'now' : ''}>
          {head}
          <SkipForm pot={pot} today={view.today} onCancel={() => setSkipping(false)} onSkip={skip} />
        </div>
      ) : (
        <form
          ref={form}
          onSubmit={submit}
          noValidate
          onKeyDown={(e) => e.key === 'Enter' && e.repeat && e.preventDefault()}
        >
          <Arranged {...parts} head={head} below={props.below} inSoak={pot.inSoak !== null} />
        </form>
      )}
      {!skipping && !soak.soaking && !waiting && pot.done?.kind !== 'filled' && (
        <SomethingQuick pot={pot} view={view} fill={isDue ? undefined : fillEarly} />
      )}
    </aside>
  );
}

/** A pot that is to be soaked first, or stands in its soak. */
function useSoak({ pot, view }: Props, { isDue, busy, send }: ReturnType<typeof usePotFilling>) {
  const [without, setWithout] = useState(false);
  const mix = view.mixes.find((m) => m.key === pot.soak?.mixKey);
  const begin = async () => {
    if (busy || !pot.soak) return;
    const { what, way, pouredMl, holdMinutes } = pot.soak;
    const held = way === 'soak';
    const act: RoundAct = {
      ...{ kind: 'supplement', potId: pot.id, dueOn: pot.due.dueOn, what, way, pouredMl },
      holdMinutes: held ? holdMinutes : null,
      batchId: mix?.batch?.id ?? null,
      clockId: newId(),
    };
    await send(act, held ? `${pot.code} is in its soak` : `${pot.code} sprayed`, held ? 'next' : 'stay');
  };
  const drain = () => {
    if (!pot.inSoak) return;
    const act = { kind: 'drained', potId: pot.id, supplementId: pot.inSoak.id } as const;
    void send(act, `${pot.code} drained: flush and fill it`, 'stay');
  };
  return {
    mix,
    soaking: pot.inSoak !== null || (isDue && pot.soak !== null && !pot.soak.given && !without),
    begin: () => void begin(),
    drain,
    without: () => setWithout(true),
  };
}

type Parts = {
  isDue: boolean;
  soaking: boolean;
  /** Why it is read. */
  why: ReactNode;
  /** What of it may be left. */
  left: ReactNode;
  note: ReactNode;
  readings: ReactNode;
  /** What is to be read, in words. */
  read: string;
  steps: ReactNode;
  soakPart: ReactNode;
  buttons: ReactNode;
  error: string | undefined;
};
type Arranging = {
  filling: ReturnType<typeof usePotFilling>;
  soak: ReturnType<typeof useSoak>;
  narrow: boolean;
  onSkip(): void;
};

function partsOf(
  { pot, mix, view, waiting, others, onMany }: Props,
  { filling, soak, narrow, onSkip }: Arranging,
): Parts {
  const { draft, errors, change, dips, enterGoesOn, isDue, early, busy, ready, flush, asks, log } = filling;
  const asked = askedNow(asks);
  const readings = (
    <PenFields
      of="Old reservoir"
      ppmMeter={view.ppmMeter}
      phMeter={view.phMeter}
      expected={pot.expected}
      {...{ draft, errors, dips, change, asks }}
      onKeyDown={enterGoesOn}
    />
  );
  const fillSteps = (
    <FillSteps
      {...{ pot, mix, draft, errors, change, flush, asks }}
      onKeyDown={enterGoesOn}
      readings={narrow ? null : readings}
      before={pot.soak?.given ? `${pot.soak.words}: given` : undefined}
    />
  );
  return {
    isDue,
    soaking: soak.soaking,
    error: errors.form,
    why: isDue && asks && <ReadWhy asks={asks} />,
    left: isDue && asks && <LeftUnread pot={pot} asks={asks} />,
    note: isDue ? <Notes pot={pot} /> : pot.byPlan && <div className="why">{pot.byPlan}</div>,
    readings,
    read: readTitle(asks),
    steps: isDue ? fillSteps : !pot.done && !waiting && <StandsNow expected={pot.expected} />,
    soakPart: soak.soaking && <SoakNow {...soak} {...{ pot, narrow, busy }} />,
    buttons: (
      <CardButtons
        {...{ pot, mix, isDue, waiting, early, busy, narrow, ready, others, onMany, onSkip }}
        onLeave={asked.length > 0 ? () => void log(true) : undefined}
        error={errors.form}
      />
    ),
  };
}

/** What is to be read of it, as a phone says it in large. */
function readTitle(asks: AsksHere | undefined): string {
  if (!asks) return 'Read the old reservoir';
  const asked = askedNow(asks).map((what) => CALLED[what]);
  return asked.length === 0 ? 'Nothing to read' : `Read its ${asked.join(' and its ')}`;
}

function Notes({ pot }: { pot: RoundPot }) {
  return (
    <>
      {pot.waits && <div className="why waits">{pot.waits}</div>}
      {pot.byPlan && <div className="why">{pot.byPlan}</div>}
      {pot.trial && <div className="why">{pot.trial}</div>}
      {pot.note && (
        <div className="why">
          <b>{pot.note.fact}</b> {pot.note.evidence}
        </div>
      )}
      {pot.due.pastLimit > 0 && (
        <div className="why">The old solution stands {pot.due.pastLimit} d past its outer limit.</div>
      )}
      {pot.watering.because.length > 0 && <div className="small because">{pot.watering.because.join('; ')}</div>}
    </>
  );
}

type Arrangement = Parts & { head: ReactNode; below: ReactNode; inSoak: boolean };

/** Wet hands: the reading and the one button stand in the dark card, everything else below it. */
function OnThePhone(parts: Arrangement) {
  const { head, below, inSoak, isDue, soaking, why, left, note, readings, read, steps, soakPart, buttons } = parts;
  return (
    <>
      <div className="now">
        {head}
        {soakPart || (
          <>
            {isDue && (
              <>
                <div>
                  <small>Step 2 · what was tipped out</small>
                  <div className="num fs-4">{read}</div>
                </div>
                {why}
                {readings}
              </>
            )}
            {buttons}
          </>
        )}
      </div>
      {below}
      {soaking && why}
      {left}
      {note}
      {!inSoak && (soaking || steps) && (
        <div className="sheet px-3">
          {soaking && (
            <div className="small pt-2">What was tipped out and how it looks is kept until it is filled:</div>
          )}
          {soaking && <div className="pt-2">{readings}</div>}
          {steps}
        </div>
      )}
    </>
  );
}

function AtTheTable({
  head,
  inSoak,
  soaking,
  why,
  left,
  note,
  readings,
  steps,
  soakPart,
  buttons,
  error,
}: Arrangement) {
  if (!soaking)
    return (
      <>
        {head}
        {why}
        {left}
        {note}
        {steps}
        {buttons}
      </>
    );
  return (
    <>
      {head}
      {why}
      {left}
      {note}
      {soakPart}
      {!inSoak && readings}
      {error && (
        <p className="field-error mb-1" role="alert">
          {error}
        </p>
      )}
    </>
  );
}
