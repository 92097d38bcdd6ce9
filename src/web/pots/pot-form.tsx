import { useState, type FormEvent, type ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import {
  GROWS,
  GROWS_WORDS,
  HABIT_WORDS,
  HABITS,
  MEDIA,
  MEDIUM_WORDS,
  SENSITIVITIES,
  STAGES,
} from '../../contract/kinds.ts';
import type { PotsView, PotValues } from '../../contract/pots.ts';
import { newId } from '../shell/api.ts';
import { smallSign } from '../shell/format.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct, type Problems } from '../shell/use-act.ts';
import { EMPTY_POT, nextCode, toPotTexts, toPotValues, type PotTexts } from './pot-texts.ts';
import { DateInput } from '../shell/date-input.tsx';

type Props = {
  view: PotsView;
  existing?: { id: string; values: PotValues } | undefined;
  onClose(potId?: string): void;
};
const FIELDS = [...Object.keys(EMPTY_POT), 'potIds'];

/** Adds a pot, or changes one: everything a grower may want to write of it, the needful first. */
export function PotForm({ view, existing, onClose }: Props) {
  const [id, setId] = useState(() => existing?.id ?? newId());
  const [texts, setTexts] = useState<PotTexts>(() => (existing ? toPotTexts(existing.values) : firstTexts(view)));
  const { send, problems, busy } = useAct('/api/pots/acts');
  const change = (part: Partial<PotTexts>) => setTexts((old) => ({ ...old, ...part }));
  const keep = async (another: boolean) => {
    const values = toPotValues(texts);
    const title = `${texts.code} ${texts.name || texts.plant}`.trim();
    const done = existing
      ? await send({ kind: 'change', potId: id, values }, `Changed ${title}`)
      : await send({ kind: 'add', places: [], pots: [{ id, regimenId: texts.regimenId, values }] }, `Added ${title}`);
    if (!done) return;
    if (!another) return onClose(id);
    setId(newId());
    change({
      code: nextCode([...codesOf(view, texts.placeId), texts.code]),
      plant: '',
      name: '',
      note: '',
      heightCm: '',
    });
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void keep(false);
  };
  const title = existing ? `Change ${existing.values.code}` : 'Add a pot';
  const more = !existing && (
    <Button variant="outline-secondary" disabled={busy} onClick={() => void keep(true)}>
      Add, and another
    </Button>
  );
  return (
    <FormModal
      title={title}
      keep={existing ? 'Keep the change' : 'Add'}
      busy={busy}
      submit={submit}
      onClose={() => onClose()}
      wrong={otherProblems(problems, FIELDS)}
      more={more}
      large
    >
      <Needful view={view} texts={texts} change={change} problems={problems} isNew={!existing} />
      <More texts={texts} change={change} problems={problems} />
    </FormModal>
  );
}

type Part = { texts: PotTexts; change(part: Partial<PotTexts>): void; problems: Problems };

function Typed({
  label,
  name,
  hint,
  type = 'text',
  placeholder,
  numeric,
  autoFocus,
  texts,
  change,
  problems,
}: Part & {
  label: string;
  name: keyof PotTexts;
  hint?: string;
  type?: 'text' | 'date';
  placeholder?: string;
  numeric?: boolean;
  autoFocus?: boolean;
}) {
  const Control = type === 'date' ? DateInput : Form.Control;
  return (
    <LabelledField label={label} error={problemAt(problems, name)} hint={hint}>
      {(a) => (
        <Control
          {...a}
          autoComplete="off"
          autoFocus={autoFocus}
          placeholder={placeholder}
          {...(numeric ? { inputMode: 'decimal' as const } : {})}
          value={texts[name]}
          onChange={(e) => change({ [name]: e.target.value })}
        />
      )}
    </LabelledField>
  );
}

function Chosen({
  label,
  name,
  children,
  hint,
  texts,
  change,
  problems,
}: Part & { label: string; name: keyof PotTexts; children: ReactNode; hint?: string | undefined }) {
  return (
    <LabelledField label={label} error={problemAt(problems, name)} hint={hint}>
      {(a) => (
        <Form.Select {...a} value={texts[name]} onChange={(e) => change({ [name]: e.target.value })}>
          {children}
        </Form.Select>
      )}
    </LabelledField>
  );
}

function Needful({ view, isNew, ...part }: Part & { view: PotsView; isNew: boolean }) {
  const regimen = view.regimens.find((r) => r.id === part.texts.regimenId);
  return (
    <>
      <Typed {...part} label="Code" name="code" placeholder="A-01" autoFocus />
      <Typed {...part} label="Plant" name="plant" placeholder="genus or species" />
      <Typed {...part} label="A name of its own" name="name" />
      <Chosen {...part} label="Place" name="placeId">
        {view.places.map((place) => (
          <option key={place.id} value={place.id}>
            {place.name}
          </option>
        ))}
      </Chosen>
      <Typed {...part} label="Where on it" name="spot" placeholder="lamp end" />
      {isNew && (
        <Chosen {...part} label="Regimen" name="regimenId" hint={regimen?.words}>
          {view.regimens.map((r) => (
            <option key={r.id} value={r.id}>
              {r.values.name}
            </option>
          ))}
        </Chosen>
      )}
      <Typed
        {...part}
        label={`Reservoir, ${smallSign()}`}
        name="reservoirMl"
        numeric
        placeholder="250"
        hint="up to the drain hole"
      />
      <Typed
        {...part}
        label={`Fill limit, ${smallSign()}`}
        name="fillMl"
        numeric
        hint="empty: the reservoir. Lower where new growth stands below."
      />
      <Typed
        {...part}
        label={`To the brim, ${smallSign()}`}
        name="brimMl"
        numeric
        hint="for soaks; empty: not measured"
      />
      <Chosen {...part} label="Medium" name="medium">
        {MEDIA.map((m) => (
          <option key={m} value={m}>
            {MEDIUM_WORDS[m]}
          </option>
        ))}
      </Chosen>
      <Chosen {...part} label="Stage" name="stage">
        {STAGES.map((s) => (
          <option key={s}>{s}</option>
        ))}
      </Chosen>
    </>
  );
}

function More(part: Part) {
  return (
    <>
      <Typed {...part} label="Clay batch" name="clay" placeholder="batch 2" />
      <Typed {...part} label="Clay, L" name="clayL" numeric />
      <Typed {...part} label="Height, cm" name="heightCm" numeric />
      <Chosen {...part} label="Growth habit" name="habit" hint="says what must stay dry">
        <option value="">not said</option>
        {HABITS.map((h) => (
          <option key={h} value={h}>
            {HABIT_WORDS[h]}
          </option>
        ))}
      </Chosen>
      <Chosen {...part} label="Kind of plant" name="grows" hint="whose figures of practice apply">
        {GROWS.map((g) => (
          <option key={g} value={g}>
            {GROWS_WORDS[g]}
          </option>
        ))}
      </Chosen>
      <Chosen {...part} label="Sensitivity" name="sensitivity">
        {SENSITIVITIES.map((s) => (
          <option key={s}>{s}</option>
        ))}
      </Chosen>
      <Typed {...part} label="Where it came from" name="origin" />
      <Typed {...part} label="Here since" name="acquiredOn" type="date" />
      <Typed {...part} label="Repotted" name="repottedOn" type="date" />
      <LabelledField label="Note" error={problemAt(part.problems, 'note')} wide>
        {(a) => (
          <Form.Control
            {...a}
            as="textarea"
            rows={2}
            value={part.texts.note}
            onChange={(e) => part.change({ note: e.target.value })}
          />
        )}
      </LabelledField>
    </>
  );
}

const codesOf = (view: PotsView, placeId: string) =>
  view.places.filter((p) => p.id === placeId).flatMap((p) => p.pots.map((pot) => pot.code));

function firstTexts(view: PotsView): PotTexts {
  const place = view.places.at(-1);
  const usual = [...view.regimens].sort((a, b) => b.pots - a.pots)[0];
  const codes = place ? codesOf(view, place.id) : [];
  return {
    ...EMPTY_POT,
    placeId: place?.id ?? '',
    regimenId: usual?.id ?? '',
    code: codes.length > 0 || view.places.length === 1 ? nextCode(codes) : '',
  };
}
