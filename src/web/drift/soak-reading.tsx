import { useRef, useState, type RefObject } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import type { DriftRoom } from '../../contract/drift.ts';
import type { SoakView } from '../../contract/soak.ts';
import { parseReading } from '../../core/quantity/index.ts';
import { canDip, useDip } from '../shell/use-dip.ts';
import { useServerNow } from '../shell/use-server-now.ts';
import { problemAt } from '../shell/use-act.ts';
import { READ_AT } from './soak-words.ts';
import { useDriftAct } from './use-drift-act.ts';

type Texts = { minute: string; ph: string; ppm: string };

/** The simulated pens in the pot, or in the water that was collected; P dips both. */
function useDips(
  room: DriftRoom,
  soak: SoakView,
  opened: boolean,
  minute: number,
  change: (part: Partial<Texts>) => void,
  phField: RefObject<HTMLInputElement | null>,
) {
  const simulated = canDip(room.phMeter);
  const subject = opened ? 'soakOpened' : 'soak';
  const phDip = useDip(room.phMeter, subject, soak.id, (shown) => change({ ph: String(shown) }), minute);
  const ppmDip = useDip(room.ppmMeter, subject, soak.id, (shown) => change({ ppm: String(shown) }), minute);
  const dip = () => {
    phField.current?.focus();
    phDip.start();
    if (canDip(room.ppmMeter)) ppmDip.start();
  };
  useHotkeys('p', dip, { enabled: simulated && !phDip.running, enableOnFormTags: true, preventDefault: true });
  return { phDip, ppmDip, dip, simulated };
}

const NOTHING_TYPED: Texts = { minute: '', ph: '', ppm: '' };

/** The next reading of a soak test: minute, pH and, at the start and the end, the strength. @param opened of the water that was collected */
export function SoakReading({ room, soak, opened = false }: { room: DriftRoom; soak: SoakView; opened?: boolean }) {
  const now = useServerNow(!opened);
  const { send, problems, code, busy } = useDriftAct();
  const [texts, setTexts] = useState(NOTHING_TYPED);
  const [wrong, setWrong] = useState<string>();
  const change = (part: Partial<Texts>) => setTexts((old) => ({ ...old, ...part }));
  const phField = useRef<HTMLInputElement>(null);
  const gone = Math.max(0, now - Date.parse(soak.startedAt)) / 60_000;
  const read = soak.reads.filter((r) => !r.opened).map((r) => r.minutes);
  // The mark that is next; whoever reads at another minute says so, or leaves it to the clock.
  const next = READ_AT.find((m) => !read.some((r) => Math.abs(r - m) <= 2));
  const minute = opened ? 24 * 60 : texts.minute.trim() === '' ? (next ?? Math.round(gone)) : Number(texts.minute);
  const { phDip, ppmDip, dip, simulated } = useDips(room, soak, opened, minute, change, phField);
  const keep = async () => {
    const [ph, ppm] = [parseReading(texts.ph, 'pH'), parseReading(texts.ppm, 'ppm')];
    if (!ph.ok) return setWrong(ph.message);
    if (!ppm.ok) return setWrong(ppm.message);
    if (!(minute >= 0)) return setWrong('Type the minutes since it was filled, such as 30.');
    setWrong(undefined);
    // The next may be typed or dipped while this one is on its way; one that is refused comes back.
    setTexts(NOTHING_TYPED);
    const kept = await send(
      {
        kind: 'readSoak',
        soakId: soak.id,
        afterMinutes: minute,
        opened,
        ph: ph.reading,
        ppm: ppm.reading,
        phMeterId: room.phMeter?.id ?? null,
        ppmMeterId: room.ppmMeter?.id ?? null,
        confirmedOdd: code === 'reading-odd',
      },
      `${soak.code}: soak test read`,
    );
    if (!kept) setTexts((now) => (now === NOTHING_TYPED ? texts : now));
  };
  const error =
    wrong ?? ['ph', 'afterMinutes', 'ppm'].map((field) => problemAt(problems, field)).find(Boolean) ?? problems[''];
  if (!opened && next === undefined && read.length >= READ_AT.length)
    return <p className="small mb-0">Everything is read. Drain it, and say what leaked.</p>;
  return (
    <form
      className="soak-reading"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      {opened && (
        <p className="small mb-1">
          Collect it, stir it now and then, leave it open for a day, and read it again: that fixes the answer.
        </p>
      )}
      <div className="fields">
        <MinuteField opened={opened} next={next} gone={gone} texts={texts} change={change} />
        <PenFields
          texts={texts}
          change={change}
          phDip={phDip}
          ppmDip={ppmDip}
          phField={phField}
          wrong={Boolean(error)}
        />
        <Button type="submit" size="sm" variant="clay" disabled={busy || phDip.running}>
          Keep
        </Button>
      </div>
      {error && (
        <div className="field-error" role="alert">
          {error}
        </div>
      )}
      <PensLine simulated={simulated} how={phDip.how} dip={dip} opened={opened} minute={minute} gone={gone} />
    </form>
  );
}

function PensLine({
  simulated,
  how,
  dip,
  opened,
  minute,
  gone,
}: {
  simulated: boolean;
  how: string | undefined;
  dip: () => void;
  opened: boolean;
  minute: number;
  gone: number;
}) {
  return (
    <div className="small">
      {simulated ? (
        <button type="button" className="btn btn-link btn-sm p-0" onClick={dip}>
          <kbd>P</kbd> dip the pens ({how ?? 'simulated'})
        </button>
      ) : (
        'a drop kit’s range does too: 6.2 to 6.5'
      )}
      {simulated && how === undefined && !opened && minute > gone + 2 && `; the demo hurries to minute ${minute}`}
    </div>
  );
}

function MinuteField({
  opened,
  next,
  gone,
  texts,
  change,
}: {
  opened: boolean;
  next: number | undefined;
  gone: number;
  texts: { minute: string; ph: string; ppm: string };
  change: (part: { minute: string }) => void;
}) {
  if (!!opened) return null;
  return (
    <label>
      min
      <input
        className="form-control form-control-sm"
        inputMode="numeric"
        aria-label="Minutes since it was filled"
        placeholder={String(next ?? Math.round(gone))}
        value={texts.minute}
        onChange={(e) => change({ minute: e.target.value })}
      />
    </label>
  );
}

type Dips = Pick<ReturnType<typeof useDips>, 'phDip' | 'ppmDip'>;

/** pH and strength, as typed or as the pens settle. */
function PenFields({
  texts,
  change,
  phDip,
  ppmDip,
  phField,
  wrong,
}: Dips & {
  texts: Texts;
  change(part: Partial<Texts>): void;
  phField: RefObject<HTMLInputElement | null>;
  wrong: boolean;
}) {
  return (
    <>
      <label>
        pH
        <input
          ref={phField}
          className="form-control form-control-sm"
          inputMode="decimal"
          aria-label="Soak test, pH"
          autoComplete="off"
          value={phDip.running ? String(phDip.display?.shown ?? '') : texts.ph}
          onChange={(e) => change({ ph: e.target.value })}
          aria-invalid={wrong}
        />
      </label>
      <label>
        ppm
        <input
          className="form-control form-control-sm"
          inputMode="decimal"
          aria-label="Soak test, ppm, at the start and the end"
          autoComplete="off"
          value={ppmDip.running ? String(ppmDip.display?.shown ?? '') : texts.ppm}
          onChange={(e) => change({ ppm: e.target.value })}
        />
      </label>
    </>
  );
}
