declare module 'lcms-wasm' {
  export interface Lcms {
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
    cmsCloseProfile(profile: number): void;
    cmsCreate_sRGBProfile(): number;
    cmsCreateLab4Profile(whitePoint: null): number;
    cmsGetColorSpaceASCII(profile: number): string | null;
    cmsCreateTransform(from: number, read: number, to: number, write: number, intent: number, flags: number): number;
    cmsDeleteTransform(transform: number): void;
    cmsDoTransform(transform: number, values: Uint16Array, count: number): Uint16Array;
  }
  export function instantiate(): Promise<Lcms>;
  export const TYPE_RGB_16: number;
  export const TYPE_CMYK_16: number;
  export const TYPE_Lab_16: number;
  export const cmsFLAGS_BLACKPOINTCOMPENSATION: number;
  export const cmsFLAGS_NOOPTIMIZE: number;
  export const cmsFLAGS_NOCACHE: number;
}
