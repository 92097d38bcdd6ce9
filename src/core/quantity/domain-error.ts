/** What can be wrong with a value handed to the core. One code per kind of mistake, so that callers can choose a remedy. */
export type DomainErrorCode =
  'not-positive' | 'not-finite' | 'negative' | 'out-of-range' | 'below-base' | 'target-below-base' | 'no-tool';

/**
 * The core's only failure: a coded error with the offending value and what to do about it.
 * The message is plain English for the grower; the code is for programs.
 */
export class DomainError extends Error {
  readonly code: DomainErrorCode;
  readonly value: unknown;
  readonly remedy: string;

  constructor(code: DomainErrorCode, message: string, value: unknown, remedy: string) {
    super(message);
    this.name = 'DomainError';
    this.code = code;
    this.value = value;
    this.remedy = remedy;
  }
}

/** Throws unless `value` is a finite number above zero (positive form, so that NaN is rejected). */
export function requirePositive(value: number, name: string): void {
  if (!(value > 0 && Number.isFinite(value))) {
    throw new DomainError(
      'not-positive',
      `${name} must be more than zero`,
      value,
      `Give ${name} as a number above zero.`,
    );
  }
}

/** Throws unless `value` is a finite number, zero or above. */
export function requireNotNegative(value: number, name: string): void {
  if (!(value >= 0 && Number.isFinite(value))) {
    throw new DomainError('negative', `${name} cannot be below zero`, value, `Give ${name} as zero or more.`);
  }
}

/** The value itself when it lies between two limits, both allowed; throws otherwise. */
export function requireInRange(value: number, low: number, high: number, name: string): number {
  if (!(value >= low && value <= high))
    throw new DomainError(
      'out-of-range',
      `${name} lies between ${low} and ${high}`,
      value,
      `Give ${name} within that.`,
    );
  return value;
}
