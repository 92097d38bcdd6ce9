import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import { smallSign } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt, useAct } from '../shell/use-act.ts';
import { useDip } from '../shell/use-dip.ts';
import { PenFields } from './pen-fields.tsx';
import { readOldReservoir, type Errors } from './read-draft.ts';

type Props = { pot: Pick<RoundPot, 'id' | 'code' | 'reservoirMl' | 'expected'> } & Pick<
  RoundView,
  'ppmMeter' | 'phMeter'
> & { onDone(): void };

/** What stands in the pot is read between fillings, and left there. */
export function RereadForm({ pot, ppmMeter, phMeter, onDone }: Props) {
  const [draft, setDraft] = useState({ ppm: '', ph: '', left: '' });
  const [errors, setErrors] = useState<Errors>({});
  const { send, problems, busy } = useAct('/api/round/acts');
  const change = (part: Partial<typeof draft>) => setDraft((old) => ({ ...old, ...part }));
  const ppmDip = useDip(ppmMeter, 'pot', pot.id, (shown) => change({ ppm: String(shown) }));
  const phDip = useDip(phMeter, 'pot', pot.id, (shown) => change({ ph: String(shown) }));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const read = readOldReservoir(draft, pot);
    setErrors(read.ok ? {} : read.errors);
    if (!read.ok) return;
    const meters = { ppmMeterId: ppmMeter?.id ?? null, phMeterId: phMeter?.id ?? null };
    if (
      await send({ kind: 'reread', potId: pot.id, ...read.oldReservoir, ...meters }, `${pot.code} read where it stands`)
    )
      onDone();
  };
  return (
    <Form className="quick-form" noValidate onSubmit={(e) => void submit(e)} aria-label={`Read ${pot.code}`}>
      <div className="wide">
        <PenFields
          of="In the pot"
          ppmMeter={ppmMeter}
          phMeter={phMeter}
          expected={pot.expected}
          draft={draft}
          errors={{ ppm: errors.ppm ?? problemAt(problems, 'ppm'), ph: errors.ph ?? problemAt(problems, 'ph') }}
          dips={{ ppm: ppmDip, ph: phDip }}
          change={change}
        />
      </div>
      <LabelledField
        label={`Left in it, ${smallSign()}`}
        error={errors.left ?? problemAt(problems, 'leftMl') ?? problems['']}
      >
        {(a) => (
          <Form.Control
            {...a}
            inputMode="decimal"
            autoComplete="off"
            value={draft.left}
            onChange={(e) => change({ left: e.target.value })}
          />
        )}
      </LabelledField>
      <Button type="submit" disabled={busy}>
        Log it
      </Button>
      <p className="small mb-0 wide">Nothing is poured off: what is foretold goes on from what was found.</p>
    </Form>
  );
}
