import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ChannelRules } from '@kettle/core/listing';
import { ownRules } from '../testing/own-rules';
import { CHANNEL, kindOfDraft, LISTING } from './saved-kinds';
import { asChanged, Saving } from './saving';
import { Unsent } from './unsent';

describe('what is saved by itself', () => {
  let http: HttpTestingController;
  let saving: Saving<ChannelRules, Omit<ChannelRules, 'id' | 'revision' | 'shipped'>>;
  const other = { ...ownRules, id: 'other', channel: 'Other' };
  const put = (id: string) => http.expectOne({ method: 'PUT', url: `/api/channel-rules/${id}` });

  beforeEach(() => {
    localStorage.clear();
    jasmine.clock().install().mockDate();
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    http = TestBed.inject(HttpTestingController);
    saving = TestBed.runInInjectionContext(() => new Saving(CHANNEL));
    saving.look(ownRules.id, ownRules);
  });
  afterEach(() => {
    jasmine.clock().uninstall();
    http.verify();
  });

  it('is shown as it is changed, and not written over by what was asked for before it was saved', () => {
    saving.change((fields) => ({ ...fields, channel: 'Quillmere' }));
    saving.look(ownRules.id, { ...ownRules });
    expect(asChanged(ownRules, saving)!.channel).toBe('Quillmere');
    expect(asChanged(other, saving)).toBe(other);
    jasmine.clock().tick(500);
    const sent = put(ownRules.id);
    sent.flush({ ...ownRules, channel: 'Quillmere', revision: ownRules.revision + 1 });
    expect(saving.state()).toBe('saved');
    // This answer was on its way for longer than the save.
    saving.look(ownRules.id, ownRules);
    expect([saving.value()!.channel, saving.revision()]).toEqual(['Quillmere', ownRules.revision + 1]);
    saving.look(ownRules.id, { ...ownRules, channel: 'By others', revision: ownRules.revision + 2 });
    expect([saving.value()!.channel, saving.revision()]).toEqual(['By others', ownRules.revision + 2]);
  });

  it('is sent at once when another one is opened, and followed though the server is away', () => {
    saving.change((fields) => ({ ...fields, channel: 'Left' }));
    saving.look(other.id, other);
    put(ownRules.id).flush(null, { status: 502, statusText: 'Bad Gateway' });
    saving.change((fields) => ({ ...fields, channel: 'Next' }));
    jasmine.clock().tick(500);
    put(other.id).flush({ ...other, channel: 'Next', revision: other.revision + 1 });
    expect([saving.id(), saving.state()]).toEqual(['other', 'saved']);
    jasmine.clock().tick(1100);
    const again = put(ownRules.id);
    expect(again.request.body).toEqual(jasmine.objectContaining({ channel: 'Left' }));
    again.flush({ ...ownRules, channel: 'Left', revision: ownRules.revision + 1 });
    expect(localStorage.length).toBe(0);
  });

  it('stays refused until it is changed, and can be told from what is not', () => {
    saving.change((fields) => ({ ...fields, channel: '' }));
    jasmine.clock().tick(500);
    put(ownRules.id).flush({ code: 'not-as-demanded', detail: 'It needs a name.' }, { status: 422, statusText: 'No' });
    expect([saving.state(), saving.complaint()]).toEqual(['refused', 'It needs a name.']);
    saving.become(CHANNEL.read(ownRules).value);
    jasmine.clock().tick(500);
    put(ownRules.id).flush({ ...ownRules, revision: ownRules.revision + 1 });
    expect(saving.state()).toBe('saved');
  });

  it('asks for the newer one again where that could not be had', () => {
    saving.change((fields) => ({ ...fields, channel: 'Mine' }));
    jasmine.clock().tick(500);
    put(ownRules.id).flush({ code: 'stale-revision', detail: 'Newer.' }, { status: 412, statusText: 'No' });
    const asked = () => http.expectOne({ method: 'GET', url: '/api/channel-rules' });
    asked().flush(null, { status: 500, statusText: 'No' });
    expect(saving.state()).toBe('stale');
    saving.takeNewer();
    asked().flush([other, { ...ownRules, channel: 'Theirs', revision: 9 }]);
    expect([saving.state(), saving.value()!.channel, saving.revision()]).toEqual(['saved', 'Theirs', 9]);
  });

  it('has drafts whose keys tell what they are of', () => {
    expect(kindOfDraft('listing.d1')).toEqual({ kind: LISTING as never, id: 'd1' });
    expect(kindOfDraft('d1').id).toBe('d1');
  });
});

describe('what is typed in a form and not sent', () => {
  const typed = (form: string) => TestBed.runInInjectionContext(() => new Unsent()).of<object>(form, {});
  beforeEach(() => localStorage.clear());

  it('is there for the next page, without what is secret, until it is sent', () => {
    typed('client page d1').set({ client: 'Ada', passPhrase: 'rain rain' });
    typed('orders d1').update((before) => ({ ...before, price: '12' }));
    expect(typed('client page d1')()).toEqual({ client: 'Ada' });
    expect(typed('orders d1')()).toEqual({ price: '12' });
    typed('client page d1').set({});
    expect(localStorage.getItem('kettle.unsent')).toBe('{"orders d1":{"price":"12"}}');
  });

  it('gives way to what is typed later, and is none where what is kept is no form', () => {
    for (let i = 0; i < 70; i++) typed(`form ${i}`).set({ i });
    typed('form 12').set({ again: true });
    expect(typed('form 9')()).toEqual({});
    expect(typed('form 12')()).toEqual({ again: true });
    localStorage.setItem('kettle.unsent', '{ broken');
    expect(typed('form 12')()).toEqual({});
  });
});
