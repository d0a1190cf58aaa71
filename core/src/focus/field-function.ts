/** A haze field, or a part of one: haze 0..1 at a point in pixels (pixel (i, j) has its centre at (i + ½, j + ½)). */
export type FieldFunction = (x: number, y: number) => number;
