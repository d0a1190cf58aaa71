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

/** What takes long says how far it is so often where nobody looks on. */
const LINE_MS = 2000;
let lastLine = performance.now();

/** How far many pictures have got: on the terminal, or in lines of JSON where there is none. */
export function tellProgress(done: number, of: number): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${of}${done === of ? '\n' : ''}`);
  else if (done < of && performance.now() - lastLine > LINE_MS) {
    lastLine = performance.now();
    console.log(JSON.stringify({ done, of }));
  }
}
