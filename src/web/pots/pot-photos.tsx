import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { PotView } from '../../contract/pots.ts';
import { PhotoButton } from '../round/index.ts';
import { useActs } from '../shell/acts.tsx';
import { dayMonthYear } from '../shell/format.ts';
import { PhotoMeasure } from './growth/photo-measure.tsx';
import { PhotoViewer } from '../shell/photo-viewer.tsx';

/** Pictures of the pot, newest first; they stay in the collection's folder. */
export function PotPhotos({ view }: { view: PotView }) {
  const { undo } = useActs();
  const [open, setOpen] = useState<string>();
  const [measured, setMeasured] = useState<string>();
  const shown = view.photos.find((p) => p.id === open);
  const measuring = view.photos.find((p) => p.id === measured);
  return (
    <section className="sheet pot-photos" aria-label="Photos">
      <div className="d-flex align-items-baseline gap-2">
        <h2>Photos</h2>
        <span className="small">{view.photos.length === 0 ? 'none yet; they never leave this machine' : ''}</span>
        <span className="push">
          <PhotoButton pot={view.pot} />
        </span>
      </div>
      <div className="thumbs">
        {view.photos.map((p) => (
          <button key={p.id} type="button" onClick={() => setOpen(p.id)} aria-label={`Photo of ${dayMonthYear(p.on)}`}>
            <img src={`/api/pots/photos/${p.id}`} alt="" loading="lazy" />
            <span className="small">{dayMonthYear(p.on)}</span>
          </button>
        ))}
      </div>
      {shown && (
        <PhotoViewer
          title={`${view.pot.code}, ${dayMonthYear(shown.on)}`}
          src={`/api/pots/photos/${shown.id}`}
          alt={`${view.pot.code} ${view.pot.name}`}
          onClose={() => setOpen(undefined)}
          takeAway={() => void undo(shown.eventId)}
          more={
            <Button
              variant="outline-secondary"
              onClick={() => {
                setMeasured(shown.id);
                setOpen(undefined);
              }}
            >
              Measure in it
            </Button>
          }
        />
      )}
      {measuring && <PhotoMeasure pot={view.pot} photo={measuring} onClose={() => setMeasured(undefined)} />}
    </section>
  );
}
