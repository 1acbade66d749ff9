import express, { type Express } from 'express';
import { Faults } from './faults.js';
import { LarkpostCounter } from './larkpost-listings.js';
import { readPrintFile, type ReadPrintFile } from './print-file-reader.js';

/** A product as this simulated marketplace prints it. */
interface Product {
  readonly width: number;
  readonly height: number;
  readonly dpi: number;
  readonly mustBeClear: boolean;
  readonly mostBytes: number;
}

const PRODUCTS: Readonly<Record<string, Product>> = {
  'tee-front': { width: 4200, height: 4800, dpi: 300, mustBeClear: true, mostBytes: 50_000_000 },
  tote: { width: 3150, height: 3300, dpi: 300, mustBeClear: true, mostBytes: 50_000_000 },
  'mug-wrap': { width: 2480, height: 1063, dpi: 300, mustBeClear: false, mostBytes: 20_000_000 },
};

/** Why a file would be sent back, as sentences; empty when it is accepted. */
export function judge(product: Product, file: ReadPrintFile, bytes: number): string[] {
  const reasons: string[] = [];
  if (file.width !== product.width || file.height !== product.height)
    reasons.push(
      `The file is ${file.width} × ${file.height} px; this product needs ${product.width} × ${product.height} px.`,
    );
  const near = (dpi: number | null) => dpi !== null && Math.abs(dpi - product.dpi) < 0.05;
  if (!near(file.dpiX) || !near(file.dpiY))
    reasons.push(
      `The file says ${file.dpiX ?? 'no'} × ${file.dpiY ?? 'no'} DPI; this product needs ${product.dpi} in both axes.`,
    );
  if (file.palette || file.depth !== 8) reasons.push('The file must have 8 bits a channel and no palette.');
  if (!file.hasProfile) reasons.push('The file has no colour profile.');
  if (product.mustBeClear && file.clear === 0)
    reasons.push('The file has no transparent part: it would be printed as a box.');
  else if (product.mustBeClear && file.opaqueCorners)
    reasons.push('All four corners are opaque: it would be printed as a box.');
  if (bytes > product.mostBytes)
    reasons.push(`The file is larger than ${Math.round(product.mostBytes / 1_000_000)} MB.`);
  return reasons;
}

/** How Larkpost Market is set up. */
export interface LarkpostOptions {
  /** Demanded of shops that hand in listings; anybody may when null. */
  readonly token?: string | null;
  readonly address?: () => string;
  readonly faults?: Faults;
}

/** Larkpost Market with its counter, for who wants to see what it has. */
export function openLarkpost({ token = null, address = () => '', faults = new Faults() }: LarkpostOptions = {}) {
  const counter = new LarkpostCounter(address, token);
  const app = createLarkpost();
  app.use('/listings', faults.handle, counter.routes());
  app.use('/sales', faults.handle, counter.salesRoutes());
  return { app, counter, faults };
}

/** Larkpost Market, simulated: takes a print file for a product and accepts or refuses it with reasons. */
export function createLarkpost(): Express {
  const app = express();
  app.disable('x-powered-by');
  app.get('/products', (_request, response) => {
    response.json(Object.keys(PRODUCTS));
  });
  app.post('/products/:product/print-file', express.raw({ type: () => true, limit: '80mb' }), (request, response) => {
    const product = PRODUCTS[request.params['product'] as string];
    if (!product) {
      response.status(404).json({ accepted: false, reasons: ['There is no such product.'] });
      return;
    }
    const bytes = request.body as Uint8Array;
    try {
      const reasons = judge(product, readPrintFile(bytes), bytes.length);
      response.status(reasons.length ? 422 : 201).json({ accepted: reasons.length === 0, reasons });
    } catch {
      response.status(422).json({ accepted: false, reasons: ['The file is not a PNG, or not a whole one.'] });
    }
  });
  return app;
}
