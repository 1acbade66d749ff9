import {
  HttpClient,
  HttpErrorResponse,
  HttpRequest,
  HttpResponse,
  provideHttpClient,
  withInterceptors,
} from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { of, throwError } from 'rxjs';
import { refusal } from '../testing/heard';
import { sentenceOf } from './problems';
import { askForPicturesAgain } from './pictures-again';
import { Waits, patient } from './waits';

describe('a server that does not answer', () => {
  let http: HttpClient;
  let server: HttpTestingController;
  let waits: Waits;
  const heard: unknown[] = [];
  beforeEach(() => {
    heard.length = 0;
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(withInterceptors([patient])),
        provideHttpClientTesting(),
      ],
    });
    http = TestBed.inject(HttpClient);
    server = TestBed.inject(HttpTestingController);
    waits = TestBed.inject(Waits);
    jasmine.clock().install();
  });
  afterEach(() => jasmine.clock().uninstall());
  const read = () =>
    http.get('/api/blanks').subscribe({
      next: (value) => heard.push(value),
      error: (error: unknown) => heard.push(sentenceOf(error)),
    });
  const away = () => server.expectOne('/api/blanks').error(new ProgressEvent('error'));

  it('is asked again by itself with growing waits, however it fails, and the page knows that it waits', () => {
    read();
    expect(waits.isWaiting()).toBeFalse();
    away();
    expect(waits.isWaiting()).toBeTrue();
    jasmine.clock().tick(999);
    server.expectNone('/api/blanks');
    jasmine.clock().tick(1);
    server.expectOne('/api/blanks').flush('<h1>Bad gateway</h1>', { status: 502, statusText: 'Bad gateway' });
    jasmine.clock().tick(1999);
    server.expectNone('/api/blanks');
    jasmine.clock().tick(1);
    server.expectOne('/api/blanks').flush(...refusal('The database is away.', 503));
    jasmine.clock().tick(4000);
    server.expectOne('/api/blanks').flush(['a tote']);
    expect(heard.at(-1)).toEqual(['a tote']);
    expect(waits.isWaiting()).toBeFalse();
  });

  it('is asked again when only a part of its answer came', () => {
    const cut = new HttpErrorResponse({ status: 200, error: { error: new SyntaxError(), text: '[{"id":' } });
    const whole = new HttpResponse({ status: 200, body: ['a tote'] });
    const answers = [throwError(() => cut), of(whole)];
    TestBed.runInInjectionContext(() =>
      patient(new HttpRequest('GET', '/api/blanks'), () => answers.shift()!).subscribe((event) => heard.push(event)),
    );
    jasmine.clock().tick(1000);
    expect(heard).toEqual([whole]);
  });

  it('is asked now when somebody presses', () => {
    read();
    away();
    waits.again();
    server.expectOne('/api/blanks').flush(['a tote']);
    expect(heard).toEqual([['a tote']]);
  });

  it('is not asked for a page that has been left', () => {
    const reading = read();
    away();
    reading.unsubscribe();
    expect(waits.isWaiting()).toBeFalse();
    jasmine.clock().tick(60_000);
    server.expectNone('/api/blanks');
  });

  it('is told at once when it refuses, when something unforeseen lasts, and when something was to be changed', () => {
    read();
    server.expectOne('/api/blanks').flush(...refusal('There is nothing with this id.', 404));
    expect(heard).toEqual(['There is nothing with this id.']);
    read();
    for (let i = 0; i < 3; i++) {
      expect(heard.length).toBe(1);
      server.expectOne('/api/blanks').flush(...refusal('Unforeseen.', 500));
      waits.again();
    }
    expect(heard.at(-1)).toBe('Unforeseen.');
    http.post('/api/designs', {}).subscribe({ error: (error: unknown) => heard.push(sentenceOf(error)) });
    server.expectOne('/api/designs').error(new ProgressEvent('error'));
    expect(heard.at(-1)).toContain('The server cannot be reached just now');
    expect(waits.isWaiting()).toBeFalse();
  });

  it('is asked again for the pictures of the page, while they are on it', () => {
    askForPicturesAgain(document);
    const image = document.createElement('img');
    image.setAttribute('src', '/api/pictures/none');
    document.body.append(image);
    const asked = spyOn(image, 'setAttribute').and.callThrough();
    const fail = () => image.dispatchEvent(new Event('error'));
    fail();
    jasmine.clock().tick(1000);
    expect(asked).toHaveBeenCalledOnceWith('src', '/api/pictures/none');
    fail();
    jasmine.clock().tick(1999);
    expect(asked).toHaveBeenCalledTimes(1);
    jasmine.clock().tick(1);
    expect(asked).toHaveBeenCalledTimes(2);
    image.remove();
    fail();
    jasmine.clock().tick(60_000);
    expect(asked).toHaveBeenCalledTimes(2);
  });
});
