import type { Size } from '@hazy-lens/core';

/** The line that says what was made: one for a picture or a clip. @param spent milliseconds of each part of the work. */
export function printLine(
  { width, height }: Size,
  spent: Readonly<Record<string, number>>,
  more: object = {},
): void {
  const ms = Object.fromEntries(Object.entries(spent).map(([key, value]) => [key, Math.round(value)]));
  const peakMiB = Math.round(process.resourceUsage().maxRSS / 1024);
  console.log(JSON.stringify({ ...more, width, height, ms, peakMiB }));
}

/** How far many pictures have got, where a person looks on. */
export function tellProgress(done: number, of: number): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${of}${done === of ? '\n' : ''}`);
}
