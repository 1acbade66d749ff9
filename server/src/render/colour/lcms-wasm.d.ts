declare module 'lcms-wasm' {
  export interface Lcms {
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
    cmsCloseProfile(profile: number): void;
    cmsCreate_sRGBProfile(): number;
    cmsCreateLab4Profile(whitePoint: null): number;
    cmsGetColorSpaceASCII(profile: number): string | null;
    cmsCreateTransform(from: number, read: number, to: number, write: number, intent: number, flags: number): number;
    cmsDeleteTransform(transform: number): void;
    /** Values of the size that the transform was made for: both sides have the same here. */
    cmsDoTransform<V extends Uint8Array | Uint16Array>(transform: number, values: V, count: number): V;
  }
  export function instantiate(): Promise<Lcms>;
  export const TYPE_RGB_8: number;
  export const TYPE_RGB_16: number;
  export const TYPE_CMYK_8: number;
  export const TYPE_CMYK_16: number;
  export const TYPE_Lab_16: number;
  export const cmsFLAGS_BLACKPOINTCOMPENSATION: number;
  export const cmsFLAGS_NOOPTIMIZE: number;
  export const cmsFLAGS_NOCACHE: number;
}
