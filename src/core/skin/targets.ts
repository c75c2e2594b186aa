/** What a patch should read, by its kind: defaults from common practice, for a normal picture on the display. */
export interface PatchTarget {
  /** Luma in %, from..to; null: no range. */
  luma: readonly [number, number] | null;
  /** Whether it should have no colour. */
  neutral: boolean;
}
/** `greyPct`: where the 18 % grey card lies on the display. */
export function targetOf(kind: 'skin' | 'black' | 'grey' | 'white' | 'other', greyPct: number): PatchTarget {
  switch (kind) {
    case 'skin':
      return { luma: [40, 70], neutral: false };
    case 'black':
      return { luma: [5, 10], neutral: true };
    case 'grey':
      return { luma: [greyPct - 3, greyPct + 3], neutral: true };
    case 'white':
      return { luma: [90, 95], neutral: true };
    case 'other':
      return { luma: null, neutral: false };
  }
}
/** How far a luma lies outside its range, signed; 0 inside. */
export const missBy = (lumaPct: number, t: PatchTarget): number =>
  !t.luma ? 0 : lumaPct < t.luma[0] ? lumaPct - t.luma[0] : lumaPct > t.luma[1] ? lumaPct - t.luma[1] : 0;
