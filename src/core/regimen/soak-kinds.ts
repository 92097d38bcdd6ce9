import type { ProductKind } from '../solution/index.ts';
import type { Soak, SoakWhat } from './regimen.ts';
import { MAGNESIUM_SOAK, SILICATE_SOAK } from './schools.ts';

/** A kind of soak: what it is called, what it brings, what it is measured by, and how it is usually given. */
export type SoakKind = {
  /** In the middle of a sentence. */
  readonly name: string;
  /** In a list to choose from. */
  readonly label: string;
  /** The soaks it stands for. */
  readonly brings: readonly [SoakWhat, ...SoakWhat[]];
  /** The product whose salts a pen reads, so many µS/cm over the water. */
  readonly byPen: ProductKind | null;
  /** Silica, mg/L SiO2, which no pen reads well. */
  readonly silica: boolean;
  /** As it is given where a regimen says nothing of it. */
  readonly usual: Soak;
};

/** Everything that tells one kind of soak from another. A kind of {@link SoakWhat} that is missing here does not compile. */
export const SOAKS: Readonly<Record<SoakWhat, SoakKind>> = Object.freeze({
  magnesium: {
    name: 'magnesium soak',
    label: 'magnesium',
    brings: ['magnesium'],
    byPen: 'magnesium',
    silica: false,
    usual: MAGNESIUM_SOAK,
  },
  silicate: {
    name: 'silicate soak',
    label: 'silicate',
    brings: ['silicate'],
    byPen: null,
    silica: true,
    usual: SILICATE_SOAK,
  },
  both: {
    name: 'magnesium and silicate soak',
    label: 'both in one',
    brings: ['magnesium', 'silicate'],
    byPen: 'magnesium',
    silica: true,
    usual: { ...MAGNESIUM_SOAK, what: 'both', sio2MgL: SILICATE_SOAK.sio2MgL },
  },
});

/** Whether a soak of the one kind gives what the other does. */
export const standsFor = (soak: SoakWhat, wanted: SoakWhat) =>
  SOAKS[wanted].brings.every((what) => SOAKS[soak].brings.includes(what));
