import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { ClayRoom, UnleachedPot } from '../../contract/clay.ts';
import { newId } from '../shell/api.ts';
import { litres, mL } from '../shell/format.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt } from '../shell/use-act.ts';
import { useClayAct } from './send-clay.ts';
import { DateInput } from '../shell/date-input.tsx';

const MOST = 6;

/** Puts the holds of a pot on the round: one line each, on its next round day or another. */
export function PlanHolds({ room, pot, onClose }: { room: ClayRoom; pot: UnleachedPot; onClose(): void }) {
  const { send, problems, busy } = useClayAct();
  const wanted = pot.verdict.kind === 'hold' ? pot.verdict.holds : 3;
  const [count, setCount] = useState(String(wanted));
  const [onDate, setOnDate] = useState(pot.dueOn > room.today ? pot.dueOn : room.today);
  const holds = Math.min(MOST, Math.max(1, Math.round(Number(count) || 1)));
  const still = room.waters.find((w) => w.kind === 'still');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const plans = Array.from({ length: holds }, (_, i) => ({
      id: newId(),
      words: `Hold ${holds > 1 ? `${i + 1} of ${holds}` : '1 h'}: tape, ${mL(pot.waterL * 1000)} still water, 1 h, drain`,
    }));
    if (
      await send(
        { kind: 'planHolds', potId: pot.potId, plans, onDate },
        `${pot.code}: ${holds === 1 ? 'a hold' : `${holds} holds`} on the round`,
      )
    )
      onClose();
  };
  return (
    <FormModal
      title={`Leach ${pot.code} in its pot`}
      keep="Put on the round"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['onDate'])}
    >
      <p className="small mb-0">
        {pot.evidence} A remedy that is not proven: every hold is read at the top and at the hole, and the forecast
        learns from it.
      </p>
      <div className="pair">
        <LabelledField
          label="Holds"
          error={undefined}
          hint={`${litres(holds * pot.waterL)} still water in all${still?.stillNowL != null ? ` of about ${litres(still.stillNowL)} there` : ''}`}
        >
          {(a) => (
            <Form.Control
              {...a}
              type="number"
              min={1}
              max={MOST}
              autoFocus
              value={count}
              onChange={(e) => setCount(e.target.value)}
            />
          )}
        </LabelledField>
        <LabelledField label="On" error={problemAt(problems, 'onDate')}>
          {(a) => <DateInput {...a} min={room.today} value={onDate} onChange={(e) => setOnDate(e.target.value)} />}
        </LabelledField>
      </div>
    </FormModal>
  );
}
