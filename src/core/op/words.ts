/** Numbers as sentences tell them. */

/** With a true minus sign; `signed` adds a plus. What rounds to zero has no sign. */
export function formatNumber(v: number, digits: number, signed = false): string {
  const s = Math.abs(v).toFixed(digits);
  const zero = Number(s) === 0;
  return `${v < 0 && !zero ? '\u2212' : signed && !zero ? '+' : ''}${s}`;
}
/** As few digits as the number needs, two at most. */
export const short = (v: number, most = 1): string => formatNumber(v, v % 1 ? most : 0);
