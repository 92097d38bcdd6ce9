import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import Modal from 'react-bootstrap/Modal';
import { GROWTH } from '../../../contract/growth.ts';
import type { PotPhotoView } from '../../../contract/pot-photos.ts';
import { lengthInPhoto, type Span } from '../../../core/growth/index.ts';
import { dayMonthYear } from '../../shell/format.ts';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { problemAt, useAct } from '../../shell/use-act.ts';

type Point = readonly [number, number];
const POINTS = [
  'one end of what is known',
  'the other end of what is known',
  'one end of the leaf',
  'the other end of the leaf',
] as const;
/** Where the points stand for whoever has no pointer, and how far an arrow key moves one. */
const FIRST: readonly Point[] = [
  [0.3, 0.9],
  [0.7, 0.9],
  [0.5, 0.2],
  [0.5, 0.7],
];
const [STEP, FINE_STEP] = [0.01, 0.002];
const within = (share: number) => Math.min(1, Math.max(0, share));

/** A length taken from a photo: both ends of something known in it, then both ends of the leaf. */
export function PhotoMeasure({
  pot,
  photo,
  onClose,
}: {
  pot: { readonly id: string; readonly code: string };
  photo: PotPhotoView;
  onClose(): void;
}) {
  const { send, problems, busy } = useAct(`/api/pots/${pot.id}/measures`);
  const [points, setPoints] = useState<readonly Point[]>([]);
  const [known, setKnown] = useState('10');
  const [aspect, setAspect] = useState(1);
  const picture = useRef<HTMLDivElement>(null);
  const moving = useRef<number>(undefined);
  const knownCm = Number(known.trim().replace(',', '.'));
  const placed = points.length === POINTS.length;
  const found = placed && knownCm > 0 ? lengthOf(points, knownCm, aspect) : undefined;
  const at = (event: PointerEvent): Point => {
    const box = picture.current!.getBoundingClientRect();
    return [within((event.clientX - box.left) / box.width), within((event.clientY - box.top) / box.height)];
  };
  const put = (i: number, point: Point) => setPoints(points.map((was, j) => (j === i ? point : was)));
  const down = (event: PointerEvent) => {
    const handle = (event.target as HTMLElement).closest<HTMLElement>('[data-point]');
    event.currentTarget.setPointerCapture(event.pointerId);
    if (handle) moving.current = Number(handle.dataset['point']);
    else if (!placed) {
      moving.current = points.length;
      setPoints([...points, at(event)]);
    }
  };
  const nudge = (event: KeyboardEvent, i: number) => {
    const step = event.shiftKey ? FINE_STEP : STEP;
    const [dx, dy] = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[
      event.key
    ] ?? [0, 0];
    if (dx === 0 && dy === 0) return;
    event.preventDefault();
    put(i, [within(points[i]![0] + (dx ?? 0)), within(points[i]![1] + (dy ?? 0))]);
  };
  const keep = async () => {
    if (!found) return;
    const [a, b, c, d] = points as [Point, Point, Point, Point];
    const from = { photoId: photo.id, knownCm, scale: [...a, ...b], ends: [...c, ...d] };
    const cm = Number(found.cm.toFixed(1));
    if (await send({ figures: { leafCm: cm }, on: photo.on, from }, `${pot.code}: ${GROWTH.leafCm.label} ${cm} cm`))
      onClose();
  };
  return (
    <Modal show onHide={onClose} centered size="lg" animation={false} aria-labelledby="photo-measure-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="photo-measure-title">
          Measure in the photo of {dayMonthYear(photo.on)}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="small" aria-live="polite">
          {placed
            ? 'Drag a point to put it right; with the keyboard, arrows move it, Shift finely.'
            : `Tap ${POINTS[points.length]!}.`}{' '}
          Both have to lie in one plane, straight before the camera.
        </p>
        <div
          ref={picture}
          className="photo-points"
          onPointerDown={down}
          onPointerMove={(event) => moving.current !== undefined && put(moving.current, at(event))}
          onPointerUp={() => (moving.current = undefined)}
        >
          <img
            className="photo-large"
            src={`/api/pots/photos/${photo.id}`}
            alt={`${pot.code}, ${dayMonthYear(photo.on)}`}
            draggable={false}
            onLoad={(event) =>
              setAspect(event.currentTarget.naturalWidth / Math.max(1, event.currentTarget.naturalHeight))
            }
          />
          <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden>
            {[0, 2].map((i) => {
              const [a, b] = [points[i], points[i + 1]];
              return a && b ? (
                <line key={i} className={i === 0 ? 'known' : 'leaf'} x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} />
              ) : null;
            })}
          </svg>
          {points.map(([x, y], i) => (
            <button
              key={i}
              type="button"
              data-point={i}
              className={i < 2 ? 'known' : 'leaf'}
              style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
              aria-label={POINTS[i]}
              onKeyDown={(event) => nudge(event, i)}
            />
          ))}
        </div>
      </Modal.Body>
      <Modal.Footer className="photo-measured">
        <LabelledField label="The known length, cm" error={problemAt(problems, 'knownCm')}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              value={known}
              onChange={(e) => setKnown(e.target.value)}
            />
          )}
        </LabelledField>
        <span className="flex-fill" aria-live="polite">
          {found ? (
            <>
              <b className="num">{found.cm.toFixed(1)} cm</b>{' '}
              <span className="small">± {Math.max(0.1, 1.645 * found.sdCm).toFixed(1)} from how points are met</span>
            </>
          ) : found === null ? (
            <span className="field-error">Two points lie on one another: move one of them.</span>
          ) : null}
        </span>
        {!placed && (
          <Button variant="outline-secondary" onClick={() => setPoints(FIRST)}>
            Place the points for me
          </Button>
        )}
        {placed && (
          <Button variant="outline-secondary" onClick={() => setPoints([])}>
            Begin anew
          </Button>
        )}
        <Button disabled={busy || !found} onClick={() => void keep()}>
          Keep it as the longest leaf
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** Null where two points that should lie apart are one. */
function lengthOf(points: readonly Point[], knownCm: number, aspect: number): { cm: number; sdCm: number } | null {
  const [a, b, c, d] = points as [Point, Point, Point, Point];
  if (a.every((share, i) => share === b[i])) return null;
  const [scale, ends]: [Span, Span] = [
    [...a, ...b],
    [...c, ...d],
  ];
  return lengthInPhoto({ knownCm, scale, ends, aspect });
}
