import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { RoundMix, RoundPot } from '../../contract/round.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { PotSection } from '../drawing/index.ts';
import { mL } from '../shell/format.ts';

type Props = {
  pot: RoundPot;
  mix: RoundMix | undefined;
  /** Of a soak that is still to come, or that it stands in. */
  soakMix: RoundMix | undefined;
  isDue: boolean;
  /** On a phone the way back stands here. */
  onUndo: (() => void) | undefined;
};

/** Which pot is in hand. */
export function PotHead({ pot, mix, soakMix, isDue, onUndo }: Props) {
  const standing = !isDue ? (pot.done?.kind ?? pot.due.words) : pot.due.daysLate > 0 ? pot.due.words : 'due today';
  return (
    <div className="head">
      <div className="glyph">
        <PotSection drawing={pot.drawing} seed={pot.code} size={50} name={`${pot.code} ${pot.name}`} />
      </div>
      <div className="flex-fill">
        <h2>
          <Link className="plain" to={`/pots/${pot.id}`}>
            {pot.name}, {inSentence(pot.place)}
          </Link>
        </h2>
        <div className="small">
          {pot.code} · reservoir <span className="nowrap">{mL(pot.reservoirMl)}</span>
          {pot.clay && ` · clay ${pot.clay}`}
        </div>
        <div className="chips">
          <span className={isDue && pot.due.daysLate > 0 ? 'chip late' : 'chip'}>{standing}</span>
          {soakMix && (
            <span className="chip clay">
              {pot.inSoak ? 'in its soak' : `${pot.soak?.way === 'spray' ? 'Spray' : 'Soak'} ${soakMix.letter}, then`}
            </span>
          )}
          {mix && <span className="chip water">Mix {mix.letter}</span>}
        </div>
      </div>
      {onUndo && (
        <Button type="button" variant="outline-light" className="undo" onClick={onUndo}>
          <Icon name="arrowCounterclockwise" /> Undo
        </Button>
      )}
    </div>
  );
}
