import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import { inSmallUnit, mL, readSmall, smallSign } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt, useAct } from '../shell/use-act.ts';
import { LookOver } from './look-over.tsx';
import { PhotoButton } from './photo-button.tsx';
import { RereadForm } from './reread-form.tsx';
import { EMPTY_LOOK, readLook, type Errors, type LookDraft } from './read-draft.ts';

type Pot = Pick<RoundPot, 'id' | 'code' | 'reservoirMl' | 'fillMl' | 'expected'>;
type Props = {
  pot: Pot;
  view: Pick<RoundView, 'waters' | 'ppmMeter' | 'phMeter'>;
  /** Fills it now, though it is not its day. */ fill?: (() => void) | undefined;
};

/** Something quick beside the round: a top-up in a hurry, a reading where it stands, only a look, a photo, or that somebody just filled it. */
export function SomethingQuick({ pot, view, fill }: Props) {
  const [open, setOpen] = useState<'topUp' | 'read' | 'look'>();
  const toggle = (what: typeof open) => setOpen(open === what ? undefined : what);
  return (
    <section className="quick" aria-label="Something quick">
      <div className="d-flex flex-wrap gap-2">
        {fill && (
          <Button size="sm" variant="outline-secondary" onClick={fill}>
            Just filled it
          </Button>
        )}
        <Button size="sm" variant="outline-secondary" aria-expanded={open === 'topUp'} onClick={() => toggle('topUp')}>
          Top up
        </Button>
        <Button size="sm" variant="outline-secondary" aria-expanded={open === 'read'} onClick={() => toggle('read')}>
          Read it
        </Button>
        <Button size="sm" variant="outline-secondary" aria-expanded={open === 'look'} onClick={() => toggle('look')}>
          Only a look
        </Button>
        <PhotoButton pot={pot} />
      </div>
      {open === 'topUp' && <TopUpForm pot={pot} waters={view.waters} onDone={() => setOpen(undefined)} />}
      {open === 'read' && (
        <RereadForm pot={pot} ppmMeter={view.ppmMeter} phMeter={view.phMeter} onDone={() => setOpen(undefined)} />
      )}
      {open === 'look' && <LookForm pot={pot} onDone={() => setOpen(undefined)} />}
    </section>
  );
}

/** Topped up to this share of the fill: enough to its day, and not so much that it takes the place of a change. */
const TO_SHARE = 0.6;

function TopUpForm({ pot, waters, onDone }: { pot: Pot; waters: RoundView['waters']; onDone(): void }) {
  const usual = Math.max(20, Math.round((TO_SHARE * pot.fillMl - (pot.expected.leftMl ?? 0)) / 10) * 10);
  const [amount, setAmount] = useState(inSmallUnit(usual));
  const [waterId, setWaterId] = useState(waters[0]?.id ?? '');
  const [wrong, setWrong] = useState<string>();
  const { send, problems, busy } = useAct('/api/round/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const typed = readSmall(amount);
    if (typed.kind !== 'volume') {
      setWrong(`Type the ${smallSign()} poured on, such as ${inSmallUnit(80)}.`);
      return;
    }
    setWrong(undefined);
    if (
      await send(
        { kind: 'toppedUp', potId: pot.id, waterId: waterId || null, ml: typed.ml },
        `${pot.code} topped up with ${mL(typed.ml)}`,
      )
    )
      onDone();
  };
  return (
    <Form className="quick-form" noValidate onSubmit={(e) => void submit(e)} aria-label={`Top up ${pot.code}`}>
      <LabelledField label={`Poured on, ${smallSign()}`} error={wrong ?? problemAt(problems, 'ml') ?? problems['']}>
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            inputMode="decimal"
            autoComplete="off"
            value={amount}
            onChange={(e) => setAmount(e.target.value)}
          />
        )}
      </LabelledField>
      <LabelledField label="of" error={problemAt(problems, 'waterId')}>
        {(a) => (
          <Form.Select {...a} value={waterId} onChange={(e) => setWaterId(e.target.value)}>
            {waters.map((w) => (
              <option key={w.id} value={w.id}>
                {w.name}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <Button type="submit" disabled={busy}>
        Log it
      </Button>
      <p className="small mb-0 wide">
        Better than a dry pot; not as a habit: plain water leaves every salt where it is. The pH of old and new together
        is no average of the two: only a reading tells it.
      </p>
    </Form>
  );
}

function LookForm({ pot, onDone }: { pot: Pot; onDone(): void }) {
  const [draft, setDraft] = useState<LookDraft>(EMPTY_LOOK);
  const [errors, setErrors] = useState<Errors>({});
  const { send, busy } = useAct('/api/round/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const read = readLook({ ...draft, looked: true });
    if (!read.ok) {
      setErrors(read.errors);
      return;
    }
    if (await send({ kind: 'looked', potId: pot.id, look: read.look }, `${pot.code} looked over`)) onDone();
  };
  return (
    <Form className="quick-form" noValidate onSubmit={(e) => void submit(e)} aria-label={`Look over ${pot.code}`}>
      <LookOver draft={draft} change={(part) => setDraft((old) => ({ ...old, ...part }))} errors={errors} />
      <Button type="submit" disabled={busy}>
        Log the look
      </Button>
    </Form>
  );
}
