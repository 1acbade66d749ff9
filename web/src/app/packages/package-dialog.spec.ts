import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { PackageDetail } from '@kettle/contract';
import { USUAL_PATTERN } from '@kettle/core/naming';
import { Heard, refusal } from '../testing/heard';
import { InPage } from '../testing/in-page';
import { openDialog } from '../testing/open-dialog';
import { tee } from '../testing/open-editor';
import { PackageDialog, type PackageDialogData } from './package-dialog';

const packed: PackageDetail = {
  id: 'p1',
  name: 'November',
  folders: 'channel',
  changedOnly: false,
  files: 1,
  bytes: 2_400_000,
  madeAt: '2026-11-25T20:00:00.000Z',
  entries: [{ path: 'Larkpost-Market/Fog-tee.png', bytes: 2_400_000, sha256: 'cd' }],
  missing: [{ design: 'Isobars', requirement: 'Mug wrap', why: 'is not made yet.' }],
};

describe('packing files', () => {
  let http: HttpTestingController;
  let page: InPage<PackageDialog>;
  const data: PackageDialogData = {
    targets: [{ designId: 'd1', requirementIds: ['tee'] }] as PackageDialogData['targets'],
    example: { design: 'Fog Signal', requirement: tee },
  };
  beforeEach(async () => {
    ({ http } = openDialog(data));
    page = await InPage.show(PackageDialog);
    http.expectOne('/api/packages').flush([packed]);
    http.expectOne((one) => one.method === 'GET' && /naming/.test(one.url)).flush({ pattern: USUAL_PATTERN });
    await page.fixture.whenStable();
  });
  const asked = () => http.expectOne((one) => one.method === 'POST' && one.url === '/api/packages');

  it('asks for what was chosen, and says what is in the package and what is not', async () => {
    await page.enter('Name', 'November');
    await page.enter('Sorted into', 'none');
    await page.tick('Listing pictures too');
    await page.press('Pack what is made');
    const request = asked();
    expect(request.request.body).toEqual({
      name: 'November',
      folders: 'none',
      changedOnly: false,
      pictures: true,
      targets: data.targets,
    });
    expect(page.button('Packing …').disabled).toBeTrue();
    request.flush(packed);
    await page.fixture.whenStable();
    expect(page.text).toContain('1 file, 2.4 MB in all');
    expect(page.text).toContain('Isobars: Mug wrap is not made yet.');
    expect(page.element.querySelector('a')?.getAttribute('href')).toBe('/api/packages/p1/content');
  });

  it('shows names as they will be, keeps a new pattern before it packs, and none that is wrong', async () => {
    const examples = () => [...page.element.querySelectorAll('.examples li')].map((one) => one.textContent);
    expect(examples().length).toBe(2);
    await page.enter('Files are named', '{design}_{size}');
    expect(examples()).toEqual(['Fog-Signal_4200x4800.png']);
    await page.enter('Files are named', '{desing}');
    expect(page.element.querySelector('[role=alert]')?.textContent).toContain('desing');
    expect(page.button('Pack what is made').disabled).toBeTrue();
    await page.press('as usual');
    await page.enter('Files are named', '{design}-{product}');
    await page.press('Pack what is made');
    const naming = http.expectOne((one) => one.method === 'PUT' && /naming/.test(one.url));
    expect(naming.request.body).toEqual({ pattern: '{design}-{product}' });
    naming.flush({ pattern: '{design}-{product}' });
    asked().flush(packed);
  });

  it('says why when it could not be packed, and can be tried again', async () => {
    await page.press('Pack what is made');
    asked().flush(...refusal('The disk is full.', 507));
    await page.fixture.whenStable();
    expect(TestBed.inject(Heard).last).toContain('The disk is full.');
    expect(page.button('Pack what is made').disabled).toBeFalse();
  });

  it('opens what was packed before', async () => {
    await page.press('November');
    http.expectOne('/api/packages/p1').flush(packed);
    await page.fixture.whenStable();
    expect(page.text).toContain('Larkpost-Market/Fog-tee.png');
    await page.press('Back');
    expect(page.buttons).toContain('Pack what is made');
  });
});
