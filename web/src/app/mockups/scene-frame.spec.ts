import { TestBed } from '@angular/core/testing';
import type { Bench } from '../editor/bench';
import { InPage } from '../testing/in-page';
import { badge, openBench, shirt } from '../testing/open-bench';
import { MockupBench } from './mockup-bench';
import { SceneFrame } from './scene-frame';

describe('the frame of a picture', () => {
  let bench: Bench;
  let mockup: MockupBench;
  let page: InPage<SceneFrame>;
  const crop = () => bench.desk.document()!.scene?.crop;
  beforeEach(async () => {
    const opened = openBench({ targets: [{ requirementId: 'tee' }] }, [MockupBench]);
    ({ bench } = opened);
    mockup = TestBed.inject(MockupBench);
    opened.http.expectOne('/api/blanks').flush([shirt]);
    opened.maker.picture(badge);
    page = await InPage.show(SceneFrame);
  });

  it('is all there is at first; a shape begins as the portrait that shops ask for, and is changed by a press', async () => {
    expect(page.buttons).toEqual([]);
    await page.enter('Picture shows', 'whole');
    expect(crop()).toEqual({ of: 'whole', shape: '4:5' });
    await page.press('1:1');
    expect(crop()).toEqual({ of: 'whole', shape: '1:1' });
    await page.enter('Picture shows', 'print');
    expect(crop()).toEqual({ of: 'print', shape: '1:1' });
    expect(mockup.framing()).toBeFalse();
    await page.enter('Picture shows', 'all');
    expect(crop()).toBeUndefined();
  });

  it('is a step back each time', async () => {
    await page.enter('Picture shows', 'whole');
    await page.enter('Picture shows', 'print');
    bench.desk.undo();
    expect(crop()).toEqual({ of: 'whole', shape: '4:5' });
    bench.desk.undo();
    expect(crop()).toBeUndefined();
  });

  it('is set on all of the blank when it is one’s own', async () => {
    await page.enter('Picture shows', 'box');
    expect(mockup.framing()).toBeTrue();
    await page.press('See it as it is made');
    expect(mockup.framing()).toBeFalse();
  });

  it('has measures on it in the unit that is chosen, or none', async () => {
    await page.enter('Measures of the ink', 'cm');
    expect(bench.desk.document()!.scene?.measured).toBe('cm');
    await page.enter('Measures of the ink', '');
    expect(bench.desk.document()!.scene?.measured).toBeUndefined();
  });
});
