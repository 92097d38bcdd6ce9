import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { RoundPot } from '../../contract/round.ts';
import { LONG_EDGE, MOST_POT_PHOTO_MB, TOO_LARGE } from '../../contract/photo-limits.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, OfflineError, ProblemError, request } from '../shell/api.ts';
import { fetchAnew } from '../shell/fetch-anew.ts';
import { smallPhoto } from '../shell/small-photo.ts';

/**
 * A picture put with the pot: taken with the phone's camera or chosen. It is drawn small here, whatever the camera made of it; one this browser cannot read goes to
 * the server as it is. It stays on this machine; where the server does not answer, it waits here.
 */
export function PhotoButton({ pot }: { pot: Pick<RoundPot, 'id' | 'code'> }) {
  const { put, say } = useActs();
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const kept = `Photo put with ${pot.code}`;
  const keep = async (file: File) => {
    setBusy(true);
    const id = newId();
    const url = `/api/pots/${pot.id}/photos/${id}`;
    try {
      const image = await smallPhoto(file, [LONG_EDGE]);
      if (image) await put({ id, url, body: { image }, words: `Photo of ${pot.code}` }, { toast: kept });
      else await sendAsItIs(url, file);
    } catch (error) {
      if (error instanceof ProblemError) say(error.problem.errors?.[0]?.message ?? error.problem.detail);
      else if (error instanceof OfflineError)
        say('The server does not answer, and this picture cannot be kept here. Keep it on the phone and add it later.');
      else throw error;
    } finally {
      setBusy(false);
    }
  };
  // What waits is kept in the browser, which has room for small pictures only: this one is sent now or not at all.
  const sendAsItIs = async (url: string, file: File) => {
    if (file.size > MOST_POT_PHOTO_MB * 1024 * 1024) return say(`${file.name}: ${TOO_LARGE}`);
    await request('PUT', url, { image: await base64Of(file) });
    await fetchAnew(client);
    say(kept);
  };
  return (
    <>
      <Button size="sm" variant="outline-secondary" disabled={busy} onClick={() => input.current?.click()}>
        {busy ? 'Keeping …' : 'Photo'}
      </Button>
      <input
        ref={input}
        type="file"
        accept="image/*"
        hidden
        aria-label={`Photo of ${pot.code}`}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = '';
          if (file) void keep(file);
        }}
      />
    </>
  );
}

async function base64Of(file: Blob): Promise<string> {
  const url = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(reader.error ?? new Error('The photo could not be read.'));
    reader.readAsDataURL(file);
  });
  return url.slice(url.indexOf(',') + 1);
}
