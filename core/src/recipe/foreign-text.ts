/** Most characters of anything that comes from a file or from others. */
const MOST = 80;
/** Most of a whole message. */
const MAX_MESSAGE = 1500;

/** What cannot be seen, or turns the order of what follows: controls, direction marks, blanks without width. */
export const UNSEEN =
  // eslint-disable-next-line no-control-regex
  /[\u0000-\u001f\u007f-\u009f\u061c\u200b-\u200f\u2028-\u202e\u2060-\u2069\ufeff]/g;

const written = (text: string): string =>
  text.replace(UNSEEN, (one) =>
    /[\t\n\r]/.test(one) ? ' ' : `\\u{${one.charCodeAt(0).toString(16).padStart(4, '0')}}`,
  );

/** The first and the last characters of a text that is too long, never half of one. */
function shortened(text: string, most: number): string {
  // No more of it is looked at than is needed: it may be of any length.
  if (text.length <= most) return text;
  const tail = most >> 2;
  const head = Array.from(text.slice(0, 2 * most)).slice(0, most - tail - 1);
  return `${head.join('')}…${Array.from(text.slice(-2 * tail))
    .slice(-tail)
    .join('')}`;
}

/** Text of others as it stands in a sentence: at most 80 characters in one line, what cannot be seen written out. */
export const foreignText = (text: string): string => shortened(written(shortened(text, MOST)), MOST);

/** A message as it is shown: one line, its quotes no longer than other foreign text, what cannot be seen written out. */
export function messageLine(message: string): string {
  const whole = shortened(message, 20 * MAX_MESSAGE);
  const quotes = whole.replace(/“([^“”]{81,})”/g, (_, quoted: string) => `“${foreignText(quoted)}”`);
  return shortened(written(quotes), MAX_MESSAGE);
}

/** The text of a file: UTF-8, or UTF-16 where it begins with a byte order mark, which is no part of it. */
export function textOf(bytes: Uint8Array): string {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (first === 0xfe && second === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  return new TextDecoder().decode(bytes);
}
