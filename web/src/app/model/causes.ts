/**
 * The one place that turns what went wrong into words for people. Errors of our own say it themselves; what browsers and
 * libraries say is theirs, and goes to the console.
 */

const FULL = 'the disk, or the browser’s share of it, is full';
const MEMORY = 'there isn’t enough memory';
const KEPT = 'what this browser keeps for Hazy Lens can’t be reached';
const GONE = 'the file is no longer where it was, or may not be read';
const FORBIDDEN = 'the browser doesn’t allow it';
const OURS = 'Hazy Lens made an error';

/** An error whose message also says what to do: nothing more is advised. */
export class AdvisedError extends Error {
  override readonly name = 'AdvisedError';
}

/** By the names that browsers and libraries give to their errors. */
const CAUSES: Readonly<Record<string, string>> = {
  QuotaExceededError: FULL,
  MissingAPIError: 'this browser lets Hazy Lens keep nothing',
  DatabaseClosedError: KEPT,
  OpenFailedError: KEPT,
  InvalidStateError: KEPT,
  VersionError: KEPT,
  UpgradeError: KEPT,
  UnknownError: KEPT,
  TransactionInactiveError: KEPT,
  NotFoundError: GONE,
  NotReadableError: GONE,
  NotAllowedError: FORBIDDEN,
  SecurityError: FORBIDDEN,
  EncodingError: 'the browser can’t encode or decode it',
  NotSupportedError: 'the browser can’t do it',
  AbortError: 'it was stopped',
  TypeError: OURS,
  ReferenceError: OURS,
  SyntaxError: OURS,
  DataCloneError: OURS,
  RuntimeError: OURS,
};
/** How engines say that they can get no more memory. */
const NO_MEMORY = /memory|alloc|array (buffer )?length|invalid array/i;

/** What a browser or a library said, for who looks into it. */
export const logCause = (error: unknown): void => console.info('Hazy Lens:', error);

const nameOf = (error: unknown): string => (error as { name?: string } | null)?.name ?? '';

/** The names of an error, and of what was behind it, the innermost first. */
const namesOf = (error: unknown): string[] => [
  nameOf((error as { inner?: unknown } | null)?.inner ?? null),
  nameOf(error),
];

/** True for an error that says there is no room left. */
export const isStorageFull = (error: unknown): boolean => namesOf(error).includes('QuotaExceededError');

/** Why something failed, to stand within a sentence: without a full stop. */
export function reasonOf(error: unknown): string {
  const message = error instanceof Error || error instanceof DOMException ? error.message : '';
  const cause = causeOf(error, message);
  if (cause === null && message) return message.replace(/\.$/, '');
  logCause(error);
  return cause ?? OURS;
}

function causeOf(error: unknown, message: string): string | null {
  if (isStorageFull(error)) return FULL;
  const name = nameOf(error);
  if (name === 'RangeError' && NO_MEMORY.test(message)) return MEMORY;
  return namesOf(error).flatMap((one) => CAUSES[one] ?? [])[0] ?? null;
}

/** The same as a sentence of its own. */
export function sentenceOf(error: unknown): string {
  const reason = reasonOf(error);
  return `${reason.charAt(0).toUpperCase()}${reason.slice(1)}${/[.!?]$/.test(reason) ? '' : '.'}`;
}
