import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Treatment } from '@kettle/core/model';
import { pictureKey } from '@kettle/core/treatments';
import { refusal } from '../testing/heard';
import { badge } from '../testing/open-editor';
import { AssetShelf } from './asset-shelf';

const treatments: Treatment[] = [{ id: 't', kind: 'dissolve', hex: '#ffffff', clean: 0 }];
const plain = { key: 'a1', assetId: 'a1', treatments: undefined };
const shown = { key: pictureKey('a1', treatments), assetId: 'a1', treatments };

describe('facts and renditions of artwork', () => {
  let http: HttpTestingController;
  let shelf: AssetShelf;
  /** Pictures that were asked for, each loaded when it is said to be. */
  let asked: HTMLImageElement[];
  beforeEach(() => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    http = TestBed.inject(HttpTestingController);
    shelf = TestBed.inject(AssetShelf);
    asked = [];
    const Original = Image;
    spyOn(window, 'Image').and.callFake(function () {
      const image = new Original();
      asked.push(image);
      return image;
    } as never);
  });
  const load = (image: HTMLImageElement): void => {
    Object.defineProperty(image, 'complete', { value: true });
    Object.defineProperty(image, 'naturalWidth', { value: 256 });
    image.onload!(new Event('load'));
  };

  it('are asked for once, by themselves again while the server is away, and anew after they were refused', () => {
    jasmine.clock().install();
    shelf.want([plain]);
    shelf.want([plain]);
    expect(shelf.coming()).toBeTrue();
    http.expectOne('/api/assets/a1').flush(...refusal('The server is away.', 503));
    expect(shelf.coming()).toBeTrue();
    jasmine.clock().tick(1000);
    jasmine.clock().uninstall();
    http.expectOne('/api/assets/a1').flush(...refusal('There is nothing with this id.', 404));
    expect(shelf.coming()).toBeFalse();
    shelf.want([plain]);
    http.expectOne('/api/assets/a1').flush(badge);
    expect(shelf.facts()['a1']).toEqual(badge);
    shelf.want([plain]);
    http.verify();
  });

  it('come at the next larger size, and say when they are there', () => {
    expect(shelf.image('a1', undefined, 300)).toBeNull();
    expect(new URL(asked[0].src).search).toBe('?size=512');
    expect(shelf.isComing('a1', 300)).toBeTrue();
    const before = shelf.imagesReady();
    load(asked[0]);
    expect(shelf.imagesReady()).toBe(before + 1);
    expect(shelf.image('a1', undefined, 400)).toBe(asked[0]);
    expect(shelf.isComing('a1', 300)).toBeFalse();
    expect(shelf.image('a1', undefined, 9000)).toBeNull();
    expect(new URL(asked[1].src).search).toBe('?size=2048');
  });

  it('show what the picture looked like last while what is done to it is worked out', () => {
    shelf.image('a1', undefined, 256);
    load(asked[0]);
    expect(shelf.image('a1', undefined, 256)).toBe(asked[0]);
    // Its facts are not known yet: its rendition cannot be asked for.
    expect(shelf.image('a1', treatments, 256)).toBe(asked[0]);
    expect(asked.length).toBe(1);
    shelf.want([shown]);
    http.expectOne((one) => /a1/.test(one.url)).flush({ ...badge, opaque: false });
    expect(shelf.image('a1', treatments, 256)).toBe(asked[0]);
    expect(new URL(asked[1].src).searchParams.get('treated')).toBeTruthy();
    load(asked[1]);
    expect(shelf.image('a1', treatments, 256)).toBe(asked[1]);
  });
});
