import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { provideRouter } from '@angular/router';
import type { Asset } from '@kettle/contract';
import { emptyDesign, SAME_SIZE_TOP, type Blank, type DesignDocument, type Requirement } from '@kettle/core/model';
import { AssetShelf } from '../data/asset-shelf';
import { UndoLog } from '../data/undo-log';
import { RequirementShelf } from '../data/requirement-shelf';
import { registerIcons } from '../icons/icons';
import { Editor } from '../editor/editor';
import { Maker } from '../editor/maker';
import { EDITOR_PROVIDERS } from '../design-page/editor-providers';

/** Made-up things for specs of the bench. */
export const tee: Requirement = {
  id: 'tee',
  revision: 1,
  channel: 'Larkpost Market',
  name: 'Tee',
  product: 'T-shirt',
  width: 14,
  height: 16,
  unit: 'in',
  dpi: 300,
  mode: 'rgb',
  transparency: 'required',
  fileTypes: ['png'],
  maxBytes: null,
  sizeRule: 'exact',
  safeInsetMm: 10,
  placement: SAME_SIZE_TOP,
  colourways: [
    { name: 'Harbour', hex: '#1F2B4D' },
    { name: 'Soot', hex: '#1B1B1D' },
  ],
  note: '',
};
export const mug: Requirement = {
  ...tee,
  id: 'mug',
  name: 'Mug wrap',
  product: 'Mug',
  width: 210,
  height: 90,
  unit: 'mm',
  safeInsetMm: 3,
  placement: { ...SAME_SIZE_TOP, rule: 'fit', anchor: 'centre' },
};

export const badge: Asset = {
  id: 'a1',
  sha256: '0'.repeat(64),
  filename: 'rain-gauge_badge.png',
  bytes: 9,
  mode: 'RGB',
  width: 900,
  height: 900,
  vector: false,
  dpi: 72,
  hasAlpha: true,
  format: 'PNG',
  conversions: [],
  opaque: false,
  flatBorder: null,
  inkBox: { x: 0, y: 0, width: 1, height: 1 },
  inks: [{ hex: '#f2bd4b', share: 1 }],
};

export const shirt: Blank = {
  id: 'tee-front',
  name: 'Cotton tee',
  category: 'Tops',
  product: 'T-shirt',
  view: 'front',
  wearer: 'nobody',
  setting: 'wall',
  kind: 'still',
  tags: [],
  width: 100,
  height: 100,
  albedo: 0.8,
  glossTint: 0.5,
  shadowStrength: 0.6,
  backdrop: '#e4e1d9',
  colourways: [
    { name: 'Chalk', hex: '#F5F3EE' },
    { name: 'Soot', hex: '#1B1B1D' },
    { name: 'Harbour', hex: '#1F2B4D' },
  ],
  files: { photo: 'p', mask: 'm', shade: 's', shadow: 'w' },
  areas: [
    { id: 'full', name: 'Full front', widthMm: 300, heightMm: 400, safeInsetMm: 6, uv: 'u' },
    { id: 'crest', name: 'Left chest', widthMm: 100, heightMm: 100, safeInsetMm: 3, uv: 'v' },
  ],
};
export const cup: Blank = {
  ...shirt,
  id: 'mug-front',
  name: 'Mug',
  category: 'Drinkware',
  product: 'Mug',
  areas: [{ id: 'wrap', name: 'Wrap', widthMm: 210, heightMm: 90, safeInsetMm: 3, uv: 'u' }],
};

/** A browser that keeps no way back, so that no spec meets another's. */
export const NO_UNDO_LOG = { provide: UndoLog, useValue: { load: async () => null, save: async () => undefined } };

/** A bench with an open design, its requirements and one known picture. Call within beforeEach. */
export function openEditor(
  document: Partial<DesignDocument> = {},
  providers: unknown[] = [],
): { editor: Editor; maker: Maker; http: HttpTestingController } {
  localStorage.clear();
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideHttpClient(),
      provideHttpClientTesting(),
      provideRouter([]),
      ...EDITOR_PROVIDERS,
      NO_UNDO_LOG,
      ...(providers as never[]),
    ],
  });
  registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
  const editor = TestBed.inject(Editor);
  const http = TestBed.inject(HttpTestingController);
  TestBed.inject(RequirementShelf).refresh().subscribe();
  http.expectOne('/api/requirements').flush([tee, mug]);
  TestBed.inject(AssetShelf).put(badge);
  editor.desk.open({
    id: 'd1',
    revision: 1,
    savedAt: '2026-11-25T20:00:00.000Z',
    document: { ...emptyDesign('Badge'), targets: [{ requirementId: 'tee' }], ...document },
  });
  return { editor, maker: TestBed.inject(Maker), http };
}
