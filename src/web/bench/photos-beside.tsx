import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { BatchView } from '../../contract/bench.ts';
import { MOST_PHOTO_BYTES, MOST_PHOTOS } from '../../contract/photos.ts';
import { Icon } from '../drawing/icon.tsx';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { PhotoViewer } from '../shell/photo-viewer.tsx';
import { smallPhoto } from '../shell/small-photo.ts';

/** Long edge of a kept photo, pixels: enough to tell the colours of a kit and read a display. */
const LONG_EDGES = [1000, 720, 480] as const;
type Reading = BatchView['ph']['readings'][number];

/** Photos of a colour kit beside the reading it gave: taken with the phone's camera or chosen, looked at, taken away. */
export function PhotosBeside({ batchId, reading }: { batchId: string; reading: Reading }) {
  const { put, undo, say } = useActs();
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState<string>();
  const shown = reading.photos.find((p) => p.id === open);

  const keep = async (file: File) => {
    const jpeg = await smallPhoto(file, LONG_EDGES, MOST_PHOTO_BYTES);
    if (!jpeg)
      return say(`${file.name} is not a picture this browser can read. Take it again, or choose a JPEG or PNG.`);
    const id = newId();
    try {
      const sent = await put<BatchView>(
        {
          id,
          url: `/api/bench/batches/${batchId}/photos/${id}`,
          body: { ofEventId: reading.eventId, jpeg },
          words: 'A photo',
        },
        { toast: `Photo put beside the ${reading.label}` },
      );
      if (sent.kind === 'done') client.setQueryData(['batch', batchId], sent.value);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    }
  };
  return (
    <span className="photos-beside">
      {reading.photos.map((p) => (
        <button
          key={p.id}
          type="button"
          onClick={() => setOpen(p.id)}
          aria-label={`Photo of the ${reading.label}, ${p.time}`}
        >
          <img src={`/api/bench/photos/${p.id}`} alt="" />
        </button>
      ))}
      {reading.photos.length < MOST_PHOTOS && (
        <button
          type="button"
          className="add"
          onClick={() => input.current?.click()}
          aria-label={`Put a photo beside the ${reading.label}`}
          title="Put a photo beside it"
        >
          <Icon name="camera" />
        </button>
      )}
      <input
        ref={input}
        type="file"
        accept="image/*"
        hidden
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = '';
          if (file) void keep(file);
        }}
      />
      {shown && (
        <PhotoViewer
          title={`The ${reading.label}, ${shown.time}`}
          src={`/api/bench/photos/${shown.id}`}
          alt={`What the ${reading.label} was read from`}
          onClose={() => setOpen(undefined)}
          takeAway={() => void undo(shown.id)}
        />
      )}
    </span>
  );
}
