import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { PotsView } from '../../contract/pots.ts';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { potsQuery } from '../pots/index.ts';
import { shelfQuery } from '../shelf/index.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { useDraft } from '../shell/use-draft.ts';
import { Icon } from '../drawing/icon.tsx';
import { PlacesStep, PotsStep, RegimenStep } from './collection-steps.tsx';
import { ShelfStep, WaterStep } from './shelf-steps.tsx';
import type { StepProps } from './step-props.ts';

type Step = {
  key: string;
  title: string;
  why: string;
  done(room: ShelfRoom, view: PotsView): boolean;
  form(props: StepProps): React.ReactNode;
};

/** The guided first minute, one thing at a time, in the order the work needs them. */
const STEPS: readonly Step[] = [
  {
    key: 'pen',
    title: 'Your TDS pen',
    why: 'All strengths are told as your pen reads them, so its scale must be known, or be known to be a guess. No pen yet? Choose Later: you mix by measure then, as labels say.',
    done: (room) => room.meters.some((m) => m.values.quantity === 'ppm'),
    form: (props) => <ShelfStep what="meter" first={{ name: 'TDS pen', resolution: '1' }} {...props} />,
  },
  {
    key: 'water',
    title: 'The water you mix with',
    why: 'The pen also counts the water’s own minerals. Read it now: everything is aimed over it.',
    done: (room) => room.waters.length > 0,
    form: (props) => <WaterStep {...props} />,
  },
  {
    key: 'dropper',
    title: 'Something to measure with',
    why: 'A dropper, a syringe, a spoon or a cap. A drop has no size until its dropper is counted; until then it is a guess, and said to be one.',
    done: (room) => room.tools.some((t) => t.values.kind !== 'scale'),
    form: (props) => <ShelfStep what="tool" first={{ name: 'Dropper' }} {...props} />,
  },
  {
    key: 'vessel',
    title: 'What you mix in',
    why: 'So that no batch is planned that does not fit.',
    done: (room) => room.vessels.length > 0,
    form: (props) => <ShelfStep what="vessel" first={{ name: 'Bucket', capacityL: '' }} {...props} />,
  },
  {
    key: 'product',
    title: 'Your feed',
    why: 'One mix you remember, or the dose its label gives, is enough to start; the bench learns the rest from your pen.',
    done: (room) => room.products.some((p) => p.values.kind !== 'acid' && p.values.kind !== 'base'),
    form: (props) => (
      <ShelfStep
        what="product"
        first={{ meterId: props.room.mainPpmMeterId ?? '', basePpm: basePpmOf(props.room) }}
        {...props}
      />
    ),
  },
  {
    key: 'places',
    title: 'Where your pots stand',
    why: 'In the order you walk them: that is the order of the round.',
    done: (_room, view) => view.places.length > 0,
    form: (props) => <PlacesStep {...props} />,
  },
  {
    key: 'regimen',
    title: 'How you feed them',
    why: 'Weak feed at every watering, flushed first, is what most begin with. Pots can follow different ones, and change them later.',
    done: (_room, view) => view.regimens.length > 0,
    form: (props) => <RegimenStep {...props} />,
  },
  {
    key: 'pots',
    title: 'Your pots',
    why: 'Paste the list you keep, or add them one by one.',
    done: (_room, view) => view.places.some((p) => p.pots.length > 0),
    form: (props) => <PotsStep {...props} />,
  },
];

const basePpmOf = (room: ShelfRoom) => {
  const ppm = room.waters[0]?.readings[0]?.ppm;
  return ppm == null ? '' : String(Math.round(ppm));
};

export function StartPage() {
  const shelf = useQuery(shelfQuery);
  const pots = useQuery(potsQuery);
  if (shelf.isPending || pots.isPending) return <Loading what="what is there already" />;
  if (!shelf.data || !pots.data)
    return (
      <Failed error={shelf.error ?? pots.error} retry={() => void Promise.all([shelf.refetch(), pots.refetch()])} />
    );
  return <Steps room={shelf.data} view={pots.data} />;
}

function Steps({ room, view }: { room: ShelfRoom; view: PotsView }) {
  const [later, setLater] = useDraft<Record<string, boolean>>('start-later', {});
  const [opened, setOpened] = useState<string>();
  const isDone = (step: Step) => step.done(room, view);
  const current = STEPS.find((s) => s.key === opened) ?? STEPS.find((s) => !isDone(s) && !later[s.key]);
  const done = STEPS.filter(isDone).length;
  return (
    <div className="page start-page">
      <header>
        <div>
          <h1>Setting up</h1>
          <div className="small">
            {done} of {STEPS.length} done · what is kept stays kept, and everything can be changed later
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/shelf">
          The whole Shelf
        </Link>
      </header>
      <div className="start-cols">
        <ol className="sheet start-steps" aria-label="Steps">
          {STEPS.map((step, i) => (
            <li key={step.key}>
              <button
                type="button"
                aria-current={step === current ? 'step' : undefined}
                onClick={() => setOpened(step.key)}
              >
                <span className={`mark ${isDone(step) ? 'done' : ''}`}>
                  {isDone(step) ? <Icon name="check2" /> : i + 1}
                </span>
                {step.title}
                {isDone(step) ? (
                  <span className="visually-hidden">, done</span>
                ) : later[step.key] ? (
                  <span className="small push">later</span>
                ) : null}
              </button>
            </li>
          ))}
        </ol>
        {current ? (
          <section className="sheet start-form-card" key={current.key} aria-label={current.title}>
            <header>
              <div>
                <h2>{current.title}</h2>
                <p className="small mb-0">{current.why}</p>
              </div>
              {!isDone(current) && current.key !== 'pots' && (
                <Button
                  variant="outline-secondary"
                  size="sm"
                  className="push"
                  onClick={() => {
                    setLater({ [current.key]: true });
                    setOpened(undefined);
                  }}
                >
                  Later
                </Button>
              )}
            </header>
            {current.form({ room, view, next: () => setOpened(undefined), stay: () => setOpened(current.key) })}
          </section>
        ) : (
          <section className="sheet start-form-card">
            <h2>
              {view.places.some((p) => p.pots.length > 0) ? 'Ready for the first round' : 'Something is left for later'}
            </h2>
            <p className="mb-0">
              {view.places.some((p) => p.pots.length > 0)
                ? 'Every pot is due today, since none has been filled here yet. Skip those that can wait, and say when to look again.'
                : 'Choose a step on the left when you have what it asks for.'}
            </p>
            <div className="d-flex flex-wrap gap-2">
              <Link className="btn btn-primary" to="/round">
                To the round
              </Link>
              <Link className="btn btn-outline-secondary" to="/shelf">
                Add a pH pen or an acid
              </Link>
              <Link className="btn btn-outline-secondary" to="/book/phone">
                Bring the phone in
              </Link>
            </div>
          </section>
        )}
      </div>
    </div>
  );
}
