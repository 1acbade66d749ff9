import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { ListedBlank } from '@kettle/contract';
import { emptyDesign, MOST_CLIPS, type DesignDocument, type Layer } from '@kettle/core/model';
import { ARRANGEMENTS, clipsOf } from '@kettle/core/clip';
import { of } from 'rxjs';
import { fakeApi } from '../testing/fake-api';
import { BlankShelf } from '../data/blank-shelf';
import { Notices } from '../data/notices';
import { RequirementShelf } from '../data/requirement-shelf';
import { ClipsDialog, type ClipsDialogData } from './clips-dialog';

const BLANK = {
  id: 'tee-front',
  name: 'Tee',
  kind: 'still',
  product: 'tee',
  category: 'tops',
  width: 2000,
  height: 2000,
  colourways: [
    { name: 'navy', hex: '#1f2b4d' },
    { name: 'rust', hex: '#a5442f' },
  ],
  areas: [{ id: 'full-front', name: 'Front' }],
} as unknown as ListedBlank;

describe('clips of several designs', () => {
  let saved: Map<string, DesignDocument>;
  let closed: unknown[];
  let runs: unknown[];

  function show(names: readonly string[], change: (one: DesignDocument) => DesignDocument = (one) => one) {
    [saved, closed, runs] = [new Map(), [], []];
    const documents = new Map(
      names.map((name) => {
        const bare = emptyDesign(name);
        return [name, change({ ...bare, layers: [{ id: 'l' } as unknown as Layer] })] as const;
      }),
    );
    const api = fakeApi({
      'get /api/music': () => of([]),
      'get /api/clip-makers': () => of({ files: ['webm'], sentence: '' }),
      'get /api/designs/{id}': ({ id }) => of({ id, revision: 3, savedAt: '', document: documents.get(id)! }),
      'put /api/designs/{id}': ({ id, ifMatch, body: document }) => {
        saved.set(id, document);
        return of({ id, revision: ifMatch + 1, savedAt: '', document });
      },
      'post /api/clip-runs': ({ body }) => {
        runs.push(body);
        return of({ jobId: 'j' });
      },
    });
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        api,
        { provide: Notices, useValue: { say: () => undefined } },
        { provide: BlankShelf, useValue: { all: of([BLANK]) } },
        { provide: RequirementShelf, useValue: { all: signal([]) } },
        { provide: MatDialogRef, useValue: { close: (result: unknown) => closed.push(result) } },
        {
          provide: MAT_DIALOG_DATA,
          useValue: { designs: names.map((name) => ({ designId: name, name })) } satisfies ClipsDialogData,
        },
      ],
    });
    const fixture = TestBed.createComponent(ClipsDialog);
    fixture.detectChanges();
    const page = fixture.nativeElement as HTMLElement;
    const said = (one: Element) => one.textContent!.replace(/\s+/g, ' ').trim();
    const button = (words: string) => {
      const all = [...page.querySelectorAll('button')];
      return all.find((one) => said(one) === words) ?? all.find((one) => said(one).startsWith(words))!;
    };
    const press = async (words: string) => {
      button(words).click();
      await new Promise((resolve) => setTimeout(resolve));
      fixture.detectChanges();
    };
    return { page, button, press, fixture };
  }
  const alerts = (page: HTMLElement) => [...page.querySelectorAll('[role=alert]')].map((one) => one.textContent);

  it('are one each, after the arrangement and in the shape that are chosen, and the server makes them', async () => {
    const { page, press, fixture } = show(['Isobars', 'Drizzle']);
    await press(ARRANGEMENTS[3].name);
    await press('tall');
    page.querySelector<HTMLInputElement>('input[type=checkbox]')!.click();
    fixture.detectChanges();
    await press('Begin 2 clips');
    expect([...saved.keys()]).toEqual(['Isobars', 'Drizzle']);
    for (const [name, document] of saved) {
      const [clip] = clipsOf(document);
      expect([clip.shape, clip.scenes.length]).toEqual(['9:16', ARRANGEMENTS[3].steps.length]);
      expect(clip.words?.title).toBe(name);
    }
    expect(runs).toEqual([
      {
        clips: [...saved].map(([designId, document]) => ({ designId, clipId: clipsOf(document)[0].id })),
        side: 1080,
        file: 'webm',
      },
    ]);
    expect(page.querySelector('[role=status]')!.textContent).toContain('2 of 2 begun');
    // Which of them is looked at is for the seller to say.
    expect(closed).toEqual([]);
  });

  it('are one that shows them all, kept with the first, which is opened', async () => {
    const { press } = show(['Isobars', 'Drizzle', 'Hail']);
    await press('One clip that shows them all');
    await press('Begin the clip');
    expect([...saved.keys()]).toEqual(['Isobars']);
    const [clip] = clipsOf(saved.get('Isobars')!);
    expect(clip.scenes.map(({ designId }) => designId)).toEqual([undefined, 'Drizzle', 'Hail']);
    expect(closed).toEqual([{ open: 'Isobars' }]);
    expect(runs).toEqual([]);
  });

  it('are begun for the others where one has no art or too many clips, and that is said', async () => {
    const { page, press } = show(['Bare', 'Isobars', 'Full'], (one) =>
      one.name === 'Bare'
        ? { ...one, layers: [] }
        : one.name === 'Full'
          ? {
              ...one,
              clips: Array.from({ length: MOST_CLIPS }, (_, i) => ({
                id: `${i}`,
                name: `${i}`,
                shape: '1:1',
                scenes: [],
              })),
            }
          : one,
    );
    await press('Begin 3 clips');
    expect([...saved.keys()]).toEqual(['Isobars']);
    expect(alerts(page)).toEqual([
      'Bare: It has no art yet, so a clip would show bare products.',
      `Full: It has ${MOST_CLIPS} clips already. Take one away first.`,
    ]);
    expect(closed).toEqual([]);
    await press('Close');
    expect(closed).toEqual([{ open: null }]);
  });

  it('is a single one of one design', async () => {
    const { page, button, press } = show(['Isobars']);
    expect(page.querySelector('h2')!.textContent).toBe('A clip of “Isobars”');
    expect(button('One clip that shows them all').disabled).toBeTrue();
    await press('Begin the clip');
    expect(closed).toEqual([{ open: 'Isobars' }]);
  });
});
