/** A number of things in words: "1 frame", "24 frames". */
export const counted = (count: number, thing: string): string => `${count} ${thing}${count === 1 ? '' : 's'}`;
