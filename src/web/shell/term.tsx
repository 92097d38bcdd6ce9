import { useId, type ReactNode } from 'react';
import OverlayTrigger from 'react-bootstrap/OverlayTrigger';
import Popover from 'react-bootstrap/Popover';
import { Link } from 'react-router';
import { TRADE_WORDS, type TradeWord } from './trade-words.ts';

/** A word that opens its meaning where it stands, by a press or by Enter; Esc or a press elsewhere closes it. */
export function Term({ of, children }: { of: TradeWord; children: ReactNode }) {
  const id = useId();
  const { word, means } = TRADE_WORDS[of];
  return (
    <OverlayTrigger
      trigger="click"
      rootClose
      placement="bottom"
      overlay={
        <Popover id={id} className="term-meaning">
          <Popover.Body>
            <b>{word}</b> {means} <Link to="/words">All words</Link>
          </Popover.Body>
        </Popover>
      }
    >
      <button type="button" className="term" aria-label={`${textOf(children)}: what it means`}>
        {children}
      </button>
    </OverlayTrigger>
  );
}

const textOf = (children: ReactNode) => (typeof children === 'string' ? children : 'This word');
