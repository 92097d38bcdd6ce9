import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { SeasonView } from '../../contract/season.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';

type Minutes = SeasonView['learned']['minutes'];
type Kind = keyof Minutes;
const KINDS: readonly (readonly [Kind, string, string])[] = [
  ['pot', 'A pot', 'pots'],
  ['mix', 'A mix', 'mixes'],
  ['soakedPot', 'A pot with its soak', ''],
  ['leach', 'A change of water on new clay', ''],
];

/** "3, as the last 84 pots took" */
const otherwiseWords = ({ of, otherwise }: Minutes[Kind], many: string): string =>
  of > 0 ? `${otherwise}, as the last ${of} ${many} took` : `${otherwise} is thought, nothing told it yet`;

/** "3 min a pot, 13 a mix" */
export const workTimesWords = ({ pot, mix }: Minutes): string =>
  `${pot.minutes} min a pot${pot.from === 'learned' ? ' (learned)' : ''}, ${mix.minutes} a mix${mix.from === 'learned' ? ' (learned)' : ''}`;

/** How long things take: as the grower says, else as the log's own times tell, else as is thought. */
export function WorkTimesForm({ minutes, onClose }: { minutes: Minutes; onClose(): void }) {
  const [texts, setTexts] = useState<Record<Kind, string>>(() => {
    const own = (kind: Kind) => (minutes[kind].from === 'typed' ? String(minutes[kind].minutes) : '');
    return { pot: own('pot'), mix: own('mix'), soakedPot: own('soakedPot'), leach: own('leach') };
  });
  const { send, problems, busy } = useAct('/api/season/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const typed = Object.fromEntries(KINDS.map(([kind]) => [kind, typedNumber(texts[kind])]));
    if (await send({ kind: 'workTimes', ...typed }, 'How long things take: kept')) onClose();
  };
  return (
    <FormModal
      title="How long things take"
      keep="Plan with it"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(
        problems,
        KINDS.map(([kind]) => kind),
      )}
    >
      {KINDS.map(([kind, label, many]) => (
        <LabelledField
          key={kind}
          label={`${label}, minutes`}
          hint={`Left empty: ${otherwiseWords(minutes[kind], many)}`}
          error={problemAt(problems, kind)}
        >
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              value={texts[kind]}
              onChange={(e) => setTexts({ ...texts, [kind]: e.target.value })}
            />
          )}
        </LabelledField>
      ))}
    </FormModal>
  );
}
