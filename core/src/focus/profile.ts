import type { Profile } from '../recipe/focus-schema';

/** A cubic of d = u - start: c0 + c1 d + c2 d^2 + c3 d^3, valid from `start` to the next piece. */
export interface ProfilePiece {
  start: number;
  coefficients: [number, number, number, number];
}

/**
 * A profile as cubic pieces over 0..1. Knots are joined by the monotone cubic of Fritsch and Carlson ("Monotone
 * piecewise cubic interpolation", SIAM J. Numer. Anal. 17, 1980); (0, 0) and (1, 1) are implied.
 */
export function profilePieces(profile: Profile): ProfilePiece[] {
  switch (profile) {
    case 'linear':
      return [{ start: 0, coefficients: [0, 1, 0, 0] }];
    case 'smooth':
      return [{ start: 0, coefficients: [0, 0, 3, -2] }];
    case 'late':
      return [{ start: 0, coefficients: [0, 0, 1, 0] }];
    case 'early':
      return [{ start: 0, coefficients: [0, 2, -1, 0] }];
    default:
      return monotonePieces([[0, 0], ...profile.knots.filter(([u]) => u > 0 && u < 1), [1, 1]]);
  }
}

/** P(u) for any u; below 0 and above 1 it stays at its ends. */
export function profileAt(pieces: readonly ProfilePiece[], u: number): number {
  return Math.min(1, Math.max(0, cubicAt(pieces, Math.min(1, Math.max(0, u)))));
}

/** Value of the piece that holds x. */
export function cubicAt(pieces: readonly ProfilePiece[], x: number): number {
  let piece = pieces[0]!;
  for (const next of pieces) if (x >= next.start) piece = next;
  const d = x - piece.start;
  const [a, b, c, e] = piece.coefficients;
  return a + d * (b + d * (c + d * e));
}

/** Values at equal steps of a circle (0, 1, … turns into 0 again), joined by the same monotone cubic, periodic. */
export function periodicPieces(values: readonly number[]): ProfilePiece[] {
  const n = values.length;
  // A whole turn before and after: the tangents at the seam are then those of any other knot.
  const around = Array.from({ length: 3 * n + 1 }, (_, i) => [i - n, values[i % n]!] as [number, number]);
  return monotonePieces(around).slice(n, 2 * n);
}

function monotonePieces(points: readonly (readonly [number, number])[]): ProfilePiece[] {
  const count = points.length - 1;
  const width = Array.from({ length: count }, (_, i) => points[i + 1]![0] - points[i]![0]);
  const slope = Array.from({ length: count }, (_, i) => (points[i + 1]![1] - points[i]![1]) / width[i]!);
  const tangent = points.map((_, i) => {
    if (i === 0) return slope[0]!;
    if (i === count) return slope[count - 1]!;
    return slope[i - 1]! * slope[i]! <= 0 ? 0 : (slope[i - 1]! + slope[i]!) / 2;
  });
  for (let i = 0; i < count; i++) {
    const s = slope[i]!;
    if (s === 0) {
      tangent[i] = tangent[i + 1] = 0;
      continue;
    }
    const length = Math.hypot(tangent[i]! / s, tangent[i + 1]! / s);
    if (length > 3) {
      tangent[i] = (3 * tangent[i]!) / length;
      tangent[i + 1] = (3 * tangent[i + 1]!) / length;
    }
  }
  return slope.map((s, i) => {
    const h = width[i]!;
    const [m0, m1] = [tangent[i]!, tangent[i + 1]!];
    return {
      start: points[i]![0],
      coefficients: [points[i]![1], m0, (3 * s - 2 * m0 - m1) / h, (m0 + m1 - 2 * s) / (h * h)],
    };
  });
}
