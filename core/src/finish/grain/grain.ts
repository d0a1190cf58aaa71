import { blurOf } from '../../blur';
import type { FinishStep } from '../step';

/** Deviation of the grain that `amount` 1 adds, in coded values. */
const FULL_AMOUNT = 0.12;
/** Noise that is put back, and grain by hand have nothing in common. */
const OTHER_SEED = 15485863;

/** Grain: what the blur took of the source's own, and more by hand; see the kernels `matchRow` and `grainRow`. */
export const grain: FinishStep = {
  key: ({ finish }) => {
    const { on, grain: look } = finish;
    return on && (look.match > 0 || look.amount > 0) ? JSON.stringify(look) : '';
  },
  needsNoise: ({ finish }) => finish.on && finish.grain.match > 0,
  apply: (use, { finish, blur }, run, place) => {
    const { at, planeBytes, n } = run;
    const { haze, px, py, picture, scale, frame, noise, noiseRoom } = place;
    const { match, amount, size, roughness, seed } = finish.grain;
    const mixed = (Math.imul(seed, 0x01000193) ^ Math.imul(frame, 0x5bd1e995)) | 0;
    const { area, radius } = blurOf(blur).averagingFootprint(blur, picture);
    if (match > 0 && radius > 0) {
      const lost = { radius, power: area, table: noise, room: noiseRoom, seed: mixed + OTHER_SEED };
      use.kernels.matchRow(at, planeBytes, n, haze, use.parameters('LostNoise', lost), px, py);
    }
    if (amount === 0) return;
    const cell = size * scale;
    // Grains smaller than a pixel of the picture in hand are seen as less.
    const more = amount * FULL_AMOUNT * Math.min(1, cell);
    const added = { more, cell: Math.max(1, cell), rough: roughness, seed: mixed };
    use.kernels.grainRow(at, planeBytes, n, use.parameters('Grain', added), px, py);
  },
};
