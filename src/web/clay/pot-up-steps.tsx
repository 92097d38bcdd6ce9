import Form from 'react-bootstrap/Form';
import { useSearchParams } from 'react-router';
import { HABIT_WORDS, HABITS } from '../../contract/kinds.ts';
import type { PotTexts } from '../pots/index.ts';
import { litres, smallSign, upperFirst } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt } from '../shell/use-act.ts';
import { stateWords } from './clay-words.ts';
import { Caution, GuidedStep, Ramp, Tick } from './guided-step.tsx';
import { HABIT_NOTES } from './habit-notes.ts';
import type { PotUpAct, PotUpDraft } from './use-pot-up.ts';

const ROOTS: Record<PotUpAct['roots'], string> = {
  sound: 'all sound',
  'some cut': 'some soft ones cut',
  'few left': 'few left',
  none: 'none left: a rescue',
};
/** With so little root it cannot drink yet. */
const FEW: readonly PotUpAct['roots'][] = ['few left', 'none'];
type Props = { up: PotUpDraft };

/** One of the plants kept here, or a new one. */
export function WhichPlant({ up }: Props) {
  const { pots, pot, texts, change, problems, habit } = up;
  const [params, setParams] = useSearchParams();
  return (
    <GuidedStep n={1} title="Which plant">
      <LabelledField label="Plant" error={undefined}>
        {(a) => (
          <Form.Select
            {...a}
            value={pot?.pot.id ?? ''}
            onChange={(e) => {
              const next = new URLSearchParams(params);
              if (e.target.value) next.set('pot', e.target.value);
              else next.delete('pot');
              setParams(next, { replace: true });
            }}
          >
            <option value="">a new one here</option>
            {pots.places.map((place) => (
              <optgroup key={place.id} label={place.name}>
                {place.pots.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.code} {p.name}
                  </option>
                ))}
              </optgroup>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      {!pot && (
        <>
          {typedField(up, 'Code', 'code', { placeholder: 'A-01' })}
          {typedField(up, 'What grows in it', 'plant', { placeholder: 'genus or species' })}
          <LabelledField label="Place" error={problemAt(problems, 'placeId')}>
            {(a) => (
              <Form.Select {...a} value={texts.placeId} onChange={(e) => change({ placeId: e.target.value })}>
                {pots.places.map((place) => (
                  <option key={place.id} value={place.id}>
                    {place.name}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
        </>
      )}
      <LabelledField label="How it grows" error={problemAt(problems, 'habit')}>
        {(a) => (
          <Form.Select {...a} value={texts.habit} onChange={(e) => change({ habit: e.target.value })}>
            <option value="">not said</option>
            {HABITS.map((h) => (
              <option key={h} value={h}>
                {HABIT_WORDS[h]}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      {habit && <p className="note">{HABIT_NOTES[habit]}</p>}
    </GuidedStep>
  );
}

/** Washing, cutting, and what was found of the roots. */
export function Roots({ up }: Props) {
  const { ticked, tick, roots, peroxide, bacteria, choose, problems, clear } = up;
  return (
    <GuidedStep n={2} title="Wash and look at the roots">
      <Tick label="Old soil or bark washed off under tepid water" on={ticked['wash']} toggle={() => tick('wash')} />
      <Tick
        label="Soft dark roots cut back to firm pale tissue, with a clean blade"
        on={ticked['cut']}
        toggle={() => tick('cut')}
      />
      <LabelledField label="Roots" error={problemAt(problems, 'roots')}>
        {(a) => (
          <Form.Select
            {...a}
            value={roots}
            onChange={(e) => {
              const next = e.target.value as PotUpAct['roots'];
              choose(FEW.includes(next) ? { roots: next, start: 'weak' } : { roots: next });
            }}
          >
            {Object.entries(ROOTS).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <Form.Check
        id="peroxide"
        label="Dilute peroxide, where soil will not come off"
        checked={peroxide}
        onChange={() => choose({ peroxide: !peroxide })}
      />
      {peroxide && (
        <Caution>
          Peroxide stings and bleaches: gloves and eye protection, dilute 3 % to about 1 part in 4 of water, rinse
          after. Follow its label.
        </Caution>
      )}
      <Form.Check
        id="bacteria"
        label="Beneficial bacteria"
        checked={bacteria}
        isInvalid={problemAt(problems, 'bacteria') !== undefined}
        onChange={() => {
          clear();
          choose({ bacteria: !bacteria });
        }}
      />
      {bacteria && (
        <p className="note">
          What they do is claimed rather than shown. Never on the day of the peroxide: it kills them.
        </p>
      )}
      {problemAt(problems, 'bacteria') && (
        <p className="field-error mb-0" role="alert">
          {problemAt(problems, 'bacteria')}
        </p>
      )}
      {FEW.includes(roots) && (
        <p className="note">
          With so little root it cannot drink yet: keep it warm, out of strong light, the clay damp, the level under the
          roots.
        </p>
      )}
    </GuidedStep>
  );
}

/** Water or clay, which clay and how much. */
export function IntoWhat({ up }: Props) {
  const { texts, change, inClay, usable, clayId, choose, clear, batch, problems } = up;
  return (
    <GuidedStep n={3} title="Into what">
      <LabelledField label="Culture" error={problemAt(problems, 'medium')}>
        {(a) => (
          <Form.Select
            {...a}
            value={inClay || texts.medium === 'water' ? texts.medium : 'clay'}
            onChange={(e) => change({ medium: e.target.value })}
          >
            <option value="clay">clay over a reservoir</option>
            <option value="basket">a basket with clay</option>
            <option value="water">water only, no clay</option>
          </Form.Select>
        )}
      </LabelledField>
      {inClay && (
        <>
          <LabelledField label="Clay from" error={problemAt(problems, 'clayId')}>
            {(a) => (
              <Form.Select
                {...a}
                value={clayId}
                onChange={(e) => {
                  clear();
                  choose({ clayId: e.target.value });
                }}
              >
                {usable.map((b) => (
                  <option key={b.id} value={b.id}>
                    {upperFirst(b.values.name)}: {b.ready ? 'ready' : stateWords(b)}, {litres(b.leftL)} left
                  </option>
                ))}
                <option value="">clay that is not kept here</option>
              </Form.Select>
            )}
          </LabelledField>
          {batch && typedField(up, 'Clay that goes in, L', 'clayL', { numeric: true, placeholder: '0.8' })}
          {batch && <p className={`note ${batch.ready ? '' : 'warn'}`}>{batch.why}</p>}
        </>
      )}
      {typedField(up, `Reservoir holds, ${smallSign()}`, 'reservoirMl', { numeric: true, placeholder: '200' })}
      {typedField(up, `Brim holds, ${smallSign()}`, 'brimMl', { numeric: true, hint: 'for soaks and holds' })}
    </GuidedStep>
  );
}

/** How it stands firm, and how high it may be filled. */
export function Settle({ up }: Props) {
  const { ticked, tick, inClay, habit } = up;
  return (
    <GuidedStep n={4} title="Settle it">
      {inClay ? (
        <>
          <Tick
            label="Pebbles shaken in round the roots, no gaps, it does not rock"
            on={ticked['settle']}
            toggle={() => tick('settle')}
          />
          {habit === 'creeping' && (
            <Tick label="Clay hollowed under its creeping stem" on={ticked['hollow']} toggle={() => tick('hollow')} />
          )}
        </>
      ) : (
        <Tick
          label="Held so that the lower third of its roots stands in water"
          on={ticked['held']}
          toggle={() => tick('held')}
        />
      )}
      {typedField(up, `Never filled above, ${smallSign()}`, 'fillMl', {
        numeric: true,
        hint:
          habit === 'creeping'
            ? 'lower for a creeping plant: new growth must stay clear of the wet'
            : 'empty: to the hole',
      })}
      {typedField(up, 'Height, cm', 'heightCm', { numeric: true })}
    </GuidedStep>
  );
}

/** Its regimen, and whether it starts weak. */
export function FirstFeed({ up }: Props) {
  const { room, pots, texts, change, start, weakDays, choose, regimen, problems } = up;
  return (
    <GuidedStep n={5} title="Its first feed">
      <LabelledField label="Regimen" error={problemAt(problems, 'regimenId')}>
        {(a) => (
          <Form.Select {...a} value={texts.regimenId} onChange={(e) => change({ regimenId: e.target.value })}>
            {pots.regimens.map((r) => (
              <option key={r.id} value={r.id}>
                {r.values.name}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <div role="radiogroup" aria-label="How it starts" className="d-grid gap-1">
        <Form.Check
          type="radio"
          id="start-feed"
          label="Fed at once, as many do"
          checked={start === 'feed'}
          onChange={() => choose({ start: 'feed' })}
        />
        <Form.Check
          type="radio"
          id="start-weak"
          label="A weak start that climbs: our cautious way"
          checked={start === 'weak'}
          onChange={() => choose({ start: 'weak' })}
        />
      </div>
      {start === 'weak' && (
        <>
          <LabelledField label="Days at each step" error={problemAt(problems, 'weakDays')}>
            {(a) => (
              <Form.Control
                {...a}
                inputMode="numeric"
                value={weakDays}
                onChange={(e) => choose({ weakDays: e.target.value })}
              />
            )}
          </LabelledField>
          {regimen && (
            <Ramp
              today={room.today}
              feed={regimen.values.feeds[0]}
              days={Math.max(1, Math.round(Number(weakDays) || 1))}
            />
          )}
        </>
      )}
      {start === 'feed' && regimen && <p className="note">{regimen.words} from today.</p>}
    </GuidedStep>
  );
}

type More = { hint?: string; numeric?: boolean; placeholder?: string };

function typedField({ texts, change, problems }: PotUpDraft, label: string, key: keyof PotTexts, more: More = {}) {
  return (
    <LabelledField label={label} hint={more.hint} error={problemAt(problems, key)}>
      {(a) => (
        <Form.Control
          {...a}
          autoComplete="off"
          placeholder={more.placeholder}
          {...(more.numeric ? { inputMode: 'decimal' as const } : {})}
          value={texts[key]}
          onChange={(e) => change({ [key]: e.target.value })}
        />
      )}
    </LabelledField>
  );
}
