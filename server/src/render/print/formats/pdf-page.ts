import PDFDocument from 'pdfkit';
import SVGtoPDF from 'svg-to-pdfkit';
import type { Affine, Pixels } from '@kettle/core/geometry';
import { rgbOf } from '@kettle/core/colour';
import type { BlendMode } from '@kettle/core/raster';

interface PageSettings {
  /** Points. */
  readonly width: number;
  readonly height: number;
  /** Points a pixel of the canvas. */
  readonly scale: number;
  /** Edge that is cut away, points. */
  readonly bleed: number;
  /** Profile of all colours on the page. */
  readonly profile: Buffer;
  /** Four inks for each pixel of straight RGBA, or null for a page in RGB. */
  readonly inks: ((rgba: Uint8Array) => Uint8Array) | null;
}

interface Look {
  readonly opacity: number;
  readonly blend?: BlendMode;
}

/** What PDFKit keeps and its types do not tell of. */
interface Inside {
  readonly _root: { readonly data: Record<string, unknown> };
  readonly page: {
    readonly dictionary: { readonly data: Record<string, unknown> };
    readonly resources: { readonly data: Record<string, unknown> };
    readonly xobjects: Record<string, unknown>;
    readonly ext_gstates: Record<string, unknown>;
  };
  readonly info: Record<string, unknown>;
  endMetadata: () => void;
  ref(data: Record<string, unknown>): { end(bytes?: Buffer): void };
  addContent(operators: string): void;
}

/** A fixed time, so that the same recipe gives the same bytes; it is taken out again before the end. */
const TIME = new Date(Date.UTC(2026, 0, 1));

/** CSS names of blend modes as PDF has them (ISO 32000-1, table 136), e.g. `ColorDodge`. */
const pdfBlend = (blend: BlendMode): string =>
  blend
    .split('-')
    .map((word) => word[0].toUpperCase() + word.slice(1))
    .join('');

/** One PDF page of a print file's size. Positions are pixels of the canvas. */
export class PdfPage {
  private readonly document: InstanceType<typeof PDFDocument> & Inside;
  private readonly done: Promise<Buffer>;
  private readonly space: [string, unknown];
  private count = 0;

  constructor(private readonly settings: PageSettings) {
    const { width, height, bleed, profile, inks } = settings;
    this.document = new PDFDocument({
      size: [width, height],
      margin: 0,
      pdfVersion: '1.7',
      info: { CreationDate: TIME },
    }) as InstanceType<typeof PDFDocument> & Inside;
    const chunks: Buffer[] = [];
    this.document.on('data', (chunk: Buffer) => chunks.push(chunk));
    this.done = new Promise((resolve, reject) => {
      this.document.once('end', () => resolve(Buffer.concat(chunks)));
      this.document.once('error', reject);
    });
    const { page, _root: root } = this.document;
    if (bleed > 0) {
      page.dictionary.data['BleedBox'] = [0, 0, width, height];
      page.dictionary.data['TrimBox'] = [bleed, bleed, width - bleed, height - bleed];
    }
    const icc = this.document.ref({ N: inks ? 4 : 3 });
    icc.end(profile);
    this.space = ['ICCBased', icc];
    // What is in the colours of a device is in those of the profile.
    page.resources.data['ColorSpace'] = { [inks ? 'DefaultCMYK' : 'DefaultRGB']: this.space };
    const intent = this.document.ref({
      Type: 'OutputIntent',
      S: 'GTS_PDFX',
      OutputConditionIdentifier: new String(inks ? 'CMYK' : 'sRGB'),
      DestOutputProfile: icc,
    });
    intent.end();
    root.data['OutputIntents'] = [intent];
  }

  /** The whole page in a colour. */
  fill(hex: string): void {
    const { width, height } = this.settings;
    this.document.rect(0, 0, width, height).fill(this.paint(hex) as never);
  }

  /** Outlines as SVG whose view box is the canvas. */
  outlines(svg: string, grid: { width: number; height: number }, look: Look): void {
    this.looking(look, () => {
      SVGtoPDF(
        this.document,
        look.opacity < 1
          ? svg.replace(/^<svg[^>]*>/, `$&<g opacity="${look.opacity}">`).replace(/<\/svg>$/, '</g></svg>')
          : svg,
        0,
        0,
        {
          assumePt: true,
          width: grid.width * this.settings.scale,
          height: grid.height * this.settings.scale,
          preserveAspectRatio: 'none',
          ...(this.settings.inks
            ? {
                colorCallback: (colour: [readonly number[], number] | null) =>
                  colour && [this.inksOf(colour[0]), colour[1]],
              }
            : {}),
        } as object,
      );
    });
  }

  /** A picture at its own pixels. @param map its unit square to the canvas's pixels, y downwards */
  picture({ data, width, height }: Pixels, [a, b, c, d, e, f]: Affine, look: Look): void {
    const { scale, inks } = this.settings;
    const rgba = data as Uint8Array;
    const clear = Buffer.alloc(width * height);
    let opaque = true;
    for (let i = 0; i < clear.length; i++) {
      clear[i] = Math.round(rgba[i * 4 + 3] * look.opacity);
      if (clear[i] !== 255) opaque = false;
    }
    const mask = opaque
      ? null
      : this.document.ref({ ...IMAGE, Width: width, Height: height, ColorSpace: 'DeviceGray' });
    mask?.end(clear);
    const image = this.document.ref({
      ...IMAGE,
      Width: width,
      Height: height,
      ColorSpace: this.space,
      ...(mask ? { SMask: mask } : {}),
    });
    image.end(Buffer.from(inks ? inks(rgba) : withoutAlpha(rgba)));
    const name = `P${++this.count}`;
    this.document.page.xobjects[name] = image;
    this.looking({ ...look, opacity: 1 }, () => {
      // A picture's unit square has its first row at the top, at y = 1; PDFKit has turned the page so that y runs down.
      const map = [a * scale, b * scale, -c * scale, -d * scale, (e + c) * scale, (f + d) * scale];
      this.document.addContent(`q ${map.map((n) => +n.toFixed(5)).join(' ')} cm /${name} Do Q`);
    });
  }

  async end(): Promise<Buffer> {
    // Neither who made it nor when: a print file says what it shows and nothing else.
    for (const key of Object.keys(this.document.info)) delete this.document.info[key];
    this.document.endMetadata = () => undefined;
    this.document.end();
    return this.done;
  }

  private looking({ blend }: Look, draw: () => void): void {
    this.document.save();
    if (blend) {
      const name = `B${++this.count}`;
      const state = this.document.ref({ Type: 'ExtGState', BM: pdfBlend(blend) });
      state.end();
      this.document.page.ext_gstates[name] = state;
      this.document.addContent(`/${name} gs`);
    }
    draw();
    this.document.restore();
  }

  private paint(hex: string): string | number[] {
    const { r, g, b } = rgbOf(hex);
    return this.settings.inks ? this.inksOf([r, g, b]) : hex;
  }

  /** Percent of each ink, as PDFKit takes colours. */
  private inksOf([r, g, b]: readonly number[]): number[] {
    const inks = this.settings.inks!(Uint8Array.from([r, g, b, 255]));
    return [...inks].map((ink) => (ink / 255) * 100);
  }
}

const IMAGE = { Type: 'XObject', Subtype: 'Image', BitsPerComponent: 8 } as const;

function withoutAlpha(rgba: Uint8Array): Uint8Array {
  const rgb = new Uint8Array((rgba.length / 4) * 3);
  for (let i = 0, k = 0; i < rgba.length; i += 4) {
    rgb[k++] = rgba[i];
    rgb[k++] = rgba[i + 1];
    rgb[k++] = rgba[i + 2];
  }
  return rgb;
}
