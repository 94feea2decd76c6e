/** What is used of LittleCMS; the package has no types of its own. */
declare module 'lcms-wasm' {
  export interface Lcms {
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
    cmsCloseProfile(profile: number): void;
    cmsFormatterForColorspaceOfProfile(profile: number, bytes: number, isFloat: number): number;
    cmsCreateTransform(
      from: number,
      format: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number;
    cmsDoTransform(transform: number, samples: Uint8Array | Uint16Array, count: number): Uint8Array | Uint16Array;
    cmsDeleteTransform(transform: number): void;
  }
  export function instantiate(): Promise<Lcms>;
}
