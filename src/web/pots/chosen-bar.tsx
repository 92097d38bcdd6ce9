import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import type { PotsView } from '../../contract/pots.ts';
import { newId } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { isWriting } from '../shell/is-writing.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import type { PlacedPot } from './pot-filters.ts';
import { WhatChanges } from './what-changes.tsx';
import { someOf, upperFirst } from '../../core/quantity/index.ts';
import { SOAKS, type SoakWhat, standsFor, SOAK_WHATS } from '../../core/regimen/index.ts';
import { DateInput } from '../shell/date-input.tsx';

/** The box that chose a pot still has the focus: keys work there, and not where something is typed. */
const ALSO_IN_BOXES = {
  enableOnFormTags: ['input'] as const,
  ignoreEventWhen: ({ target }: KeyboardEvent) => isWriting(target),
};

type Dialog = 'move' | 'regimen' | 'soak' | 'retire';

/** What can be done with the pots that are chosen, together and in one act each. */
export function ChosenBar({ chosen, view, clear }: { chosen: readonly PlacedPot[]; view: PotsView; clear(): void }) {
  const [dialog, setDialog] = useState<Dialog>();
  const some = chosen.length > 0;
  const inSeason = chosen.filter((p) => p.soaksOpen.some((what) => SOAKS[what].byPen)).length;
  useHotkeys('m', () => setDialog('move'), { ...ALSO_IN_BOXES, enabled: some && !dialog, preventDefault: true });
  useHotkeys('g', () => setDialog('regimen'), { ...ALSO_IN_BOXES, enabled: some && !dialog, preventDefault: true });
  useHotkeys('escape', clear, { ...ALSO_IN_BOXES, enabled: some && !dialog });
  if (!some) return null;
  const close = (done?: boolean) => {
    setDialog(undefined);
    if (done) clear();
  };
  const props = { chosen, view, onClose: close };
  return (
    <section className="chosen-bar" aria-label="Chosen pots">
      <div className="min-0">
        <h2>
          {chosen.length} pot{chosen.length === 1 ? '' : 's'} chosen
        </h2>
        <div className="small codes">{codesOf(chosen)}</div>
      </div>
      <div className="push d-flex flex-wrap gap-2 align-items-center">
        <Button variant="clay" onClick={() => setDialog('move')}>
          Move <kbd>M</kbd>
        </Button>
        <Button variant="outline-light" onClick={() => setDialog('regimen')}>
          Change regimen <kbd>G</kbd>
        </Button>
        <Button variant="outline-light" onClick={() => setDialog('soak')}>
          Add a soak{' '}
          <small className="d-block fw-normal">
            magnesium: {inSeason} of {chosen.length} in season
          </small>
        </Button>
        <Link className="btn btn-outline-light" to={`/pots/labels?${chosen.map((p) => `pot=${p.id}`).join('&')}`}>
          Labels
        </Link>
        <Button variant="outline-light" onClick={() => setDialog('retire')}>
          Retire
        </Button>
        <Button variant="outline-light" onClick={clear}>
          Clear <kbd>Esc</kbd>
        </Button>
      </div>
      {dialog === 'move' && <MoveDialog {...props} />}
      {dialog === 'regimen' && <RegimenDialog {...props} />}
      {dialog === 'soak' && <SoakDialog {...props} />}
      {dialog === 'retire' && <RetireDialog {...props} />}
    </section>
  );
}

type DialogProps = { chosen: readonly PlacedPot[]; view: PotsView; onClose(done?: boolean): void };
const titleOf = (chosen: readonly PlacedPot[]) =>
  chosen.length === 1 ? `${chosen[0]!.code} ${chosen[0]!.name}` : `${chosen.length} pots`;
/** Of many, the first ones and how many more. */
const MOST_NAMED = 16;
const codesOf = (pots: readonly PlacedPot[]) =>
  someOf(
    pots.map((p) => p.code),
    MOST_NAMED,
  );
const idsOf = (chosen: readonly PlacedPot[]) => chosen.map((p) => p.id);

export function MoveDialog({ chosen, view, onClose }: DialogProps) {
  const [placeId, setPlaceId] = useState(chosen[0]?.placeId ?? view.places[0]?.id ?? '');
  const [before, setBefore] = useState('');
  const { send, problems, busy } = useAct('/api/pots/acts');
  const place = view.places.find((p) => p.id === placeId);
  const others = place?.pots.filter((p) => !chosen.some((c) => c.id === p.id)) ?? [];
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const words = `Moved ${titleOf(chosen)} to ${place?.name ?? 'another place'}`;
    if (await send({ kind: 'move', potIds: idsOf(chosen), placeId, beforePotId: before || null }, words)) onClose(true);
  };
  return (
    <FormModal
      title={`Move ${titleOf(chosen)}`}
      keep="Move"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={() => onClose()}
    >
      <LabelledField label="To" error={otherProblems(problems, [])}>
        {(a) => (
          <Form.Select
            {...a}
            autoFocus
            value={placeId}
            onChange={(e) => {
              setPlaceId(e.target.value);
              setBefore('');
            }}
          >
            {view.places.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}, {p.pots.length} pot{p.pots.length === 1 ? '' : 's'}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label="Standing before" error={undefined}>
        {(a) => (
          <Form.Select {...a} value={before} onChange={(e) => setBefore(e.target.value)}>
            <option value="">at the end</option>
            {others.map((p) => (
              <option key={p.id} value={p.id}>
                {p.code} {p.name}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
    </FormModal>
  );
}

export function RegimenDialog({ chosen, view, onClose }: DialogProps) {
  const [regimenId, setRegimenId] = useState(
    view.regimens.find((r) => r.id !== chosen[0]?.regimenId)?.id ?? view.regimens[0]?.id ?? '',
  );
  const [reason, setReason] = useState('');
  const [from, setFrom] = useState(view.today);
  const { send, problems, busy } = useAct('/api/pots/acts');
  const regimen = view.regimens.find((r) => r.id === regimenId);
  const changed = chosen.filter((p) => p.regimenId !== regimenId);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (
      await send(
        { kind: 'regimen', potIds: idsOf(chosen), regimenId, reason, fromDate: from },
        `${titleOf(chosen)} on ${regimen?.values.name ?? 'another regimen'}`,
      )
    )
      onClose(true);
  };
  return (
    <FormModal
      title={`Regimen of ${titleOf(chosen)}`}
      keep={from === view.today ? 'From today' : `From ${dayMonth(from)}`}
      large="wide"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={() => onClose()}
    >
      <LabelledField
        label="Regimen"
        error={problemAt(problems, 'regimenId') ?? otherProblems(problems, ['reason', 'regimenId', 'fromDate'])}
        hint={regimen?.words}
      >
        {(a) => (
          <Form.Select {...a} autoFocus value={regimenId} onChange={(e) => setRegimenId(e.target.value)}>
            {view.regimens.map((r) => (
              <option key={r.id} value={r.id}>
                {r.values.name}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label="Why" error={problemAt(problems, 'reason')} hint="In a year you will want to know.">
        {(a) => <Form.Control {...a} autoComplete="off" value={reason} onChange={(e) => setReason(e.target.value)} />}
      </LabelledField>
      <LabelledField label="From" error={problemAt(problems, 'fromDate')}>
        {(a) => <DateInput {...a} min={view.today} value={from} onChange={(e) => setFrom(e.target.value)} />}
      </LabelledField>
      <p className="small mb-0">
        {changed.length === 0
          ? 'They follow it already.'
          : `It changes for ${codesOf(changed)}, ${from === view.today ? 'from today' : `from ${dayMonth(from)}`}. What was done before stays judged by what held then.`}{' '}
        <Link to={`/pots/regimens/${regimenId}`}>Look into it</Link>, or{' '}
        <Link to="/pots/regimens/new">compose another</Link>.
      </p>
      {changed.length > 0 && <WhatChanges regimenId={regimenId} potIds={changed.map((p) => p.id)} />}
    </FormModal>
  );
}

export function SoakDialog({ chosen, view, onClose }: DialogProps) {
  const [what, setWhat] = useState<SoakWhat>('magnesium');
  const [from, setFrom] = useState(view.today);
  const { send, problems, busy } = useAct('/api/pots/acts');
  const open = chosen.filter((p) => p.soaksOpen.some((s) => standsFor(s, what)));
  const closed = chosen.filter((p) => !open.includes(p));
  const [only, setOnly] = useState(false);
  const given = only ? open : chosen;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = { kind: 'soak', potIds: idsOf(given), planIds: given.map(() => newId()), what, fromDate: from };
    if (await send(body, `${upperFirst(SOAKS[what].name)} asked for ${titleOf(given)}`)) onClose(true);
  };
  return (
    <FormModal
      title={`A soak for ${titleOf(chosen)}`}
      keep="Ask for it"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={() => onClose()}
    >
      <LabelledField
        label="Of what"
        error={problemAt(problems, 'what') ?? otherProblems(problems, ['what', 'fromDate'])}
      >
        {(a) => (
          <Form.Select {...a} autoFocus value={what} onChange={(e) => setWhat(e.target.value as SoakWhat)}>
            {SOAK_WHATS.map((kind) => (
              <option key={kind} value={kind}>
                {upperFirst(SOAKS[kind].label)}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField
        label="From"
        error={problemAt(problems, 'fromDate')}
        hint="Each gets it at its first watering from that day on, once; then it is drained, flushed and filled."
      >
        {(a) => <DateInput {...a} min={view.today} value={from} onChange={(e) => setFrom(e.target.value)} />}
      </LabelledField>
      {closed.length > 0 && (
        <p className="small mb-0">
          {codesOf(closed)}: not in season for it by what {closed.length === 1 ? 'it follows' : 'they follow'}, or no
          soak of the kind in it. Common practice waits for active growth; asked for, it is given all the same, at the
          usual strength.
        </p>
      )}
      {closed.length > 0 && open.length > 0 && (
        <Form.Check
          id="only-open"
          label={`Only ${codesOf(open)}`}
          checked={only}
          onChange={(e) => setOnly(e.target.checked)}
        />
      )}
    </FormModal>
  );
}

const BECAME = ['died', 'given away', 'sold', 'out on loan for good', 'joined with another pot'];

export function RetireDialog({ chosen, onClose }: Omit<DialogProps, 'view'>) {
  const [became, setBecame] = useState('');
  const { send, problems, busy } = useAct('/api/pots/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await send({ kind: 'retire', potIds: idsOf(chosen), became }, `Retired ${titleOf(chosen)}`)) onClose(true);
  };
  return (
    <FormModal
      title={`Retire ${titleOf(chosen)}`}
      keep="Retire"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={() => onClose()}
    >
      <p className="small mb-0">
        It leaves the round and the shelves; its page and its history stay, and it can be brought back.
      </p>
      <LabelledField
        label="What became of it"
        error={problemAt(problems, 'became') ?? otherProblems(problems, ['became'])}
      >
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            autoComplete="off"
            list="became"
            value={became}
            onChange={(e) => setBecame(e.target.value)}
          />
        )}
      </LabelledField>
      <datalist id="became">
        {BECAME.map((words) => (
          <option key={words} value={words} />
        ))}
      </datalist>
    </FormModal>
  );
}
