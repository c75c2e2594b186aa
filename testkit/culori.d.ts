/** What the tests use of culori, which ships no types. */
declare module 'culori' {
  interface Rgb {
    mode: 'rgb';
    r: number;
    g: number;
    b: number;
  }
  interface Oklab {
    mode: 'oklab';
    l: number;
    a: number;
    b: number;
  }
  export function converter(to: 'oklch'): (from: Rgb) => { l: number; c: number; h: number };
  export function converter(to: 'oklab'): (from: Rgb) => Oklab;
  export function differenceCiede2000(): (p: Oklab, q: Oklab) => number;
}
