/** An error whose message is a sentence for the person. */
export class FileError extends Error {
  override readonly name = 'FileError';
}

/** Names of files that are meant as clips. */
const CLIP_NAME = /\.(mp4|m4v|mov|webm|mkv)$/i;

const UNTOUCHED = 'Nothing was changed.';

export const emptyFile = (name: string): FileError =>
  new FileError(`“${name}” is empty (0 bytes). ${UNTOUCHED} Please choose the picture again.`);

export const unsupported = (name: string): FileError =>
  new FileError(
    CLIP_NAME.test(name)
      ? `“${name}” is named like a clip but is not one. ${UNTOUCHED}`
      : `“${name}” is not a picture that Hazy Lens can read. It takes JPEG, PNG, WebP, AVIF, HEIC, TIFF and GIF. ${UNTOUCHED}`,
  );

export const notOpened = (name: string, problem: string): FileError =>
  new FileError(`“${name}” was not opened. ${problem} ${UNTOUCHED}`);

export const timedOut = (name: string, seconds: number): string =>
  `“${name}” was given up: reading it made no progress for ${seconds} seconds, so it is probably damaged. ${UNTOUCHED}`;

export const noMemory = (name: string): string => `There was not enough memory for “${name}”. ${UNTOUCHED}`;

export const cutShort = (name: string): FileError =>
  new FileError(
    `“${name}” is cut short: the file ends before the picture does. ${UNTOUCHED} Please copy it from its source again.`,
  );

const unread = (name: string, kind: string, reason: string): FileError =>
  new FileError(
    `“${name}” is a ${kind.toUpperCase()} of a kind that is not read (${reason}). ${UNTOUCHED} Please save it as PNG or as plain TIFF and open that.`,
  );

const damaged = (name: string, kind: string, reason: string): FileError =>
  new FileError(
    `“${name}” is damaged: the ${kind.toUpperCase()} inside cannot be decoded (${reason}). ${UNTOUCHED} Please copy it from its source again.`,
  );

/** Why a decoder gave up, as a sentence. @param reason the decoder's own words. */
export function decoderError(name: string, kind: string, reason: string): FileError {
  const first = reason
    .split('\n')
    .map((line) =>
      line
        .replace(/^vips::Error,/, '')
        .replace(/^\w+: /, '')
        .trim(),
    )
    .filter((line) => line !== '' && !line.startsWith('unable to call'))
    .at(-1)
    ?.slice(0, 120);
  const words = first ?? 'its header makes no sense';
  if (
    /premature|truncat|cut short|end of (file|input|data|image)|unexpected end|not enough (data|bytes)|read error|too short|out of data|short read/i.test(
      reason,
    )
  )
    return cutShort(name);
  if (
    /not supported|unsupported|not configured|not implemented|unimplemented|no loader|unknown|not known|not a known/i.test(
      reason,
    )
  )
    return unread(name, kind, words);
  return damaged(name, kind, words);
}
