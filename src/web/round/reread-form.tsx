import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import { phText, ppmText, smallSign } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt, useAct } from '../shell/use-act.ts';
import { useDip } from '../shell/use-dip.ts';
import { readOldReservoir, type Errors } from './read-draft.ts';
import { ReadingField } from './reading-field.tsx';

type Props = { pot: Pick<RoundPot, 'id' | 'code' | 'reservoirMl' | 'expected'> } & Pick<RoundView, 'ppmMeter' | 'phMeter'> & { onDone(): void };

/** What stands in the pot is read between fillings, and left there. */
export function RereadForm({ pot, ppmMeter, phMeter, onDone }: Props) {
  const [draft, setDraft] = useState({ ppm: '', ph: '', left: '' });
  const [errors, setErrors] = useState<Errors>({});
  const { send, problems, busy } = useAct('/api/round/acts');
  const change = (part: Partial<typeof draft>) => setDraft((old) => ({ ...old, ...part }));
  const ppmDip = useDip(ppmMeter?.simulated ? ppmMeter.id : undefined, 'pot', pot.id, (shown) => change({ ppm: String(shown) }));
  const phDip = useDip(phMeter?.simulated ? phMeter.id : undefined, 'pot', pot.id, (shown) => change({ ph: String(shown) }));
  const likely = pot.expected.atLarge ? 'guess' : 'expect';
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const read = readOldReservoir(draft, pot);
    setErrors(read.ok ? {} : read.errors);
    if (!read.ok) return;
    const meters = { ppmMeterId: ppmMeter?.id ?? null, phMeterId: phMeter?.id ?? null };
    if (await send({ kind: 'reread', potId: pot.id, ...read.oldReservoir, ...meters }, `${pot.code} read where it stands`)) onDone();
  };
  return (
    <Form className="quick-form" noValidate onSubmit={(e) => void submit(e)} aria-label={`Read ${pot.code}`}>
      <div className="readings wide">
        <ReadingField
          name="ppm"
          label="In the pot, ppm"
          unit="ppm"
          value={draft.ppm}
          dip={ppmMeter?.simulated ? ppmDip : undefined}
          penName={ppmMeter?.name}
          expected={pot.expected.ppm === undefined ? undefined : `${likely} ${ppmText(pot.expected.ppm)}`}
          error={errors.ppm ?? problemAt(problems, 'ppm')}
          onChange={(ppm) => change({ ppm })}
        />
        <ReadingField
          name="ph"
          label="In the pot, pH"
          unit="pH"
          value={draft.ph}
          dip={phMeter?.simulated ? phDip : undefined}
          penName={phMeter?.name}
          expected={pot.expected.ph === undefined ? undefined : `${likely} ${phText(pot.expected.ph)}`}
          error={errors.ph ?? problemAt(problems, 'ph')}
          onChange={(ph) => change({ ph })}
        />
      </div>
      <LabelledField label={`Left, ${smallSign()}`} error={errors.left ?? problemAt(problems, 'leftMl') ?? problems['']}>
        {(a) => <Form.Control {...a} inputMode="decimal" autoComplete="off" value={draft.left} onChange={(e) => change({ left: e.target.value })} />}
      </LabelledField>
      <p className="small mb-0">Nothing is poured off: what is foretold goes on from what was found.</p>
      <Button type="submit" disabled={busy}>
        Log it
      </Button>
    </Form>
  );
}
