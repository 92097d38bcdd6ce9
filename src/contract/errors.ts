/**
 * Every error the server answers with: code, HTTP status, title. A test keeps code, docs and contract equal.
 * Users' mistakes carry field paths and remedies beside these.
 */
export const ERRORS = {
  'invalid-request': { status: 400, title: 'Something typed does not fit' },
  'not-found': { status: 404, title: 'That is not here' },
  'id-reused': { status: 409, title: 'This act is already logged with other contents' },
  'already-logged': { status: 409, title: 'This pot is already logged for that day' },
  'mix-too-small': { status: 409, title: 'There is not enough of that mix left' },
  'batch-closed': { status: 409, title: 'That batch is closed' },
  'batch-step-order': { status: 409, title: 'That step is not next for this batch' },
  'reading-below-base': { status: 422, title: "The reading is below the water's own" },
  'reading-odd': { status: 422, title: 'That reading is far from what was expected' },
  'vessel-too-small': { status: 422, title: 'The vessel does not hold that much' },
  'too-many-corrections': { status: 422, title: 'Three pH corrections are the most for one batch' },
  'not-read': { status: 409, title: 'Nothing was read in this soak' },
  'too-soon': { status: 409, title: 'That was done a moment ago' },
  'not-ready': { status: 409, title: 'That clay is not ready' },
  'not-soaking': { status: 409, title: 'That clay is not soaking' },
  'hold-running': { status: 409, title: 'That pot is held already' },
  'in-soak': { status: 409, title: 'That pot stands in its soak' },
  'cannot-undo': { status: 409, title: 'That cannot be taken back yet' },
  'no-simulated-pen': { status: 409, title: 'That meter is typed in, not simulated' },
  'too-many-requests': { status: 429, title: 'Too many requests at once' },
  'bad-origin': { status: 403, title: 'The request came from another page' },
  'code-taken': { status: 409, title: 'That code is taken' },
  'in-use': { status: 409, title: 'That is still in use' },
  'changed-since': { status: 409, title: 'That was changed since' },
  'cannot-correct': { status: 409, title: 'That cannot be corrected' },
  'not-let-in': { status: 401, title: 'This device has not been let in' },
  'wrong-passphrase': { status: 403, title: 'That is not the passphrase' },
  'only-here': { status: 403, title: 'Only on the machine itself' },
  'backup-bad': { status: 422, title: 'That backup cannot be used' },
  'disk-full': { status: 507, title: 'The disk is full' },
  'cannot-write': { status: 507, title: 'The collection cannot be written' },
  damaged: { status: 507, title: 'The collection’s file is damaged or gone' },
  locked: { status: 503, title: 'Another program holds the collection' },
  busy: { status: 503, title: 'The collection is being restored' },
  internal: { status: 500, title: 'Something went wrong on our side' },
} as const satisfies Record<string, { status: number; title: string }>;

export type ErrorCode = keyof typeof ERRORS;

/** One thing wrong, at one field, with what to do. */
export type FieldProblem = { path: string; message: string };

/** RFC 9457 problem details as this app sends them. */
export type Problem = {
  type: string;
  title: string;
  status: number;
  code: ErrorCode;
  detail: string;
  errors?: FieldProblem[];
  existing?: { at: string; eventId: string };
};
