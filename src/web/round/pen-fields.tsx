import type { KeyboardEvent } from 'react';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import { phText, ppmText } from '../shell/format.ts';
import { canDip, type Dip } from '../shell/use-dip.ts';
import type { Draft } from './read-draft.ts';
import { ReadingField } from './reading-field.tsx';
import type { AskHere, AsksHere } from './what-is-asked.ts';

type Read = Pick<Draft, 'ppm' | 'ph'>;
type Props = Pick<RoundView, 'ppmMeter' | 'phMeter'> & {
  /** What is read, such as "Old reservoir". */
  of: string;
  expected: RoundPot['expected'];
  draft: Read;
  errors: Partial<Record<keyof Read, string | undefined>>;
  /** What is asked of it; undefined where everything is read. */
  asks?: AsksHere | undefined;
  dips: Record<keyof Read, Dip & { start(): void }>;
  change(part: Partial<Read>): void;
  onKeyDown?(event: KeyboardEvent<HTMLInputElement>): void;
};

/** Strength and pH of what stands in a pot, each with its pen and what is expected. Of a pot nothing was ever read of, that is what pots at large do. */
export function PenFields(props: Props) {
  const { of, expected, ppmMeter, phMeter, draft, errors, asks, dips, change, ...keys } = props;
  const likely = (ask: AskHere | undefined) =>
    ask && ask.is !== 'asked' ? 'leave,' : expected.atLarge ? 'guess' : 'expect';
  return (
    <div className="readings">
      <ReadingField
        {...keys}
        name="ppm"
        label={`${of}, ppm`}
        unit="ppm"
        value={draft.ppm}
        dip={canDip(ppmMeter) ? dips.ppm : undefined}
        penName={ppmMeter?.name}
        expected={expected.ppm === undefined ? undefined : `${likely(asks?.ppm)} ${ppmText(expected.ppm)}`}
        ask={asks?.ppm}
        error={errors.ppm}
        onChange={(ppm) => change({ ppm })}
      />
      <ReadingField
        {...keys}
        name="ph"
        label={`${of}, pH`}
        unit="pH"
        value={draft.ph}
        dip={canDip(phMeter) ? dips.ph : undefined}
        penName={phMeter?.name}
        expected={expected.ph === undefined ? undefined : `${likely(asks?.ph)} ${phText(expected.ph)}`}
        ask={asks?.ph}
        error={errors.ph}
        onChange={(ph) => change({ ph })}
      />
    </div>
  );
}
