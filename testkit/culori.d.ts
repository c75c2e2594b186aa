/** The one function that the tests use of culori, which ships no types. */
declare module 'culori' {
  interface Rgb {
    mode: 'rgb';
    r: number;
    g: number;
    b: number;
  }
  export function converter(to: 'oklch'): (from: Rgb) => { l: number; c: number; h: number };
}
