/** An error whose message is a sentence for the person. */
export class FileError extends Error {
  override readonly name = 'FileError';
}

/** Names of files that are meant as clips. */
const CLIP_NAME = /\.(mp4|m4v|mov|webm|mkv)$/i;

const UNTOUCHED = 'Your project is unchanged.';

export const emptyFile = (name: string): FileError =>
  new FileError(`“${name}” is empty (0 bytes). ${UNTOUCHED} Choose the picture again.`);

export const unsupported = (name: string): FileError =>
  new FileError(
    CLIP_NAME.test(name)
      ? `“${name}” is named like a clip but isn’t one. ${UNTOUCHED}`
      : `“${name}” isn’t a supported picture. Use JPEG, PNG, WebP, AVIF, HEIC, TIFF, GIF or a raw file.`,
  );

export const notOpened = (name: string, problem: string): FileError =>
  new FileError(`“${name}” wasn’t opened. ${problem} ${UNTOUCHED}`);

export const timedOut = (name: string, seconds: number): string =>
  `“${name}” can’t be opened: reading stalled for ${seconds} s. The file may be damaged. ${UNTOUCHED}`;

export const noMemory = (name: string): string => `There wasn’t enough memory for “${name}”. ${UNTOUCHED}`;

export const cutShort = (name: string): FileError =>
  new FileError(
    `“${name}” can’t be opened: the file is cut short. ${UNTOUCHED} Copy the file from its source again.`,
  );

const unread = (name: string, kind: string, reason: string): FileError =>
  new FileError(
    `“${name}” can’t be opened: this type of ${kind.toUpperCase()} isn’t supported (${reason}). ${UNTOUCHED} Save it as PNG or plain TIFF and open that.`,
  );

/** Where only what the browser itself reads can be read. */
export const notDecodedHere = (name: string, kind: string): FileError =>
  new FileError(
    `“${name}” can’t be opened: this browser doesn’t read its ${kind.toUpperCase()}, or it is damaged. ${UNTOUCHED} Open it in a current Chromium or Firefox, or save it as JPEG or PNG.`,
  );

export const NOT_WRITTEN_HERE =
  'this browser writes only JPEG, PNG and WebP of 8 bits; choose one of these, or export in a current Chromium or Firefox';

const damaged = (name: string, kind: string, reason: string): FileError =>
  new FileError(
    `“${name}” is damaged: the ${kind.toUpperCase()} inside can’t be decoded (${reason}). ${UNTOUCHED} Copy it from its source again.`,
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
