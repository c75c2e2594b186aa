/** Half floats, IEEE 754 binary16: one sign, five exponent and ten fraction bits. */

let halves: Float32Array | null = null;
/** Of all 65536 halves the numbers they stand for. */
export function halfTable(): Float32Array {
  halves ??= Float32Array.from({ length: 65536 }, (_, h) => {
    const [e, m] = [(h >> 10) & 31, h & 1023];
    const v = e === 0 ? m * 2 ** -24 : e === 31 ? (m ? NaN : Infinity) : (1 + m / 1024) * 2 ** (e - 15);
    return h & 0x8000 ? -v : v;
  });
  return halves;
}

/** The largest number that a half holds. */
export const HALF_MOST = 65504;
const f32 = new Float32Array(1);
const u32 = new Uint32Array(f32.buffer);
/** The nearest half, ties to even; beyond the largest it is infinite, NaN stays NaN. */
export function toHalf(v: number): number {
  f32[0] = v;
  const x = u32[0]!;
  const sign = (x >>> 16) & 0x8000;
  const a = x & 0x7fffffff;
  if (a > 0x7f800000) return sign | 0x7e00;
  // From here on it rounds to something larger than the largest.
  if (a >= 0x477ff000) return sign | 0x7c00;
  if (a < 0x38800000) {
    // Below the smallest normal one the step is 2^-24: what is added last rounds ties to even by itself.
    f32[0] = v < 0 ? -v : v;
    const n = f32[0] * 2 ** 24;
    const low = Math.floor(n);
    const rest = n - low;
    return sign | (rest > 0.5 || (rest === 0.5 && (low & 1) === 1) ? low + 1 : low);
  }
  const rounded = a + 0xfff + ((a >>> 13) & 1);
  return sign | ((rounded - 0x38000000) >>> 13);
}
