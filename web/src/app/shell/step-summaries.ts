import type { Focus, Pace, Recipe } from '@hazy-lens/core';
import { counted } from '../model/counted';
import { shellWords } from '../words/shell';

/*
 * What each step does now, in a few words of its row in the route.
 */

export function tidySummary({ crop, mends }: Recipe['tidy']): string {
  const isWhole = crop.size[0] === 1 && crop.size[1] === 1;
  const words = [
    ...(isWhole ? [] : ['crop']),
    ...(crop.turn !== 0 ? [`${crop.turn.toFixed(1)}°`] : []),
    ...(crop.flip ? ['flip'] : []),
    ...(mends.length > 0 ? [counted(mends.length, 'touch-up')] : []),
  ];
  return words.join(', ') || 'original';
}

/** A few words of what is done to the colours: the look, or the one number that is set. */
export function colourSummary({ look, mono, ...colour }: Recipe['colour']): string {
  const numbers = Object.entries(colour).filter((one): one is [string, number] => typeof one[1] === 'number');
  const set = numbers.filter(([, value]) => Math.round(value * 100) !== 0);
  const isBalanced = Object.values(colour.balance)
    .flat()
    .some((shift) => shift !== 0);
  const words = [
    ...(look ? [look.name ?? shellWords.customLook] : []),
    ...(mono.on ? [shellWords.blackAndWhite] : []),
  ];
  if (words.length > 0) return words.join(', ');
  if (set.length === 0) return isBalanced ? 'balance' : 'original';
  if (set.length > 1 || isBalanced) return shellWords.plusMore(set[0]![0]);
  const [name, value] = set[0]!;
  const shown = name === 'exposure' ? Math.abs(value).toFixed(1) : `${Math.round(Math.abs(value) * 100)}`;
  return `${name} ${value > 0 ? '+' : '−'}${shown}`;
}

export function finishSummary({ grain, vignette }: Recipe['finish']): string {
  const hasGrain = grain.match > 0 || grain.amount > 0;
  const words = [...(vignette.amount !== 0 ? ['vignette'] : []), ...(hasGrain ? ['grain'] : [])];
  return words.join(', ') || 'none';
}

/** A few words of what makes the field: "planar × 2, brush". */
export function focusSummary(focus: Focus): string {
  const kinds = new Map<string, number>();
  const count = (kind: string): void => void kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
  if (focus.soundingsOn && focus.soundings.length > 0) count('soundings');
  if (focus.depthMap?.on) count('depth');
  for (const band of focus.bands) if (band.on) count(band.kind);
  if (focus.strokesOn && focus.strokes.length > 0) count('brush');
  for (const matte of focus.mattes) if (matte.on) count('subject');
  const words = [...kinds].map(([kind, n]) => (n === 1 ? kind : `${kind} × ${n}`));
  return words.join(', ') || shellWords.noFocus;
}

/** A few words of how the footage goes: "2×, hold 3". */
export function paceSummary({ speed, curve, hold, direction }: Pace): string {
  const words = [curve ? 'curve' : `${Number(speed.toFixed(2))}×`];
  if (hold > 1) words.push(shellWords.hold(hold));
  if (direction !== 'forward') words.push(direction === 'reverse' ? 'reverse' : shellWords.backAndForth);
  return words.join(', ');
}
