import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { DriftPot } from '../../contract/drift.ts';
import { newId } from '../shell/api.ts';
import { inSmallUnit, readSmall, smallSign } from '../shell/format.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Loading } from '../shell/states.tsx';
import { otherProblems, problemAt } from '../shell/use-act.ts';
import { KIND_WHY } from './soak-words.ts';
import { useDriftAct } from './use-drift-act.ts';
import { choicesQuery } from './choices-query.ts';

/** Clocks at 10, 30 and 60 minutes. */
const CLOCKS = 3;

/** A feed that was not mixed here. */
const UNKNOWN_MAKE = 'unknown';

/** Starts a soak test: what the pot is filled with, and how. */
export function SoakForm({ pot, onClose }: { pot: Pick<DriftPot, 'id' | 'code' | 'fillMl'>; onClose(): void }) {
  const choices = useQuery(choicesQuery);
  const [texts, setTexts] = useState({
    kind: 'feed',
    batchId: '',
    waterId: '',
    fill: inSmallUnit(pot.fillMl),
    aged: false,
    covered: true,
    minutes: '60',
  });
  const [wrong, setWrong] = useState<string>();
  const { send, problems, busy } = useDriftAct();
  const change = (part: Partial<typeof texts>) => setTexts((old) => ({ ...old, ...part }));
  if (!choices.data) return <Loading what="what it can be filled with" />;
  const { batches, waters } = choices.data;
  const feed = texts.kind === 'feed';
  const batchId = texts.batchId === UNKNOWN_MAKE ? null : texts.batchId || batches[0]?.id || null;
  const waterId = texts.waterId || waters[0]?.id || null;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const fill = readSmall(texts.fill);
    if (fill.kind !== 'volume') return setWrong(`Type the ${smallSign()} poured in, such as ${inSmallUnit(250)}.`);
    setWrong(undefined);
    const done = await send(
      {
        kind: 'startSoak',
        potId: pot.id,
        clockIds: Array.from({ length: CLOCKS }, newId),
        batchId: feed ? batchId : null,
        soakKind: feed ? 'feed' : 'still',
        waterId: feed ? null : waterId,
        fillMl: fill.ml,
        aged: texts.aged,
        covered: texts.covered,
        minutes: Number(texts.minutes.replace(',', '.')),
      },
      `${pot.code}: soak test begun`,
    );
    if (done) onClose();
  };
  return (
    <FormModal
      title={`Soak test of ${pot.code}`}
      onClose={onClose}
      submit={(e) => void submit(e)}
      busy={busy}
      keep="It is filled: start the clock"
    >
      <ol className="small soak-steps">
        <li>Tip the old reservoir out. Set a tray under it: taped pots leak.</li>
        <li>Tape the drain hole.</li>
        <li>Fill it to where the roots begin, note how much went in, cover it.</li>
        <li>Read pH and ppm at once, and after 10, 30 and 60 minutes.</li>
      </ol>
      <LabelledField label="Filled with" error={undefined} hint={KIND_WHY[feed ? 'feed' : 'still']}>
        {(a) => (
          <Form.Select {...a} value={texts.kind} onChange={(e) => change({ kind: e.target.value })}>
            <option value="feed">the feed it gets (recommended)</option>
            <option value="still">plain water</option>
          </Form.Select>
        )}
      </LabelledField>
      {feed ? (
        <LabelledField
          label="Which mix"
          error={problemAt(problems, 'batchId')}
          hint={
            batchId === null
              ? 'the rise is read all the same; how much alkali it took only of a mix whose make is known'
              : undefined
          }
        >
          {(a) => (
            <Form.Select {...a} value={batchId ?? UNKNOWN_MAKE} onChange={(e) => change({ batchId: e.target.value })}>
              {batches.map((b) => (
                <option key={b.id} value={b.id}>
                  {b.words}
                </option>
              ))}
              <option value={UNKNOWN_MAKE}>a feed of unknown make</option>
            </Form.Select>
          )}
        </LabelledField>
      ) : (
        <>
          <LabelledField label="Which water" error={problemAt(problems, 'waterId')}>
            {(a) => (
              <Form.Select {...a} value={waterId ?? ''} onChange={(e) => change({ waterId: e.target.value })}>
                {waters.map((w) => (
                  <option key={w.id} value={w.id}>
                    {w.name}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          <Form.Check
            id="soak-aged"
            label="it stood open for a day or more"
            checked={texts.aged}
            onChange={(e) => change({ aged: e.target.checked })}
          />
        </>
      )}
      <div className="pair">
        <LabelledField label={`Poured in, ${smallSign()}`} error={wrong ?? problemAt(problems, 'fillMl')}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              value={texts.fill}
              onChange={(e) => change({ fill: e.target.value })}
            />
          )}
        </LabelledField>
        <LabelledField label="Last reading after, min" error={problemAt(problems, 'minutes')}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="numeric"
              autoComplete="off"
              value={texts.minutes}
              onChange={(e) => change({ minutes: e.target.value })}
            />
          )}
        </LabelledField>
      </div>
      <Form.Check
        id="soak-covered"
        label="covered"
        checked={texts.covered}
        onChange={(e) => change({ covered: e.target.checked })}
      />
      {otherProblems(problems, ['fillMl', 'minutes', 'batchId', 'waterId']) && (
        <p className="field-error mb-0" role="alert">
          {otherProblems(problems, ['fillMl', 'minutes', 'batchId', 'waterId'])}
        </p>
      )}
    </FormModal>
  );
}
