import { HttpClient, provideHttpClient, withInterceptors } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { single } from './single';

describe('a button that is pressed again while it is busy', () => {
  let http: HttpClient;
  let server: HttpTestingController;
  beforeEach(() => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(withInterceptors([single])),
        provideHttpClientTesting(),
      ],
    });
    http = TestBed.inject(HttpClient);
    server = TestBed.inject(HttpTestingController);
  });
  const heard: unknown[] = [];
  const make = (body: unknown = { name: 'Fog' }, url = '/api/designs') =>
    http.post(url, body).subscribe({ next: (made) => heard.push(made), error: () => heard.push('failed') });
  beforeEach(() => heard.splice(0));

  it('makes one thing, which both presses hear of; pressed after that it makes another', () => {
    make();
    make();
    server.expectOne('/api/designs').flush({ id: 'd1' });
    expect(heard).toEqual([{ id: 'd1' }, { id: 'd1' }]);
    make();
    server.expectOne('/api/designs').flush({ id: 'd2' });
    expect(heard.at(-1)).toEqual({ id: 'd2' });
  });

  it('can be pressed again after it failed, and after whoever asked has left', () => {
    make();
    server.expectOne('/api/designs').error(new ProgressEvent('error'));
    make().unsubscribe();
    make();
    server.match('/api/designs').forEach((call) => !call.cancelled && call.flush({ id: 'd1' }));
    expect(heard).toEqual(['failed', { id: 'd1' }]);
  });

  it('is told apart from another of other words, another place, and other files', () => {
    make();
    make({ name: 'Mist' });
    make({ name: 'Fog' }, '/api/requirements');
    make(new File(['a'], 'a.png'), '/api/assets');
    make(new File(['a'], 'a.png'), '/api/assets');
    expect(server.match('/api/designs').length).toBe(2);
    expect(server.match('/api/requirements').length).toBe(1);
    expect(server.match('/api/assets').length).toBe(2);
  });
});
