/** Seconds as people read them: "0:03.20", "12:40.00". */
export function clock(seconds: number): string {
  const hundredths = Math.round(seconds * 100);
  const minutes = Math.floor(hundredths / 6000);
  const rest = ((hundredths % 6000) / 100).toFixed(2).padStart(5, '0');
  return `${minutes}:${rest}`;
}
