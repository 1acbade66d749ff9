declare module 'heic-decode' {
  interface Picture {
    readonly width: number;
    readonly height: number;
    /** Straight RGBA. */
    decode(): Promise<{ readonly width: number; readonly height: number; readonly data: Uint8ClampedArray }>;
  }
  const decode: {
    all(input: { readonly buffer: Uint8Array }): Promise<readonly Picture[] & { dispose(): void }>;
  };
  export default decode;
}
