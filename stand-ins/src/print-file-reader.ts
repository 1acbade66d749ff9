import { decode, type DecodedPng } from 'fast-png';

/**
 * What a print buyer reads from a file, with a reader of its own: nothing here is shared with the program that wrote
 * it.
 */
export interface ReadPrintFile {
  readonly width: number;
  readonly height: number;
  readonly dpiX: number | null;
  readonly dpiY: number | null;
  readonly channels: number;
  readonly depth: number;
  readonly palette: boolean;
  readonly hasProfile: boolean;
  /** Share of the canvas that is wholly clear, 0 to 1. */
  readonly clear: number;
  /** Share of the canvas whose corner pixels hold ink: all four opaque means a box. */
  readonly opaqueCorners: boolean;
}

/** @throws Error when the bytes are not a whole PNG */
export function readPrintFile(bytes: Uint8Array): ReadPrintFile {
  const png = decode(bytes, { checkCrc: true });
  const perInch = (perMetre: number | undefined) =>
    perMetre && png.resolution?.unit === 1 ? Math.round(perMetre * 0.0254 * 100) / 100 : null;
  return {
    width: png.width,
    height: png.height,
    dpiX: perInch(png.resolution?.x),
    dpiY: perInch(png.resolution?.y),
    channels: png.channels,
    depth: png.depth,
    palette: png.palette !== undefined,
    hasProfile: png.iccEmbeddedProfile !== undefined,
    ...alphaOf(png),
  };
}

function alphaOf(png: DecodedPng): { clear: number; opaqueCorners: boolean } {
  const { channels, data, width, height } = png;
  if (channels !== 2 && channels !== 4) return { clear: 0, opaqueCorners: true };
  let clear = 0;
  for (let i = channels - 1; i < data.length; i += channels) if (data[i] === 0) clear++;
  const alpha = (x: number, y: number) => data[(y * width + x) * channels + channels - 1];
  const corners = [alpha(0, 0), alpha(width - 1, 0), alpha(0, height - 1), alpha(width - 1, height - 1)];
  return { clear: clear / (width * height), opaqueCorners: corners.every((value) => value === 255) };
}
