import Button from 'react-bootstrap/Button';
import { GUESSED_DROPS_PER_ML } from '../../core/quantity/index.ts';
import type { RoomTool, RoomVessel } from './chemistry.ts';
import type { SheetProps } from './sheet.tsx';
import { litres } from '../shell/format.ts';

/** A measure, and how to find its size where nobody knows it. */
export function ToolSheet({ room, thing: tool, small, choose }: SheetProps<RoomTool> & { choose(id: string): void }) {
  const { values } = tool;
  return (
    <>
      <Siblings
        things={room.tools.filter((t) => t.values.kind === values.kind && t.retiredOn === null)}
        chosenId={tool.id}
        choose={choose}
      />
      {values.kind === 'dropper' && (
        <>
          <p className="mb-0">
            {values.dropsPerMl === null ? (
              <>
                <b>Its drops have no size yet.</b> {GUESSED_DROPS_PER_ML} to the mL is taken as a guess, good to a
                fifth, and said at every dose. A dose told in drops of another dropper is not taken over to this one
                until both are counted.
              </>
            ) : (
              <>
                <b className="num">{Number(values.dropsPerMl.toFixed(1))}</b> drops make 1 mL: a drop is{' '}
                <b className="num">{(1000 / values.dropsPerMl).toFixed(0)}</b> µL. Count again when its tip is changed
                or the liquid is thick.
              </>
            )}
          </p>
          <Button className="align-self-start" onClick={() => small('drops')}>
            Count its drops
          </Button>
        </>
      )}
      {values.kind === 'syringe' && (
        <p className="mb-0">
          Holds <b className="num">{values.capacityMl}</b> mL, marked every <b className="num">{values.stepMl}</b> mL.
          Read it at the edge of the plunger, without air.
        </p>
      )}
      {values.kind === 'spoon' && (
        <p className="mb-0">
          {values.capacityMl === null
            ? 'Its size is not known: nothing is scaled from it. Fill it with water and weigh that (1 g is 1 mL), then change it here.'
            : `Level, it holds ${values.capacityMl} mL of water. Grams of a powder differ: weigh a level one once.`}
        </p>
      )}
      {values.kind === 'scale' && (
        <p className="mb-0">
          Weighs to <b className="num">{values.stepG}</b> g: fit for doses of{' '}
          {Number((20 * (values.stepG ?? 0.1)).toFixed(1))} g and more. For less, weigh out a stock.
        </p>
      )}
      <p className="small mb-0">
        {tool.uses === 0
          ? 'Not used yet.'
          : `Used for ${tool.uses.toLocaleString('en-GB')} batch${tool.uses === 1 ? '' : 'es'}.`}
      </p>
    </>
  );
}

/** The others of its kind, to change to. */
function Siblings({
  things,
  chosenId,
  choose,
}: {
  things: readonly { id: string; values: { name: string } }[];
  chosenId: string;
  choose(id: string): void;
}) {
  if (things.length < 2) return null;
  return (
    <div className="siblings" role="group" aria-label="Which">
      {things.map((t) => (
        <Button
          key={t.id}
          size="sm"
          variant="outline-secondary"
          aria-pressed={t.id === chosenId}
          active={t.id === chosenId}
          onClick={() => choose(t.id)}
        >
          {t.values.name}
        </Button>
      ))}
    </div>
  );
}

export function VesselSheet({ room, thing: vessel, choose }: SheetProps<RoomVessel> & { choose(id: string): void }) {
  const { values } = vessel;
  return (
    <>
      <Siblings things={room.vessels.filter((v) => v.retiredOn === null)} chosenId={vessel.id} choose={choose} />
      <p className="mb-0">
        Holds <b className="num">{litres(values.capacityL)}</b>
        {values.material && `, of ${values.material}`}.
        {values.heatProof ? ' It stands hot water, for stocks made from solids.' : ' Not for hot water.'}{' '}
        {vessel.uses === 0
          ? 'Not used yet.'
          : `Used for ${vessel.uses.toLocaleString('en-GB')} batch${vessel.uses === 1 ? '' : 'es'}.`}
      </p>
    </>
  );
}
