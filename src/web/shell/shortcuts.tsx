import Modal from 'react-bootstrap/Modal';
import { Link } from 'react-router';

const KEYS: [string, [string, string][]][] = [
  [
    'Anywhere',
    [
      ['Alt 1 to 8', 'Round, Bench, Pots, Clay, Drift, Season, Shelf, Book'],
      ['C', 'start a clock'],
      ['Esc', 'leave a form as it was'],
      ['?', 'this list'],
    ],
  ],
  [
    'Round',
    [
      ['Enter', 'log as planned, next pot'],
      ['← → ↑ ↓', 'along and between the shelves'],
      ['R, or a digit', 'read the old reservoir'],
      ['P', 'dip the pen in the field you are in'],
      ['L', 'leave unread what is asked'],
      ['S', 'skip, with a reason'],
      ['U', 'take the last one back'],
    ],
  ],
  [
    'Bench',
    [
      ['P', 'dip the pen'],
      ['Enter', 'keep the reading'],
      ['U', 'take the last one back'],
      ['H', 'wet hands: one thing at a time, huge'],
    ],
  ],
  [
    'Clay',
    [
      ['P', 'dip the pen'],
      ['Enter', 'keep the reading; then, on the button, the change of water'],
      ['U', 'take the last one back'],
    ],
  ],
  [
    'Pots',
    [
      ['/', 'find'],
      ['N', 'add a pot'],
      ['X, or Space', 'choose the pot in focus'],
      ['Shift ← → ↑ ↓', 'move it along the shelf, to the next shelf'],
      ['M', 'move the chosen ones'],
      ['G', 'put them on another regimen'],
      ['Esc', 'choose none'],
    ],
  ],
  [
    'Book',
    [
      ['/', 'find lines'],
      ['N', 'write something down'],
      ['↑ ↓', 'from line to line; along the days on the strip ← →'],
      ['Enter', 'open a mix or a round'],
      ['U', 'take the line in focus back'],
    ],
  ],
  [
    'A pot’s page',
    [
      ['← →', 'the pot before, the pot after'],
      ['E', 'change it'],
      ['W', 'write something down about it'],
      ['M', 'move it'],
    ],
  ],
];

/** Every key, for `?`. */
export default function Shortcuts({ onClose }: { onClose: () => void }) {
  return (
    <Modal show onHide={onClose} animation={false} centered aria-labelledby="keys-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="keys-title">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="small">
          <Link to="/words" onClick={onClose}>
            Words and what they mean
          </Link>
        </p>
        {KEYS.map(([room, keys]) => (
          <section key={room} className="mb-3">
            <h3>{room}</h3>
            <dl className="keys">
              {keys.map(([key, what]) => (
                <div key={key} className="d-flex gap-2">
                  <dt>
                    <kbd>{key}</kbd>
                  </dt>
                  <dd className="mb-1">{what}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </Modal.Body>
    </Modal>
  );
}
