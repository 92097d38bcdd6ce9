import { useRef, useState, type FormEvent, type KeyboardEvent, type Ref } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { RoundAct, RoundMix, RoundPot, RoundView } from '../../contract/round.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { isWriting } from '../shell/is-writing.ts';
import { mL } from '../shell/format.ts';
import { useDip } from '../shell/use-dip.ts';
import { useDraft } from '../shell/use-draft.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import { CardButtons } from './card-buttons.tsx';
import { FillSteps } from './fill-steps.tsx';
import { flushLogged } from './flush-words.ts';
import { EMPTY_DRAFT, FIELDS, readDraft, readLook, type Draft, type Errors, type Field } from './read-draft.ts';
import { PotHead } from './pot-head.tsx';
import { PenFields } from './pen-fields.tsx';
import { StandsNow } from './stands-now.tsx';
import { SkipForm } from './skip-form.tsx';
import { SoakNow } from './soak-now.tsx';
import { SomethingQuick } from './something-quick.tsx';

type Props = {
  pot: RoundPot;
  mix: RoundMix | undefined;
  view: RoundView;
  waiting: boolean;
  onDone(): void;
  onUndo: (() => void) | undefined;
  ref?: Ref<HTMLElement>;
};

/** One pot on the round: its steps in order, and one key to log it. */
export function PotCard({ pot, mix, view, waiting, onDone, onUndo, ref }: Props) {
  const { put } = useActs();
  const narrow = useNarrow();
  const [draft, change, clear] = useDraft<Draft>(`round-pot:${pot.id}:${pot.due.dueOn}`, EMPTY_DRAFT);
  const [errors, setErrors] = useState<Errors>({});
  const [skipping, setSkipping] = useState(false);
  const [busy, setBusy] = useState(false);
  /** What was typed when the server asked about it. */
  const [asked, setAsked] = useState<string>();
  const form = useRef<HTMLFormElement>(null);
  const field = (name: Field) => form.current?.querySelector<HTMLInputElement>(`[name=${name}]`);

  const ppmDip = useDip(view.ppmMeter?.simulated ? view.ppmMeter.id : undefined, 'pot', pot.id, (shown) =>
    change({ ppm: shown === 'over' ? 'over' : String(shown) }),
  );
  const phDip = useDip(view.phMeter?.simulated ? view.phMeter.id : undefined, 'pot', pot.id, (shown) =>
    change({ ph: String(shown) }),
  );
  const canDip = view.ppmMeter?.simulated || view.phMeter?.simulated;
  const [withoutSoak, setWithoutSoak] = useState(false);
  const [early, setEarly] = useState(false);
  const isDue = (pot.due.daysLate >= 0 || early) && !waiting;
  const poured = mix?.batch?.status === 'poured' && mix.batch.leftMl > 0 ? mix.batch : undefined;
  const plain = pot.watering.what === 'plain' ? pot.watering.waterId : null;
  const ready = poured ?? (plain === null ? undefined : { id: null });
  const soakMix = view.mixes.find((m) => m.key === pot.soak?.mixKey);
  const soaking = pot.inSoak !== null || (isDue && pot.soak !== null && !pot.soak.given && !withoutSoak);

  const dip = () => (document.activeElement === field('ph') ? phDip : ppmDip).start();
  const startReading = (event?: { key: string }) => {
    const target = field('ppm');
    target?.focus();
    if (event && /^\d$/.test(event.key)) change({ ppm: event.key });
  };
  useHotkeys('r', (e) => (e.preventDefault(), startReading()), { enabled: isDue });
  useHotkeys('0,1,2,3,4,5,6,7,8,9', (e) => (e.preventDefault(), startReading(e)), { enabled: isDue });
  useHotkeys('s', () => setSkipping(true), { enabled: isDue, preventDefault: true });
  useHotkeys('p', dip, {
    enabled: isDue && Boolean(canDip),
    enableOnFormTags: true,
    preventDefault: true,
    // Not in a note, nor in a field of another form.
    ignoreEventWhen: ({ target }) =>
      isWriting(target) || (target instanceof HTMLInputElement && target.form !== form.current),
  });

  const enterGoesOn = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    if (event.repeat) return;
    const fields = (['left', 'ppm', 'ph'] as const).map(field);
    const i = fields.indexOf(event.currentTarget);
    const next = fields.slice(i + 1).find((f) => f && f.value === '');
    if (i >= 0 && next) next.focus();
    else void log();
  };

  const log = async () => {
    if (busy || !isDue) return;
    const parsed = readDraft(draft, pot);
    if (!parsed.ok) {
      setErrors(parsed.errors);
      const first = FIELDS.find((f) => parsed.errors[f]);
      if (first) field(first)?.focus();
      return;
    }
    const looked = readLook(draft);
    if (!looked.ok) {
      setErrors(looked.errors);
      return;
    }
    const { flushMl, ...readings } = parsed.readings;
    const act: RoundAct = {
      kind: 'filled',
      potId: pot.id,
      dueOn: pot.due.dueOn,
      batchId: poured?.id ?? null,
      waterId: poured ? null : plain,
      turn: pot.watering.turn,
      ...readings,
      ...flushLogged(pot, flushMl),
      ppmMeterId: view.ppmMeter?.id ?? null,
      phMeterId: view.phMeter?.id ?? null,
      look: looked.look,
      // Asked about once: unchanged and kept once more, it stands.
      confirmedOdd: asked !== undefined && asked === JSON.stringify(parsed.readings),
    };
    await send(act, `${pot.code} filled with ${mL(parsed.readings.pouredMl)}`);
  };

  const begin = async () => {
    if (busy || !pot.soak) return;
    const { what, way, pouredMl, holdMinutes } = pot.soak;
    const act: RoundAct = {
      kind: 'supplement',
      potId: pot.id,
      dueOn: pot.due.dueOn,
      what,
      way,
      pouredMl,
      holdMinutes: way === 'soak' ? holdMinutes : null,
      batchId: soakMix?.batch?.id ?? null,
      clockId: newId(),
    };
    await send(
      act,
      way === 'soak' ? `${pot.code} is in its soak` : `${pot.code} sprayed`,
      way === 'soak' ? 'next' : 'stay',
    );
  };
  const drain = () => {
    if (pot.inSoak)
      void send(
        { kind: 'drained', potId: pot.id, supplementId: pot.inSoak.id },
        `${pot.code} drained: flush and fill it`,
        'stay',
      );
  };

  /** `clear`: the pot is done; `next`: it waits while another is in hand; `stay`: it is still in hand. */
  const send = async (act: RoundAct, words: string, then: 'clear' | 'next' | 'stay' = 'clear') => {
    setBusy(true);
    setErrors({});
    try {
      const id = newId();
      await put(
        { id, url: `/api/round/acts/${id}`, body: act, words, ...(then === 'clear' ? { subject: pot.id } : {}) },
        { toast: words, wait: false },
      );
      if (then === 'clear') clear();
      if (then !== 'stay') onDone();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      const { problem } = error;
      setAsked(undefined);
      if (problem.code === 'already-logged') {
        clear();
        setErrors({
          form: `${pot.code} was already logged${problem.existing ? ` at ${new Date(problem.existing.at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}` : ''}, perhaps on the other device. Nothing was logged twice.`,
        });
      } else
        setErrors({
          fill: error.at('pouredMl'),
          flush: error.at('flushMl'),
          runOff: error.at('runOffPpm'),
          ppm: error.at('oldReservoir.ppm'),
          ph: error.at('oldReservoir.ph'),
          left: error.at('oldReservoir.leftMl'),
          form: problem.errors?.length ? undefined : problem.detail,
        });
      if (problem.code === 'reading-odd') {
        const parsed = readDraft(draft, pot);
        if (parsed.ok) setAsked(JSON.stringify(parsed.readings));
      }
    } finally {
      setBusy(false);
    }
  };

  const readings = (
    <PenFields
      of="Old reservoir"
      ppmMeter={view.ppmMeter}
      phMeter={view.phMeter}
      expected={pot.expected}
      draft={draft}
      errors={errors}
      dips={{ ppm: ppmDip, ph: phDip }}
      change={change}
      onKeyDown={enterGoesOn}
    />
  );

  const buttons = (
    <CardButtons
      {...{ pot, mix, isDue, waiting, early, busy, narrow }}
      ready={ready !== undefined}
      error={errors.form}
      onSkip={() => setSkipping(true)}
    />
  );

  const head = (
    <PotHead
      pot={pot}
      mix={mix}
      soakMix={soaking ? soakMix : undefined}
      isDue={isDue}
      onUndo={narrow ? onUndo : undefined}
    />
  );

  const note = isDue && (
    <>
      {pot.waits && <div className="why waits">{pot.waits}</div>}
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

  const steps = isDue ? (
    <FillSteps
      pot={pot}
      mix={mix}
      draft={draft}
      errors={errors}
      change={change}
      onKeyDown={enterGoesOn}
      readings={narrow ? null : readings}
      before={pot.soak?.given ? `${pot.soak.words}: given` : undefined}
    />
  ) : (
    !pot.done && !waiting && <StandsNow expected={pot.expected} />
  );
  const soakPart = soaking && (
    <SoakNow
      pot={pot}
      mix={soakMix}
      narrow={narrow}
      busy={busy}
      begin={() => void begin()}
      drain={drain}
      without={() => setWithoutSoak(true)}
    />
  );
  const quick = !soaking && !waiting && pot.done?.kind !== 'filled' && (
    <SomethingQuick pot={pot} view={view} fill={isDue ? undefined : () => setEarly(true)} />
  );

  const submit = (event: FormEvent) => {
    event.preventDefault();
    void log();
  };

  return (
    <aside ref={ref} className={narrow ? 'pot-card narrow' : 'sheet pot-card'} aria-label={`${pot.code} ${pot.name}`}>
      {skipping ? (
        <div className={narrow ? 'now' : ''}>
          {head}
          <SkipForm
            pot={pot}
            today={view.today}
            onCancel={() => setSkipping(false)}
            onSkip={(reason, lookAgainOn) => {
              setSkipping(false);
              void send(
                { kind: 'skipped', potId: pot.id, dueOn: pot.due.dueOn, reason, lookAgainOn },
                `${pot.code} skipped: ${reason}`,
              );
            }}
          />
        </div>
      ) : (
        <form
          ref={form}
          onSubmit={submit}
          noValidate
          onKeyDown={(e) => e.key === 'Enter' && e.repeat && e.preventDefault()}
        >
          {narrow ? (
            <>
              <div className="now">
                {head}
                {soakPart || (
                  <>
                    {isDue && (
                      <>
                        <div>
                          <small>Step 2 · what was tipped out</small>
                          <div className="num fs-4">Read the old reservoir</div>
                        </div>
                        {readings}
                      </>
                    )}
                    {buttons}
                  </>
                )}
              </div>
              {note}
              {!pot.inSoak && (soaking || steps) && (
                <div className="sheet px-3">
                  {soaking && (
                    <div className="small pt-2">What was tipped out and how it looks is kept until it is filled:</div>
                  )}
                  {soaking && <div className="pt-2">{readings}</div>}
                  {steps}
                </div>
              )}
            </>
          ) : (
            <>
              {head}
              {note}
              {soaking ? (
                <>
                  {soakPart}
                  {!pot.inSoak && readings}
                  {errors.form && (
                    <p className="field-error mb-1" role="alert">
                      {errors.form}
                    </p>
                  )}
                </>
              ) : (
                <>
                  {steps}
                  {buttons}
                </>
              )}
            </>
          )}
        </form>
      )}
      {!skipping && quick}
    </aside>
  );
}
