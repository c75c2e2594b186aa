/** The part of lcms-wasm that is used here; the package ships no types. */
declare module 'lcms-wasm' {
  export interface LittleCms {
    cmsOpenProfileFromMem(bytes: Uint8Array, size: number): number;
    cmsCloseProfile(profile: number): void;
    cmsCreate_sRGBProfile(): number;
    cmsCreateTransform(
      from: number,
      fromFormat: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number;
    cmsDeleteTransform(transform: number): void;
    cmsDoTransform(transform: number, data: Float32Array, pixels: number): Float32Array;
  }
  export function instantiate(options?: object): Promise<LittleCms>;
}
