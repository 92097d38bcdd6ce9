import { ERRORS, type ErrorCode, type FieldProblem, type Problem } from '../contract/errors.ts';

/** A mistake the grower can mend, as data: code from the registry, what is wrong, and where. */
export class AppError extends Error {
  readonly code: ErrorCode;
  readonly errors: FieldProblem[];
  readonly existing: Problem['existing'];

  constructor(
    code: ErrorCode,
    detail: string,
    options: { errors?: FieldProblem[]; existing?: Problem['existing'] } = {},
  ) {
    super(detail);
    this.name = 'AppError';
    this.code = code;
    this.errors = options.errors ?? [];
    this.existing = options.existing;
  }

  toProblem(): Problem {
    const { status, title } = ERRORS[this.code];
    return {
      type: `urn:frugal-sip:${this.code}`,
      title,
      status,
      code: this.code,
      detail: this.message,
      ...(this.errors.length ? { errors: this.errors } : {}),
      ...(this.existing ? { existing: this.existing } : {}),
    };
  }
}

/** Something typed that does not fit, said at its field. */
export function fieldError(path: string, message: string): AppError {
  return new AppError('invalid-request', message, { errors: [{ path, message }] });
}
