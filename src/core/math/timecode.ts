/**
 * Timecode of a frame count and back, with or without dropped numbers. SMPTE ST 12-1: at 30000/1001 (60000/1001) frames
 * a second the numbers 0 and 1 (0 to 3) are left out at each minute that is not a tenth; no frame is.
 */

/** Frames that a second counts, and numbers dropped a minute. */
function base(rate: readonly [number, number], drop: boolean): { fps: number; dropped: number } {
  const fps = Math.max(1, Math.round(rate[0] / rate[1]));
  const can = drop && rate[1] === 1001 && fps % 30 === 0;
  return { fps, dropped: can ? fps / 15 : 0 };
}
const two = (n: number): string => String(n).padStart(2, '0');

/** `hh:mm:ss:ff`, with `;` before the frames where numbers are dropped. Runs on after 24 hours. */
export function timecodeOf(frame: number, rate: readonly [number, number], drop = false): string {
  const { fps, dropped } = base(rate, drop);
  let n = Math.max(0, Math.round(frame));
  if (dropped > 0) {
    const inTen = fps * 600 - 9 * dropped;
    const inOne = fps * 60 - dropped;
    const tens = Math.floor(n / inTen);
    const rest = n % inTen;
    n += 9 * dropped * tens;
    // The first minute of ten drops nothing.
    if (rest >= fps * 60) n += dropped * (1 + Math.floor((rest - fps * 60) / inOne));
  }
  const s = Math.floor(n / fps);
  const frames = String(n % fps).padStart(fps > 100 ? 3 : 2, '0');
  return `${two(Math.floor(s / 3600))}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}${dropped ? ';' : ':'}${frames}`;
}

/**
 * What a person types: a frame number, or a timecode whose left parts may be missing. Null where it is neither; numbers
 * that are dropped give the first frame after them.
 */
export function frameOfTimecode(text: string, rate: readonly [number, number], drop = false): number | null {
  const t = text.trim();
  if (/^\d+$/.test(t)) return Number(t);
  const parts = t.split(/[:;.]/);
  if (parts.length < 2 || parts.length > 4 || parts.some((p) => !/^\d{1,3}$/.test(p))) return null;
  const [f, s, m, h] = [...parts.map(Number).reverse(), 0, 0, 0] as [number, number, number, number];
  const { fps, dropped } = base(rate, drop);
  if (f >= fps || s > 59 || m > 59) return null;
  const minutes = 60 * h + m;
  const lost = dropped * (minutes - Math.floor(minutes / 10));
  const number = dropped > 0 && s === 0 && m % 10 !== 0 && f < dropped ? dropped : f;
  return (minutes * 60 + s) * fps + number - lost;
}
