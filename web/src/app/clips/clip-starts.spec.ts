import { Component, input, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Clip } from '@kettle/core/model';
import { ARRANGEMENTS, type Arrangement, type MusicTrack } from '@kettle/core/clip';
import { ClipEditor } from './clip-editor';
import { ClipMini } from './clip-mini';
import { ClipStarts } from './clip-starts';

/** Stands for the small clip that plays. */
@Component({ selector: 'ks-clip-mini', template: '{{ clip().name }} plays' })
class Playing {
  readonly clip = input.required<Clip>();
}

describe('what a clip can start from', () => {
  const track = (id: string, mood: string): MusicTrack => ({
    id,
    title: id,
    mood,
    tempo: 96,
    beats: { bpm: 96, offset: 0, perBar: 4 },
    durationSeconds: 30,
    loopStart: 0,
    loopEnd: 30,
  });
  const tracks = [...new Set(ARRANGEMENTS.map(({ trackId }) => trackId))].map((id, i) =>
    track(id, i % 2 ? 'calm' : 'sunny'),
  );
  let started: (Arrangement | null)[];

  function show(canStart = true) {
    started = [];
    const editor = {
      tracks: signal(tracks),
      arrange: ({ name }: Arrangement): Clip => ({ id: 'c', name, shape: '1:1', scenes: [] }),
      start: (one: Arrangement | null) => started.push(one),
    };
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), { provide: ClipEditor, useValue: editor }],
    });
    TestBed.overrideComponent(ClipStarts, { remove: { imports: [ClipMini] }, add: { imports: [Playing] } });
    const fixture = TestBed.createComponent(ClipStarts);
    fixture.componentRef.setInput('canStart', canStart);
    fixture.detectChanges();
    const page = fixture.nativeElement as HTMLElement;
    const words = (one: Element) => one.textContent!.replace(/\s+/g, ' ').trim();
    return {
      page,
      names: () => [...page.querySelectorAll('.starts b')].map(words),
      chips: (group: string) => [...page.querySelectorAll<HTMLButtonElement>(`[aria-label=${group}] .chip`)],
      words,
      press: (button: HTMLButtonElement) => {
        button.click();
        fixture.detectChanges();
      },
      rest: async (event: string, at: number) => {
        page.querySelectorAll('.starts li')[at].dispatchEvent(new Event(event, { bubbles: true }));
        await new Promise((resolve) => setTimeout(resolve, 300));
        fixture.detectChanges();
      },
    };
  }

  it('is found by tags whose counts say what is left, and all of it again', () => {
    const { names, chips, words, press } = show();
    expect(names()).toEqual([...ARRANGEMENTS.map(({ name }) => name), 'An empty one']);
    const sum = (group: string) => chips(group).reduce((all, chip) => all + Number(/\d+$/.exec(words(chip))![0]), 0);
    for (const group of ['Product', 'Mood', 'Length', 'Shape']) expect(sum(group)).toBe(ARRANGEMENTS.length);
    const tall = chips('Shape').find((one) => words(one).startsWith('tall'))!;
    const count = Number(/\d+$/.exec(words(tall))![0]);
    press(tall);
    expect(names().length).toBe(count + 1);
    expect(tall.getAttribute('aria-pressed')).toBe('true');
    // The other tags count what this one leaves.
    expect(sum('Mood')).toBe(count);
    expect(sum('Shape')).toBe(ARRANGEMENTS.length);
    press(tall);
    expect(names().length).toBe(ARRANGEMENTS.length + 1);
  });

  it('plays small when the pointer or the focus rests on it, and stops when they leave', async () => {
    const { page, rest } = show();
    await rest('mouseenter', 1);
    expect(page.querySelectorAll('ks-clip-mini').length).toBe(1);
    expect(page.querySelectorAll('.starts li')[1].textContent).toContain(`${ARRANGEMENTS[1].name} plays`);
    await rest('mouseleave', 1);
    expect(page.querySelector('ks-clip-mini')).toBeNull();
    await rest('focusin', 2);
    expect(page.querySelectorAll('.starts li')[2].textContent).toContain(`${ARRANGEMENTS[2].name} plays`);
  });

  it('is begun by a press, also an empty one; not before there is a product to show', () => {
    const { page, press } = show();
    const choices = [...page.querySelectorAll<HTMLButtonElement>('.choice')];
    press(choices[2]);
    press(choices.at(-1)!);
    expect(started).toEqual([ARRANGEMENTS[2], null]);
    TestBed.resetTestingModule();
    const none = show(false);
    press(none.page.querySelector<HTMLButtonElement>('.choice')!);
    expect(started).toEqual([]);
  });
});
