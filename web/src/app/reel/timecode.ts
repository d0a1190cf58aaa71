import { type ClipTimes, frameAt } from '@hazy-lens/core';

/** Seconds as people read them: "0:03.20", "12:40.00". */
export function formatTimecode(seconds: number): string {
  const hundredths = Math.round(seconds * 100);
  const minutes = Math.floor(hundredths / 6000);
  const rest = ((hundredths % 6000) / 100).toFixed(2).padStart(5, '0');
  return `${minutes}:${rest}`;
}

/**
 * The frame that is meant by what was typed: "3.2" or "1:03.2" (seconds, minutes, hours), "0:01:03:12" (the last are frames
 * within the second), "#120" for a frame by its number. Null for anything else.
 * @param rate frames a second.
 */
export function typedFrame(text: string, times: ClipTimes, rate: number): number | null {
  const typed = text.trim();
  const last = times.starts.length - 1;
  const numbered = /^#\s*(\d+)$/.exec(typed);
  if (numbered) return Math.min(last, Math.max(0, Number(numbered[1]) - 1));
  if (!/^\d+(:\d+)*([.,]\d*)?$/.test(typed)) return null;
  const parts = typed.split(':');
  if (parts.length > 4) return null;
  const frames = parts.length === 4 ? Number(parts.pop()) : 0;
  const seconds = parts.reduce((sum, part) => 60 * sum + Number(part.replace(',', '.')), 0);
  // A frame is shown until the next begins; half of a hundredth is what a time is rounded to.
  return Math.min(last, frameAt(times, seconds + 0.005 + frames / rate));
}
