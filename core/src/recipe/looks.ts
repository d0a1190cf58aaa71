/** A shift of Oklab's a and b. */
type Shift = readonly [number, number];

/** What of the colours a look sets: readable, and the same numbers that a person may set. */
export interface LookSettings {
  exposure?: number;
  warmth?: number;
  tint?: number;
  contrast?: number;
  vibrance?: number;
  saturation?: number;
  balance?: { shadows?: Shift; middle?: Shift; lights?: Shift };
}

/** Our own looks, for miniatures and for selective focus. */
export const LOOKS = {
  enamel: { contrast: 0.3, vibrance: 0.35, saturation: 0.3, exposure: 0.15 },
  'tin toy': { contrast: 0.45, saturation: 0.5, warmth: 0.12, balance: { shadows: [0.01, -0.02] } },
  'first tram': {
    exposure: 0.2,
    warmth: 0.22,
    vibrance: 0.3,
    balance: { shadows: [-0.01, -0.03], lights: [0.005, 0.02] },
  },
  'kite noon': { exposure: 0.3, contrast: 0.15, vibrance: 0.5, warmth: -0.08 },
  allotment: { vibrance: 0.4, tint: -0.16, warmth: 0.1, contrast: 0.12 },
  glasshouse: {
    exposure: 0.25,
    contrast: -0.2,
    vibrance: 0.25,
    tint: -0.1,
    balance: { shadows: [-0.015, 0.01] },
  },
  'slate roofs': { contrast: 0.28, saturation: -0.3, warmth: -0.18, balance: { shadows: [-0.004, -0.02] } },
  'lamp oil': {
    warmth: 0.2,
    contrast: 0.22,
    exposure: -0.1,
    balance: { shadows: [0.004, -0.03], lights: [0.008, 0.018] },
  },
  'plum dusk': {
    exposure: -0.35,
    warmth: -0.2,
    tint: 0.22,
    vibrance: 0.25,
    balance: { shadows: [0.02, -0.04], lights: [0.02, 0.02] },
  },
  'chalk hill': { exposure: 0.4, contrast: -0.35, saturation: -0.35, warmth: 0.08 },
  'bank holiday': {
    exposure: 0.2,
    contrast: -0.1,
    saturation: 0.12,
    warmth: 0.2,
    balance: { shadows: [0.02, 0.015], lights: [0.01, 0.025] },
  },
} as const satisfies Record<string, LookSettings>;

export type LookName = keyof typeof LOOKS;
export const LOOK_NAMES = Object.keys(LOOKS) as [LookName, ...LookName[]];

/** The colours that a look sets at an amount: each of its numbers times that. */
export function lookColour(name: LookName, amount: number) {
  const { balance = {}, ...numbers }: LookSettings = LOOKS[name];
  const part = (key: keyof typeof numbers): number => (numbers[key] ?? 0) * amount;
  const shift = ([a, b]: Shift = [0, 0]): [number, number] => [a * amount, b * amount];
  return {
    exposure: part('exposure'),
    warmth: part('warmth'),
    tint: part('tint'),
    contrast: part('contrast'),
    clarity: 0,
    vibrance: part('vibrance'),
    saturation: part('saturation'),
    balance: {
      shadows: shift(balance.shadows),
      middle: shift(balance.middle),
      lights: shift(balance.lights),
    },
  };
}
