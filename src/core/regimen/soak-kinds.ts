import type { SoakWhat } from './regimen.ts';

/** A kind of soak: what it is called, and what it is measured by. */
export type SoakKind = {
  /** In the middle of a sentence. */
  readonly name: string;
  /** Salts that a pen reads, so many µS/cm over the water. */
  readonly byPen: boolean;
  /** Silica, mg/L SiO2, which no pen reads well. */
  readonly silica: boolean;
};

/** Everything that tells one kind of soak from another. A kind of {@link SoakWhat} that is missing here does not compile. */
export const SOAKS: Readonly<Record<SoakWhat, SoakKind>> = Object.freeze({
  magnesium: { name: 'magnesium soak', byPen: true, silica: false },
  silicate: { name: 'silicate soak', byPen: false, silica: true },
  both: { name: 'magnesium and silicate soak', byPen: true, silica: true },
});
