import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { ClayAct, ClayRoom } from '../../contract/clay.ts';
import { HABIT_WORDS, HABITS } from '../../contract/kinds.ts';
import type { PotsView, PotView } from '../../contract/pots.ts';
import { Icon } from '../drawing/icon.tsx';
import { EMPTY_POT, nextCode, potsQuery, toPotTexts, toPotValues, type PotTexts } from '../pots/index.ts';
import { get, newId } from '../shell/api.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { litres, smallSign, upperFirst } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { otherProblems, problemAt } from '../shell/use-act.ts';
import { clayQuery } from './clay-query.ts';
import { stateWords } from './clay-words.ts';
import { Caution, GuidedStep, Ramp, Tick } from './guided-step.tsx';
import { HABIT_NOTES } from './habit-notes.ts';
import { useClayAct } from './send-clay.ts';

type PotUpAct = Extract<ClayAct, { kind: 'potUp' }>;
const ROOTS: Record<PotUpAct['roots'], string> = {
  sound: 'all sound',
  'some cut': 'some soft ones cut',
  'few left': 'few left',
  none: 'none left: a rescue',
};

/** Potting up, or converting from soil: led through step by step, kept as one act. */
export function PotUpPage() {
  const [params] = useSearchParams();
  const potId = params.get('pot');
  const clay = useQuery(clayQuery);
  const pots = useQuery(potsQuery);
  const pot = useQuery({
    queryKey: ['pot', potId],
    queryFn: () => get<PotView>(`/api/pots/${potId}`),
    enabled: potId !== null,
  });
  if (clay.isPending || pots.isPending || (potId !== null && pot.isPending))
    return <Loading what="the potting bench" />;
  if (!clay.data || !pots.data || (potId !== null && !pot.data))
    return (
      <Failed
        error={clay.error ?? pots.error ?? pot.error}
        retry={() => void Promise.all([clay.refetch(), pots.refetch(), pot.refetch()])}
      />
    );
  return <PotUp key={potId ?? 'new'} room={clay.data} pots={pots.data} pot={potId === null ? undefined : pot.data} />;
}

function PotUp({ room, pots, pot }: { room: ClayRoom; pots: PotsView; pot: PotView | undefined }) {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const { send, problems, code, busy, clear, setProblems } = useClayAct();
  const [newPotId] = useState(newId);
  const usable = room.batches.filter((b) => b.retiredOn === null && b.leftL > 0.05);
  const wished = usable.find((b) => b.id === params.get('clay')) ?? usable.find((b) => b.ready) ?? usable[0];
  const [texts, setTexts] = useState<PotTexts>(() => firstTexts(pots, pot));
  const [clayId, setClayId] = useState(wished?.id ?? '');
  const [roots, setRoots] = useState<PotUpAct['roots']>('sound');
  const [washed, setWashed] = useState<Readonly<Record<string, boolean>>>({});
  const [peroxide, setPeroxide] = useState(false);
  const [bacteria, setBacteria] = useState(false);
  const [start, setStart] = useState<PotUpAct['start']>('feed');
  const [weakDays, setWeakDays] = useState('10');
  const change = (part: Partial<PotTexts>) => {
    clear();
    setTexts((old) => ({ ...old, ...part }));
  };
  const inClay = texts.medium === 'clay' || texts.medium === 'basket';
  const batch = inClay ? room.batches.find((b) => b.id === clayId) : undefined;
  const regimen = pots.regimens.find((r) => r.id === texts.regimenId);
  const habit = HABITS.find((h) => h === texts.habit);
  const tick = (name: string) => setWashed((old) => ({ ...old, [name]: !old[name] }));
  const title = `${texts.code} ${texts.name || texts.plant}`.trim();
  const id = pot?.pot.id ?? newPotId;
  const keep = async (confirmedNotReady: boolean) => {
    if (batch && texts.clayL.trim() === '')
      return setProblems({ clayL: 'Give the litres of clay that went in, such as 0.8.' });
    const values = { ...toPotValues(texts), clay: batch?.values.name ?? null } as unknown as PotUpAct['values'];
    const done = await send(
      {
        kind: 'potUp',
        potId: id,
        values,
        regimenId: texts.regimenId,
        clayId: batch?.id ?? null,
        clayL: (batch ? (typedNumber(texts.clayL) ?? 0) : 0) as number,
        roots,
        peroxide,
        bacteria,
        start,
        weakDays: start === 'weak' ? Number(weakDays) || 0 : 0,
        confirmedNotReady,
      },
      `${title} potted up`,
    );
    if (done) await navigate(`/pots/${id}`);
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void keep(false);
  };
  const typed = (
    label: string,
    key: keyof PotTexts,
    more: { hint?: string; numeric?: boolean; placeholder?: string } = {},
  ) => (
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
  const bare = roots === 'few left' || roots === 'none';
  return (
    <form className="page pot-up" noValidate onSubmit={submit}>
      <header>
        <div>
          <h1>Pot up</h1>
          <div className="small">
            From soil, bark or other clay into leached clay over a reservoir; one act, and it can be taken back whole
          </div>
        </div>
        <Link className="push btn btn-outline-secondary btn-sm" to="/clay">
          Back to the clay
        </Link>
      </header>
      <section className="cols">
        <ol className="guided">
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
                {typed('Code', 'code', { placeholder: 'A-01' })}
                {typed('What grows in it', 'plant', { placeholder: 'genus or species' })}
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
          <GuidedStep n={2} title="Wash and look at the roots">
            <Tick
              label="Old soil or bark washed off under tepid water"
              on={washed['wash']}
              toggle={() => tick('wash')}
            />
            <Tick
              label="Soft dark roots cut back to firm pale tissue, with a clean blade"
              on={washed['cut']}
              toggle={() => tick('cut')}
            />
            <LabelledField label="Roots" error={problemAt(problems, 'roots')}>
              {(a) => (
                <Form.Select
                  {...a}
                  value={roots}
                  onChange={(e) => {
                    const next = e.target.value as PotUpAct['roots'];
                    setRoots(next);
                    if (next === 'few left' || next === 'none') setStart('weak');
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
              onChange={() => setPeroxide(!peroxide)}
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
                setBacteria(!bacteria);
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
            {bare && (
              <p className="note">
                With so little root it cannot drink yet: keep it warm, out of strong light, the clay damp, the level
                under the roots.
              </p>
            )}
          </GuidedStep>
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
                        setClayId(e.target.value);
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
                {batch && typed('Clay that goes in, L', 'clayL', { numeric: true, placeholder: '0.8' })}
                {batch && <p className={`note ${batch.ready ? '' : 'warn'}`}>{batch.why}</p>}
              </>
            )}
            {typed(`Reservoir holds, ${smallSign()}`, 'reservoirMl', { numeric: true, placeholder: '200' })}
            {typed(`Brim holds, ${smallSign()}`, 'brimMl', { numeric: true, hint: 'for soaks and holds' })}
          </GuidedStep>
          <GuidedStep n={4} title="Settle it">
            {inClay ? (
              <>
                <Tick
                  label="Pebbles shaken in round the roots, no gaps, it does not rock"
                  on={washed['settle']}
                  toggle={() => tick('settle')}
                />
                {habit === 'creeping' && (
                  <Tick
                    label="Clay hollowed under its creeping stem"
                    on={washed['hollow']}
                    toggle={() => tick('hollow')}
                  />
                )}
              </>
            ) : (
              <Tick
                label="Held so that the lower third of its roots stands in water"
                on={washed['held']}
                toggle={() => tick('held')}
              />
            )}
            {typed(`Never filled above, ${smallSign()}`, 'fillMl', {
              numeric: true,
              hint:
                habit === 'creeping'
                  ? 'lower for a creeping plant: new growth must stay clear of the wet'
                  : 'empty: to the hole',
            })}
            {typed('Height, cm', 'heightCm', { numeric: true })}
          </GuidedStep>
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
                onChange={() => setStart('feed')}
              />
              <Form.Check
                type="radio"
                id="start-weak"
                label="A weak start that climbs: our cautious way"
                checked={start === 'weak'}
                onChange={() => setStart('weak')}
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
                      onChange={(e) => setWeakDays(e.target.value)}
                    />
                  )}
                </LabelledField>
                {regimen && (
                  <Ramp
                    today={room.today}
                    netPpm={regimen.values.feeds[0]?.netPpm ?? 0}
                    days={Math.max(1, Math.round(Number(weakDays) || 1))}
                  />
                )}
              </>
            )}
            {start === 'feed' && regimen && <p className="note">{regimen.words} from today.</p>}
          </GuidedStep>
        </ol>
        <aside className="right">
          <section className="now" aria-label="Now">
            <small>
              {batch
                ? `${upperFirst(batch.values.name)}, ${litres(batch.leftL)} left`
                : texts.medium === 'water'
                  ? 'water only'
                  : 'clay that is not kept here'}
            </small>
            <div className="say">{title || 'A new plant'}</div>
            <small>
              {start === 'weak' ? 'A weak start, then its regimen.' : 'Fed at once.'} Its first feed goes on today’s
              round; the brand-new clay pushes pH, so read it at the first visits.
            </small>
            {code === 'not-ready' ? (
              <>
                <div className="caution" role="alert">
                  <Icon name="exclamationTriangle" />
                  <span>{problems['']}</span>
                </div>
                <div className="d-flex gap-2 flex-wrap">
                  <Button variant="outline-light" disabled={busy} onClick={() => void keep(true)}>
                    Pot up all the same
                  </Button>
                  <Button variant="clay" onClick={clear}>
                    Choose other clay
                  </Button>
                </div>
              </>
            ) : (
              <Button type="submit" variant="clay" size="lg" disabled={busy}>
                It is potted up
              </Button>
            )}
            {Object.keys(problems).length > 0 && code !== 'not-ready' && (
              <p className="field-error mb-0" role="alert">
                {otherProblems(problems, [
                  ...Object.keys(EMPTY_POT),
                  'clayId',
                  'roots',
                  'bacteria',
                  'weakDays',
                  'clayL',
                ]) ?? 'Something in the steps does not fit yet: see the field that is marked.'}
              </p>
            )}
          </section>
          <section className="sheet p-3 small">
            <h2>Afterwards</h2>
            <ul className="mb-0">
              <li>Out of strong sun for two weeks; harden it off by steps.</li>
              <li>A gentle tug that holds says it has rooted: then it may take constant feed.</li>
              <li>Many house plants are toxic to pets and people: keep trimmings out of reach.</li>
            </ul>
          </section>
        </aside>
      </section>
    </form>
  );
}

function firstTexts(pots: PotsView, pot: PotView | undefined): PotTexts {
  if (pot)
    return {
      ...toPotTexts(pot.values),
      regimenId: pot.pot.regimenId,
      medium: pot.values.medium === 'bark' ? 'clay' : pot.values.medium,
    };
  const usual = [...pots.regimens].sort((a, b) => b.pots - a.pots)[0];
  const place = pots.places[0];
  return {
    ...EMPTY_POT,
    placeId: place?.id ?? '',
    regimenId: usual?.id ?? '',
    stage: 'rooting',
    code: place ? nextCode(place.pots.map((p) => p.code)) : '',
  };
}
