import { useRef, useState, type FormEvent, type KeyboardEvent, type ReactNode, type Ref } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import { SEEN, type Seen } from '../../contract/seen.ts';
import type { RoundAct, RoundMix, RoundPot, RoundView } from '../../contract/round.ts';
import { NOT_MEASURED, parseReading, type ReadingQuantity } from '../../core/quantity/reading.ts';
import { PotSection } from '../drawing/index.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { mL, phText, ppmText } from '../shell/format.ts';
import { useDip } from '../shell/use-dip.ts';
import { useDraft } from '../shell/use-draft.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import { SkipForm } from './skip-form.tsx';
import { Icon } from '../drawing/icon.tsx';

type Draft = { left: string; ppm: string; ph: string; fill: string; seen: Seen[]; looked: boolean };
const EMPTY: Draft = { left: '', ppm: '', ph: '', fill: '', seen: [], looked: false };
type Field = 'left' | 'ppm' | 'ph' | 'fill';
type Errors = Partial<Record<Field | 'form', string>>;

type Props = { pot: RoundPot; mix: RoundMix | undefined; view: RoundView; waiting: boolean; onDone(): void; onUndo: (() => void) | undefined; ref?: Ref<HTMLElement> };

/** One pot on the round: its steps in order, and one key to log it. */
export function PotCard({ pot, mix, view, waiting, onDone, onUndo, ref }: Props) {
  const { put } = useActs();
  const narrow = useNarrow();
  const [draft, change, clear] = useDraft<Draft>(`round:${pot.id}:${pot.due.dueOn}`, EMPTY);
  const [errors, setErrors] = useState<Errors>({});
  const [skipping, setSkipping] = useState(false);
  const [busy, setBusy] = useState(false);
  const form = useRef<HTMLFormElement>(null);
  const field = (name: Field) => form.current?.querySelector<HTMLInputElement>(`[name=${name}]`);

  const ppmDip = useDip(view.ppmMeter?.simulated ? view.ppmMeter.id : undefined, 'pot', pot.id, (shown) => change({ ppm: shown === 'over' ? 'over' : String(shown) }));
  const phDip = useDip(view.phMeter?.simulated ? view.phMeter.id : undefined, 'pot', pot.id, (shown) => change({ ph: String(shown) }));
  const canDip = view.ppmMeter?.simulated || view.phMeter?.simulated;
  const isDue = pot.due.daysLate >= 0 && !waiting;
  const ready = mix?.batch?.status === 'poured' && mix.batch.leftMl > 0 ? mix.batch : undefined;

  const dip = () => (document.activeElement === field('ph') ? phDip : ppmDip).start();
  const startReading = (event?: { key: string }) => {
    const target = field('ppm');
    target?.focus();
    if (event && /^\d$/.test(event.key)) change({ ppm: event.key });
  };
  useHotkeys('r', (e) => (e.preventDefault(), startReading()), { enabled: isDue });
  useHotkeys('0,1,2,3,4,5,6,7,8,9', (e) => (e.preventDefault(), startReading(e)), { enabled: isDue });
  useHotkeys('s', () => setSkipping(true), { enabled: isDue, preventDefault: true });
  useHotkeys('p', dip, { enabled: isDue && Boolean(canDip), enableOnFormTags: true, preventDefault: true });

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
    if (parsed.errors) {
      setErrors(parsed.errors);
      const first = (['left', 'ppm', 'ph', 'fill'] as const).find((f) => parsed.errors![f]);
      if (first) field(first)?.focus();
      return;
    }
    const act: RoundAct = {
      kind: 'filled',
      potId: pot.id,
      dueOn: pot.due.dueOn,
      batchId: ready?.id ?? null,
      pouredMl: parsed.pouredMl,
      flushMl: pot.flushMl,
      oldReservoir: { ppm: parsed.ppm, ph: parsed.ph, leftMl: parsed.leftMl },
      ppmMeterId: view.ppmMeter?.id ?? null,
      phMeterId: view.phMeter?.id ?? null,
      seen: draft.looked || draft.seen.length ? draft.seen : null,
    };
    await send(act, `${pot.code} filled with ${mL(parsed.pouredMl)}`);
  };

  const send = async (act: RoundAct, words: string) => {
    setBusy(true);
    setErrors({});
    try {
      const id = newId();
      await put({ id, url: `/api/round/acts/${id}`, body: act, words, subject: pot.id }, { toast: words });
      clear();
      onDone();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      const { problem } = error;
      if (problem.code === 'already-logged') {
        clear();
        setErrors({ form: `${pot.code} was already logged${problem.existing ? ` at ${new Date(problem.existing.at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}` : ''}, perhaps on the other device. Nothing was logged twice.` });
      } else setErrors({ fill: error.at('pouredMl'), ppm: error.at('oldReservoir.ppm'), ph: error.at('oldReservoir.ph'), left: error.at('oldReservoir.leftMl'), form: problem.errors?.length ? undefined : problem.detail });
    } finally {
      setBusy(false);
    }
  };

  const readings = (
    <div className="readings">
      <ReadingField name="ppm" label="Old reservoir, ppm" unit="ppm" value={draft.ppm} running={ppmDip.running ? (ppmDip.display?.shown ?? '…') : undefined} expected={pot.expected.ppm === undefined ? undefined : ppmText(pot.expected.ppm)} error={errors.ppm} onChange={(ppm) => change({ ppm })} onKeyDown={enterGoesOn} />
      <ReadingField name="ph" label="Old reservoir, pH" unit="pH" value={draft.ph} running={phDip.running ? (phDip.display?.shown ?? '…') : undefined} expected={pot.expected.ph === undefined ? undefined : phText(pot.expected.ph)} error={errors.ph} onChange={(ph) => change({ ph })} onKeyDown={enterGoesOn} />
      {canDip && (
        <div className="dips">
          {view.ppmMeter?.simulated && (
            <button type="button" className="dip" onClick={() => ppmDip.start()} disabled={ppmDip.running}>
              dip {view.ppmMeter.name}
            </button>
          )}
          {view.phMeter?.simulated && (
            <button type="button" className="dip" onClick={() => phDip.start()} disabled={phDip.running}>
              dip {view.phMeter.name}
            </button>
          )}
          <span className="small">simulated</span>
        </div>
      )}
      {(ppmDip.failed || phDip.failed) && <span className="field-error">The simulated pen does not answer. Type the figure, or try again.</span>}
    </div>
  );

  const buttons = (
    <div className="act">
      {errors.form && (
        <p className="field-error mb-1" role="alert">
          {errors.form}
        </p>
      )}
      {isDue ? (
        <>
          <div className="d-flex gap-2">
            {ready ? (
              <Button data-log type="submit" size="lg" variant={narrow ? 'clay' : 'primary'} className="flex-fill" aria-disabled={busy}>
                Log as planned, next pot
              </Button>
            ) : (
              <>
                {mix && (
                  <Link data-log className={`btn btn-lg flex-fill ${narrow ? 'btn-clay' : 'btn-primary'}`} to={mix.batch?.status === 'open' ? `/bench/${mix.batch.id}` : `/bench/new?mix=${encodeURIComponent(mix.key)}`}>
                    {mix.batch?.status === 'open' ? `Finish mix ${mix.letter}` : `Make mix ${mix.letter} first`}
                  </Link>
                )}
              </>
            )}
            <Button type="button" size="lg" variant={narrow ? 'outline-light' : 'outline-secondary'} onClick={() => setSkipping(true)}>
              Skip
            </Button>
          </div>
          {!ready && (
            <Button type="submit" variant="link" className="p-0 small unmeasured" aria-disabled={busy}>
              or log it with a mix that was not measured
            </Button>
          )}
        </>
      ) : (
        <p className="small mb-0">{waiting ? 'Logged; it waits for the server.' : pot.done ? `${capital(pot.done.words)}.` : `Due ${pot.due.words === 'tomorrow' ? 'tomorrow' : pot.due.words}; nothing to do today.`}</p>
      )}
      {!narrow && (
        <div className="small keys-line">
          <kbd>Enter</kbd> {ready ? 'log' : 'go on'} <kbd>R</kbd> read <kbd>S</kbd> skip <kbd>U</kbd> undo
        </div>
      )}
    </div>
  );

  const head = (
    <div className="head">
      <div className="glyph">
        <PotSection drawing={pot.drawing} seed={pot.code} size={narrow ? 60 : 64} name={`${pot.code} ${pot.name}`} />
      </div>
      <div className="flex-fill">
        <h2>
          <Link className="plain" to={`/pots/${pot.id}`}>
            {pot.name}, {pot.place.toLowerCase()}
          </Link>
        </h2>
        <div className="small">
          {pot.code} · reservoir <span className="nowrap">{mL(pot.reservoirMl)}</span>
          {pot.clay && ` · clay ${pot.clay}`}
        </div>
        <div className="chips">
          {isDue && pot.due.daysLate > 0 ? <span className="chip late">{pot.due.words}</span> : isDue ? <span className="chip">due today</span> : <span className="chip">{pot.done ? pot.done.kind : pot.due.words}</span>}
          {mix && <span className="chip water">Mix {mix.letter}</span>}
        </div>
      </div>
      {narrow && onUndo && (
        <Button type="button" variant="outline-light" className="undo" onClick={onUndo}>
          <Icon name="arrowCounterclockwise" /> Undo
        </Button>
      )}
    </div>
  );

  const note = pot.note && isDue && (
    <div className="why">
      <b>{pot.note.fact}</b> {pot.note.evidence}
    </div>
  );

  const leftField = (
    <div className="mini">
      <input name="left" inputMode="decimal" autoComplete="off" aria-label="Left in the old reservoir, mL" placeholder={pot.expected.leftMl === undefined ? '' : `≈ ${pot.expected.leftMl}`} value={draft.left} onChange={(e) => change({ left: e.target.value })} onKeyDown={enterGoesOn} aria-invalid={Boolean(errors.left)} aria-describedby={errors.left ? 'left-error' : undefined} />
      <span>mL</span>
    </div>
  );
  const fillField = (
    <div className="mini">
      <input name="fill" inputMode="decimal" autoComplete="off" aria-label="Fill, mL, when other than planned" placeholder={String(pot.fillMl)} value={draft.fill} onChange={(e) => change({ fill: e.target.value })} onKeyDown={enterGoesOn} aria-invalid={Boolean(errors.fill)} aria-describedby={errors.fill ? 'fill-error' : undefined} />
      <span>mL</span>
    </div>
  );

  const steps = (
    <ol className="steps">
      <Step n={1} title="Tip out the old reservoir" hint="to tolerant plants, not the drain" side={leftField} error={errors.left} errorId="left-error" />
      {!narrow && <Step n={2} title="Read the old reservoir" hint="what was tipped out; empty means not measured" side={readings} now />}
      <Step n={3} title="Flush from the top, into the clay" hint={`three times the reservoir, a rule of thumb; tepid${pot.drawing.stage === 'growth' ? ', keep new growth dry' : ''}`} side={<b className="num q">{mL(pot.flushMl)}</b>} />
      <Step n={4} title="Let it drain, tip the last out" side={<b className="num q">{'3\u00a0min'}</b>} />
      <Step n={5} title={`Fill to the hole${mix ? ` with mix ${mix.letter}` : ''}`} hint={ready && ready.readsPpm !== null ? `reads ${ppmText(ready.readsPpm)}${ready.ph === null ? '' : `, pH ${phText(ready.ph)}`}` : undefined} side={fillField} error={errors.fill} errorId="fill-error" />
      <Step n={6} title="Look it over" hint={<LookOver draft={draft} change={change} />} wide />
    </ol>
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
              void send({ kind: 'skipped', potId: pot.id, dueOn: pot.due.dueOn, reason, lookAgainOn }, `${pot.code} skipped: ${reason}`);
            }}
          />
        </div>
      ) : (
        <form ref={form} onSubmit={submit} noValidate onKeyDown={(e) => e.key === 'Enter' && e.repeat && e.preventDefault()}>
          {narrow ? (
            <>
              <div className="now">
                {head}
                <div>
                  <small>Step 2 of 6 · what was tipped out</small>
                  <div className="num fs-4">Read the old reservoir</div>
                </div>
                {readings}
                {buttons}
              </div>
              {note}
              <div className="sheet px-3">{steps}</div>
            </>
          ) : (
            <>
              {head}
              {note}
              {steps}
              {buttons}
            </>
          )}
        </form>
      )}
    </aside>
  );
}

type ReadingFieldProps = { name: 'ppm' | 'ph'; label: string; unit: string; value: string; running: number | 'over' | '…' | undefined; expected: string | undefined; error: string | undefined; onChange(value: string): void; onKeyDown(event: KeyboardEvent<HTMLInputElement>): void };

function ReadingField({ name, label, unit, value, running, expected, error, onChange, onKeyDown }: ReadingFieldProps) {
  return (
    <div>
      <div className={`field ${running === undefined ? '' : 'dipping'}`}>
        <input
          name={name}
          inputMode="decimal"
          autoComplete="off"
          aria-label={label}
          placeholder={expected === undefined ? 'not measured' : `expect ${expected}`}
          value={running === undefined ? value : String(running)}
          onChange={(e) => onChange(e.target.value)}
          onKeyDown={onKeyDown}
          aria-invalid={Boolean(error)}
          aria-describedby={error ? `${name}-error` : undefined}
        />
        <span>{unit}</span>
      </div>
      {error && (
        <div className="field-error" id={`${name}-error`} role="alert">
          {error}
        </div>
      )}
    </div>
  );
}

function Step({ n, title, hint, side, now = false, wide = false, error, errorId }: { n: number; title: string; hint?: ReactNode; side?: ReactNode; now?: boolean; wide?: boolean; error?: string | undefined; errorId?: string }) {
  return (
    <li className={`step ${now ? 'on' : ''} ${wide ? 'wide' : ''}`}>
      <b className="n" aria-hidden>
        {n}
      </b>
      <div>
        {title}
        {hint && <div className="small">{hint}</div>}
        {error && (
          <div className="field-error" id={errorId} role="alert">
            {error}
          </div>
        )}
      </div>
      {side}
    </li>
  );
}

/** What was seen, as toggles; "all fine" is a look that found nothing, which is not the same as no look. */
function LookOver({ draft, change }: { draft: Draft; change(part: Partial<Draft>): void }) {
  const toggle = (what: Seen) => change({ seen: draft.seen.includes(what) ? draft.seen.filter((s) => s !== what) : [...draft.seen, what], looked: true });
  return (
    <div className="look" role="group" aria-label="What was seen">
      <button type="button" aria-pressed={draft.looked && draft.seen.length === 0} onClick={() => change({ looked: !(draft.looked && draft.seen.length === 0), seen: [] })}>
        all fine
      </button>
      {SEEN.map((what) => (
        <button key={what} type="button" aria-pressed={draft.seen.includes(what)} onClick={() => toggle(what)}>
          {what}
        </button>
      ))}
    </div>
  );
}

type Parsed = { errors: Errors } | ({ errors?: undefined } & { ppm: RoundActReading; ph: RoundActReading; leftMl: number | null; pouredMl: number });
type RoundActReading = Extract<RoundAct, { kind: 'filled' }>['oldReservoir']['ppm'];

/** What was typed, as an act's values, or what is wrong with it at which field. */
function readDraft(draft: Draft, pot: RoundPot): Parsed {
  const errors: Errors = {};
  const reading = (text: string, quantity: ReadingQuantity, field: Field): RoundActReading => {
    const parsed = parseReading(text, quantity);
    if (parsed.ok) return parsed.reading;
    errors[field] = parsed.message;
    return NOT_MEASURED;
  };
  const ppm = reading(draft.ppm, 'ppm', 'ppm');
  const ph = reading(draft.ph, 'pH', 'ph');
  const left = volume(draft.left, 'Type the mL that were left, such as 60, or leave it empty.', (m) => (errors.left = m));
  const fill = volume(draft.fill, `Type the mL poured in, or leave it empty for the planned ${pot.fillMl}.`, (m) => (errors.fill = m));
  if (fill === 0) errors.fill = 'A fill is more than zero. Skip the pot if nothing was poured.';
  if (left !== null && left > 3 * pot.reservoirMl) errors.left = `The reservoir holds ${mL(pot.reservoirMl)}. Check the figure.`;
  if (fill !== null && fill > 3 * pot.reservoirMl) errors.fill = `The reservoir holds ${mL(pot.reservoirMl)}. Check the figure.`;
  if (Object.values(errors).some(Boolean)) return { errors };
  return { ppm, ph, leftMl: left, pouredMl: fill ?? pot.fillMl };
}

function volume(text: string, message: string, fail: (message: string) => void): number | null {
  const typed = text.trim().replace(',', '.');
  if (typed === '') return null;
  const value = Number(typed);
  if (value >= 0 && Number.isFinite(value)) return value;
  fail(message);
  return null;
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
