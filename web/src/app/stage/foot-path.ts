import type { Spot } from './handles/handles';

/** A foot on the stage: two short level lines, the upper one where it stands. */
export const footPath = ({ x, y }: Spot): string => `M${x - 16} ${y}h32M${x - 9} ${y + 4}h18`;
