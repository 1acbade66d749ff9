import { HttpErrorResponse, provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { isAway, problemOf, sentenceOf } from './problems';
import { Intake, nameOf } from './intake';
import { AssetShelf } from './asset-shelf';
import { mug, tee } from '../testing/open-editor';
import { Preferences } from './preferences';
import { byChannel } from './requirement-shelf';

describe('a failed call', () => {
  const failed = (status: number, error: unknown) => new HttpErrorResponse({ status, error });
  it('speaks in the server’s sentence', () => {
    expect(sentenceOf(failed(422, { code: 'empty', detail: 'This file is empty: it has 0 bytes.' }))).toBe(
      'This file is empty: it has 0 bytes.',
    );
    expect(sentenceOf(failed(422, '{"code":"a","detail":"From text."}'))).toBe('From text.');
    expect(problemOf(failed(500, '<html>'))).toBeNull();
  });
  it('speaks for itself when there is no server', () => {
    expect(sentenceOf(failed(0, null))).toContain('cannot be reached');
    expect([isAway(failed(0, null)), isAway(failed(503, null)), isAway(failed(422, null))]).toEqual([
      true,
      true,
      false,
    ]);
    expect(sentenceOf(new Error('x'))).toContain('Nothing that was saved is lost');
  });
});

describe('names', () => {
  it('of designs come from their files', () => {
    expect(nameOf('mostly-drizzle_final.PNG')).toBe('Mostly drizzle final');
    expect(nameOf('.png')).toBe('Untitled design');
    expect(nameOf('東京 の雨.svg')).toBe('東京 の雨');
  });
  it('of channels gather their requirements in order', () => {
    expect(
      byChannel([
        { channel: 'b', n: 1 },
        { channel: 'a', n: 2 },
        { channel: 'b', n: 3 },
      ]).map(({ channel, requirements }) => [channel, requirements.map((one) => one.n)]),
    ).toEqual([
      ['b', [1, 3]],
      ['a', [2]],
    ]);
  });
});

describe('a picture that cannot be had', () => {
  const shelf = () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    return TestBed.inject(AssetShelf);
  };
  /** Browser images that load or fail when they are told to. */
  function images(): HTMLImageElement[] {
    const made: HTMLImageElement[] = [];
    spyOn(window, 'Image').and.callFake(function () {
      const image = { complete: false, naturalWidth: 0 } as unknown as HTMLImageElement;
      made.push(image);
      return image;
    } as never);
    return made;
  }
  const end = (image: HTMLImageElement, width: number): void => {
    Object.assign(image, { complete: true, naturalWidth: width });
    (width ? image.onload : image.onerror)!.call(image, new Event('x') as never);
  };

  it('is said to be missing, and is asked for again by itself until it is there', () => {
    jasmine.clock().install();
    const [made, one] = [images(), shelf()];
    const ask = () => one.image('a1', undefined, 256);
    expect(ask()).toBeNull();
    expect(one.isMissing('a1')).toBeFalse();
    end(made[0], 0);
    expect(one.isMissing('a1')).toBeTrue();
    expect(one.isMissing('a2')).toBeFalse();
    const before = one.imagesReady();
    jasmine.clock().tick(1600);
    // Whoever draws it is told to ask again.
    expect(one.imagesReady()).toBeGreaterThan(before);
    ask();
    expect(made.length).toBe(2);
    end(made[1], 0);
    // It waits longer each time.
    jasmine.clock().tick(1600);
    ask();
    expect(made.length).toBe(2);
    jasmine.clock().tick(4000);
    ask();
    end(made[2], 256);
    expect(ask()).toBe(made[2]);
    expect(one.isMissing('a1')).toBeFalse();
    jasmine.clock().uninstall();
  });
});

describe('art that comes in before anything else', () => {
  it('waits for the requirements, so that its design has a canvas', () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    const http = TestBed.inject(HttpTestingController);
    // What new designs are for was chosen, and is not the first on the list.
    TestBed.inject(Preferences).usual.set('tee');
    const made: number[] = [];
    TestBed.inject(Intake)
      .makeDesigns([new File(['x'], 'fog.svg'), new File(['y'], 'bad.svg')])
      .subscribe((designs) => made.push(designs.length));
    http.expectNone('/api/assets');
    http.expectOne('/api/requirements').flush([mug, tee]);
    http.expectOne('/api/assets').flush({ id: 'a', filename: 'fog.svg', width: 10, height: 10, vector: true });
    const post = http.expectOne('/api/designs');
    expect(post.request.body).toEqual(jasmine.objectContaining({ name: 'Fog', targets: [{ requirementId: 'tee' }] }));
    post.flush({ id: 'd' });
    // The second file is refused: it is told, and the first one stands.
    http.expectOne('/api/assets').flush({ code: 'damaged', detail: 'Damaged.' }, { status: 422, statusText: 'No' });
    expect(made).toEqual([1]);
  });
});
