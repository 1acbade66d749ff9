import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { Picture, PictureRun, SheetSet } from '@kettle/contract';
import { formatBytes } from '@kettle/core/units';
import { IDENTITY } from '@kettle/core/geometry';
import { isHex } from '@kettle/core/colour';
import {
  colourwayOf,
  isInRoom,
  LARGEST_DRAWN,
  LEAST_PICTURE,
  LEAST_PICTURE_DPI,
  MOST_PICTURE_DPI,
  MOST_PICTURE,
  PICTURE_ADVICE,
  PICTURE_FORMATS,
  PICTURE_SIZES,
  printAreasOf,
  type Colourway,
  type PictureBehind,
  type DesignDocument,
  type PictureFit,
  type KeptScene,
  type PictureFormat,
  type RepeatKind,
} from '@kettle/core/model';
import { kindOf } from '@kettle/core/layers';
import { layoutTarget, REPEAT_KINDS, REPEAT_WORDS } from '@kettle/core/document';
import { seenAs, seenOn } from '@kettle/core/press';
import { designOnScene, LEAST_LIGHT, MOST_LIGHT, shotOf, type PictureSetFields } from '@kettle/core/mockup';
import { Observable, filter, finalize, forkJoin, merge, switchMap } from 'rxjs';
import { ActivatedRoute } from '@angular/router';
import { MatDialog } from '@angular/material/dialog';
import { inkOf } from '../paint/ink-on-cloth';
import { Editor } from '../editor/editor';
import { TargetPicture, fieldCanvas } from '../editor/target-picture';
import { Api } from '../data/api';
import { savesOf } from '../data/saving';
import { Loaded } from '../data/loaded';
import { sheetRows } from '../data/sheet-calls';
import { AssetShelf } from '../data/asset-shelf';
import { Intake } from '../data/intake';
import { Notices } from '../data/notices';
import { FORMAT_CHOICES } from '../data/picture-formats';
import { FailureList } from '../jobs/failure-list';
import { JobFeed } from '../jobs/job-feed';
import { PictureSetDialog, type PictureSetDialogData } from '../pictures/picture-set-dialog';
import { FilePicker } from '../units/file-picker';
import { NumberField } from '../units/number-field';
import { ChipRow, chip } from '../units/chips';
import { PickField } from '../units/pick-field';
import { Settings, amount, check, chips, colour, pick, row, slide, type Setting } from '../units/settings';
import { Swatches } from '../units/swatches';
import { TypedValue } from '../units/typed-value';
import { BlankList } from './blank-list';
import { MockupEditor } from './mockup-editor';
import { PanelCroppings } from './panel-croppings';
import { SceneFrame } from './scene-frame';
import { SceneLook } from './scene-look';
import { SceneList } from './scene-list';
import { SceneView } from './scene-view';
import { ScenePainter } from './scene-painter';
import { SmallScenes } from './small-scenes';

/** The design on products: blanks, colours, light, and the pictures made of them. */
@Component({
  selector: 'ks-mockups-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    FilePicker,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    ChipRow,
    FailureList,
    SceneView,
    Settings,
    SceneFrame,
    PanelCroppings,
    SceneLook,
    SceneList,
    TargetPicture,
    BlankList,
    NumberField,
    PickField,
    Swatches,
    TypedValue,
  ],
  providers: [MockupEditor, ScenePainter, SmallScenes],
  templateUrl: './mockups-station.html',
  styleUrl: './mockups-station.scss',
})
export class MockupsStation {
  protected readonly editor = inject(Editor);
  protected readonly mockup = inject(MockupEditor);
  protected readonly feed = inject(JobFeed);
  private readonly api = inject(Api);
  private readonly assets = inject(AssetShelf);
  private readonly intake = inject(Intake);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);

  protected readonly size = signal<number>(2000);
  protected readonly format = signal<PictureFormat>('jpeg');
  /** Exact frame of the pictures, px, and their byte limit, kB; none when empty. */
  protected readonly frame = signal<{ width: number; height: number } | null>(null);
  protected readonly dpi = signal<number | null>(null);
  /** Name of the file that is made; made of design, product, colour and size when empty. */
  protected readonly filename = signal('');
  protected readonly leastDpi = LEAST_PICTURE_DPI;
  protected readonly mostDpi = MOST_PICTURE_DPI;
  protected readonly limitKb = signal<number | null>(null);
  protected readonly formatChoices = FORMAT_CHOICES;
  protected readonly advice = PICTURE_ADVICE;
  private readonly kept = new Loaded(
    () => {
      const id = this.editor.desk.id();
      return id
        ? forkJoin({
            pictures: this.api.ask('get /api/designs/{id}/pictures', { id }),
            rows: sheetRows(this.api, [id]),
          })
        : null;
    },
    {
      of: 'The pictures of this design',
      // After a save a picture may be out of date.
      on: merge(savesOf(this.editor.desk), this.feed.changes.pipe(filter((job) => job.kind === 'pictures'))),
    },
  );
  protected readonly pictures = computed<readonly Picture[]>(() => this.kept.value()?.pictures ?? []);
  protected readonly old = computed(() => this.pictures().filter((one) => one.outOfDate).length);
  /** The set this design is to have, and how far it is. */
  protected readonly set = computed<SheetSet | null>(() => this.kept.value()?.rows[0]?.set ?? null);
  protected readonly sizeChoices = [
    ...PICTURE_SIZES.map((one) => ({ id: `${one}`, words: `${one} × ${one}` })),
    { id: 'own', words: 'own size' },
  ];
  protected readonly formatBytes = formatBytes;
  protected readonly field = computed(() => fieldCanvas(this.editor.desk.document()?.field ?? { width: 1, height: 1 }));
  /** The design in the version for a garment. */
  protected designOn(garment: string): DesignDocument {
    // A colour is judged on the art itself, not on a pattern of it.
    return { ...designOnScene(this.editor.desk.document()!, this.mockup.requirement(), garment), repeat: undefined };
  }

  protected readonly behindPicture = computed(() => this.mockup.scene()?.behind?.kind === 'picture');
  protected readonly takingBehind = signal(false);
  /** The wall: its colour, what it fades to, and the picture that hangs before it. */
  protected readonly wall = computed<readonly Setting[]>(() => {
    const [{ mockup }, scene] = [this, this.mockup.scene()];
    if (!scene) return [];
    const { backdrop, behind } = scene;
    const fading = behind?.kind === 'gradient' ? behind : null;
    const picture = behind?.kind === 'picture' ? behind : null;
    return [
      colour('Wall behind', backdrop, (hex) => mockup.change({ backdrop: hex }, 'backdrop')),
      check('The wall fades to another colour', fading !== null, (fades) => mockup.fadeBehind(fades)),
      ...(fading
        ? [
            colour('Colour the wall fades to', fading.to, (to) => mockup.change({ behind: { ...fading, to } }, 'fade')),
            slide('Direction', fading.turn, {
              least: -180,
              most: 180,
              step: 15,
              unit: '°',
              set: (turn) => mockup.change({ behind: { ...fading, turn } }, 'turn'),
            }),
          ]
        : []),
      ...(picture ? this.sightOf(picture) : []),
    ];
  });
  /** How a picture behind is seen. */
  private sightOf(behind: PictureBehind): readonly Setting[] {
    const part = (label: string, key: 'blur' | 'light', least = 0, most = 1): Setting =>
      slide(label, behind[key] * 100, {
        least: least * 100,
        most: most * 100,
        step: 5,
        unit: '%',
        set: (percent) => this.mockup.change({ behind: { ...behind, [key]: percent / 100 } }, key),
      });
    return [part('Picture behind out of focus', 'blur'), part('Light on it', 'light', LEAST_LIGHT, MOST_LIGHT)];
  }
  protected behindAct(files: FilePicker) {
    return this.behindPicture()
      ? chip('Take the picture behind away', () => this.takeBehindAway())
      : chip(this.takingBehind() ? 'Taking it in …' : 'A picture of mine behind …', () => files.open(), {
          disabled: this.takingBehind(),
        });
  }
  /** What can be done for the set this design is to have. */
  protected readonly ofSet = computed(() => {
    const [set, old, isIdle] = [this.set(), this.old(), !this.jobs().length];
    return [
      set !== null && set.made < set.wanted && isIdle && chip('Make what is missing', () => this.run('set', {})),
      chip(set ? 'Another set …' : 'Choose a picture set …', () => this.chooseSet()),
      old > 0 &&
        isIdle &&
        chip(`Make ${old === 1 ? 'the one' : `all ${old}`} out of date again`, () => this.run('out-of-date', {})),
    ];
  });
  protected readonly tickActs = computed(() => [
    chip(this.mockup.setOf().size === this.setColours().length ? 'None' : 'All', () => this.tickAll()),
  ]);
  protected readonly cancelActs = [chip('Cancel', () => this.feed.cancel(this.jobs()))];

  private readonly prints = computed(() =>
    this.editor.targets().map(({ requirement: { id, name, channel } }) => ({ id, words: `${name}, ${channel}` })),
  );
  /** Where the print lies, and in what it is placed. */
  protected readonly placed = computed<readonly Setting[]>(() => {
    const [{ mockup }, scene, areas] = [this, this.mockup.scene(), this.areas()];
    if (!scene) return [];
    const hasPanels = mockup.panels().length > 0;
    const [allOver, repeat] = [mockup.isAllOver(), mockup.repeat()];
    return [
      ...(this.inRoom()
        ? []
        : [
            slide('Shadow on the wall', scene.shadow * 100, {
              unit: '%',
              set: (percent) => mockup.change({ shadow: percent / 100 }, 'shadow'),
            }),
          ]),
      ...(areas.length > 1 || hasPanels
        ? [
            chips(
              [
                ...areas.map(({ id, name }) => ({
                  words: name,
                  on: id === mockup.area()?.id,
                  press: () => (allOver ? mockup.leaveAllOver(id) : mockup.chooseArea(id)),
                })),
                ...(hasPanels
                  ? [
                      {
                        words: 'All over',
                        on: allOver,
                        disabled: mockup.layingOut(),
                        title: 'Every piece of cloth is printed before it is cut and sewn',
                        press: () => mockup.layAllOver(),
                      },
                    ]
                  : []),
              ],
              'Print area',
            ),
          ]
        : []),
      pick('Placed as in', mockup.requirement()?.id ?? '', {
        of: this.prints(),
        set: (requirementId) => mockup.change({ requirementId }),
      }),
      ...(allOver && !repeat
        ? [
            chips([
              { words: 'Cover all of the cloth', press: () => mockup.coverPanels() },
              ...(mockup.seams().length
                ? [{ words: 'Carry it over the seams', press: () => mockup.carryOverSeams() }]
                : []),
            ]),
          ]
        : []),
    ];
  });
  /** How a panel is covered, and what else is printed at the same time. */
  protected readonly covered = computed<readonly Setting[]>(() => {
    const [{ mockup }, scene, repeat] = [this, this.mockup.scene(), this.mockup.repeat()];
    if (!scene) return [];
    return [
      ...(mockup.isAllOver()
        ? [
            pick('The art covers a panel', repeat?.kind ?? '', {
              of: [
                { id: '', words: 'once' },
                ...REPEAT_KINDS.map((id) => ({ id, words: `repeated ${REPEAT_WORDS[id]}` })),
              ],
              set: (kind) => this.repeatAs(kind),
            }),
            ...(repeat
              ? [
                  row(
                    amount('Width', mockup.repeatWidth(), {
                      unit: 'mm',
                      least: 5,
                      most: 2000,
                      set: (mm) => mockup.repeatOver(repeat, mm),
                    }),
                    amount('Gap', repeat.gapMm, {
                      unit: 'mm',
                      least: 0,
                      most: 500,
                      set: (gapMm) => mockup.repeatOver({ kind: repeat.kind, gapMm }),
                    }),
                  ),
                ]
              : []),
          ]
        : []),
      ...mockup.otherAreas().map(({ area, also }) =>
        pick(`${area.name} at the same time`, also?.requirementId ?? '', {
          of: [{ id: '', words: 'stays bare' }, ...this.prints()],
          set: (requirementId) => mockup.printAlso(area.id, requirementId || null),
        }),
      ),
      check('Placed for this scene alone', !!scene.own, (on) => mockup.placeForItself(on)),
    ];
  });

  /** A file that is chosen stands behind the product of the scene that was shown then. */
  protected putBehind(file: File): void {
    const scene = this.mockup.scene();
    if (!scene) return;
    this.takingBehind.set(true);
    this.intake
      .takeIn([file])
      .pipe(finalize(() => this.takingBehind.set(false)))
      .subscribe((asset) => {
        if (this.mockup.scene()?.blankId !== scene.blankId) return;
        this.mockup.change({ behind: { kind: 'picture', assetId: asset.id, blur: 0.3, light: 1 } });
        this.editor.desk.settle();
      });
  }
  private takeBehindAway(): void {
    this.mockup.change({ behind: undefined });
    this.editor.desk.settle();
  }

  protected readonly leastPicture = LEAST_PICTURE;
  protected readonly mostPicture = MOST_PICTURE;

  private repeatAs(kind: string): void {
    this.mockup.repeatOver(kind ? { kind: kind as RepeatKind, gapMm: this.mockup.repeat()?.gapMm ?? 0 } : null);
  }
  protected readonly identity = [1, 0, 0, 1, 0, 0] as const;

  /** Areas that are printed one by one. */
  private readonly areas = computed(() => {
    const blank = this.mockup.blank();
    return blank ? printAreasOf(blank) : [];
  });
  /** The picture brings its room along: there is no wall to colour. */
  protected readonly inRoom = computed(() => {
    const blank = this.mockup.blank();
    return blank !== null && isInRoom(blank);
  });
  /** True from a press until the server has heard it. */
  protected readonly asking = signal(false);
  protected readonly jobs = computed(() => this.feed.runningFor(this.editor.desk.id(), 'pictures'));

  /** Colours that pictures can be made in: those the product comes in, and what the seller chose beside them. */
  protected readonly setColours = computed<Colourway[]>(() => {
    const [blank, scene] = [this.mockup.blank(), this.mockup.scene()];
    if (!blank || !scene) return [];
    const others = [...this.mockup.setOf(), scene.garment].filter((one) => isHex(one) && !colourwayOf(blank, one));
    return [...blank.colourways, ...[...new Set(others)].map((hex) => ({ name: hex, hex }))];
  });

  /** Colourways that a press of the button makes: the ticked set, or the one that is seen. */
  protected readonly toMake = computed<Colourway[]>(() => {
    const [blank, scene] = [this.mockup.blank(), this.mockup.scene()];
    if (!blank || !scene) return [];
    const ticked = this.setColours().filter((one) => this.mockup.setOf().has(one.name));
    return ticked.length
      ? ticked
      : [
          colourwayOf(blank, scene.garment) ?? {
            name: scene.garment,
            hex: scene.garment,
          },
        ];
  });
  private readonly inks = inkOf(() => {
    const [scene, design, requirement] = [this.mockup.scene(), this.editor.desk.document(), this.mockup.requirement()];
    if (!scene || !design) return [];
    const target = design.targets.find((one) => one.requirementId === requirement?.id);
    const layout =
      requirement && target
        ? layoutTarget(design, target, requirement)
        : { canvas: fieldCanvas(design.field), toCanvas: IDENTITY };
    return [{ ...layout, design: designOnScene(design, requirement, scene.garment) }];
  });
  protected readonly legible = computed(() => {
    const [scene, design] = [this.mockup.scene(), this.editor.desk.document()];
    if (!scene || !design) return null;
    const seen = designOnScene(design, this.mockup.requirement(), scene.garment);
    const missing = seen.layers.find((layer) => {
      const id = !layer.hidden && kindOf(layer).assetOf(layer);
      return id && this.assets.isMissing(id);
    });
    // What is not there is not judged: the product would be shown bare beside a judgement of its print.
    if (missing)
      return {
        fine: false,
        sentence: `The picture of “${missing.name}” could not be had, so it is not shown. It is asked for again by itself.`,
      };
    const ink = this.inks().get(seen);
    // Nothing is said before it is seen, nor of a design that has no ink.
    if (!ink?.total) return null;
    const on = seenOn(ink, scene.garment);
    const contrast = on.contrast?.toFixed(1);
    const name =
      this.mockup.blank()?.colourways.find((one) => one.hex.toLowerCase() === scene.garment.toLowerCase())?.name ??
      scene.garment;
    switch (seenAs(on)) {
      case 'lost':
      case 'partly':
        return { fine: false, sentence: `${name}: ${Math.round(on.lost * 100)} % of the ink is lost on this colour.` };
      case 'faint':
        return { fine: false, sentence: `${name}: part of it is faint, contrast ${contrast} to 1.` };
      case 'well':
        return { fine: true, sentence: `${name}: reads well${contrast ? `, contrast ${contrast} to 1` : ''}.` };
    }
  });

  constructor() {
    // One that was just made of a photo is shown.
    const wanted = inject(ActivatedRoute).snapshot.queryParamMap.get('blank');
    let isShown = false;
    effect(() => {
      const blank = this.mockup.blanks().find((one) => one.id === wanted);
      if (!blank || isShown || !this.editor.desk.document()) return;
      isShown = true;
      untracked(() => this.mockup.show(blank));
    });
  }

  protected tick(colour: Colourway): void {
    this.mockup.setOf.update((before) => {
      const after = new Set(before);
      if (!after.delete(colour.name)) after.add(colour.name);
      return after;
    });
  }

  private tickAll(): void {
    const all = this.setColours();
    this.mockup.setOf.update((before) => new Set(before.size === all.length ? [] : all.map((one) => one.name)));
  }

  /** What is asked for beside size and kind. */
  private fit(): { fit?: PictureFit } {
    const [frame, limit, dpi] = [this.frame(), this.limitKb(), this.saysDpi() ? this.dpi() : null];
    const fit = {
      ...(frame ? { frame } : {}),
      ...(limit ? { maxBytes: limit * 1000 } : {}),
      ...(dpi ? { dpi } : {}),
    };
    return Object.keys(fit).length ? { fit } : {};
  }

  /** True where the picture is to be printed: its size is its own, and its file can say how fine it is. */
  protected readonly saysDpi = computed(() => this.frame() !== null && this.format() !== 'webp');
  /** What is to be said of a frame that is larger than anything that is drawn. */
  protected readonly enlarged = computed(() => {
    const frame = this.frame();
    return frame && Math.max(frame.width, frame.height) > LARGEST_DRAWN
      ? `Drawn at ${LARGEST_DRAWN} px and enlarged to this frame.`
      : '';
  });

  /** Where the scene that is seen is had as a file of its own. */
  protected sceneFile(as: 'ora' | 'pdf'): string {
    return `/api/designs/${this.editor.desk.id()}/file?as=mockup-${as}`;
  }

  protected setSize(value: string): void {
    if (value === 'own') this.frame.set({ width: 1200, height: 900 });
    else {
      this.frame.set(null);
      this.size.set(Number(value));
    }
  }

  protected setFrame(side: 'width' | 'height', px: number): void {
    this.frame.update((frame) => frame && { ...frame, [side]: px });
  }

  protected setFormat(value: string): void {
    this.format.set(PICTURE_FORMATS.find((one) => one === value) ?? 'jpeg');
  }

  /** A picture of the scene that is seen in each colour that is ticked. */
  protected make(): void {
    const [scene, blank] = [this.mockup.scene(), this.mockup.blank()];
    if (!scene || !blank) return;
    const { garment: _garment, keptAs: _kept, also, ...look } = scene;
    this.ask((id, revision) =>
      this.api.ask('post /api/designs/{id}/pictures', {
        id,
        body: {
          ...look,
          ...(also ? { also: [...also] } : {}),
          revision,
          requirementId: this.mockup.requirementOn(blank, scene.requirementId)?.id ?? null,
          colourways: this.toMake(),
          ...(this.filename().trim() ? { filename: this.filename() } : {}),
          ...this.output(),
        },
      }),
    );
  }

  /** One picture of each kept scene, in its own colour, in one run. */
  protected makeScenes(): void {
    this.run('scenes', this.output());
  }

  /** Makes all pictures that are out of date again, in one run. */
  private run(of: PictureRun['of'], output: Pick<PictureRun, 'size' | 'format' | 'fit'>): void {
    this.ask((designId, revision) =>
      this.api.ask('post /api/picture-runs', { body: { of, designs: [{ designId, revision }], ...output } }),
    );
  }

  /** What is asked for beside the scene. */
  private output() {
    return { size: this.size(), format: this.format(), ...this.fit() };
  }

  /** Asks for something of the very revision that is seen. */
  private ask(call: (designId: string, revision: number) => Observable<unknown>): void {
    const [id, design] = [this.editor.desk.id(), this.editor.desk.document()];
    if (!id || !design) return;
    this.asking.set(true);
    this.editor.desk
      .whenSaved()
      .pipe(
        switchMap((revision) => call(id, revision)),
        finalize(() => this.asking.set(false)),
      )
      .subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }

  /** Opens the picture sets for this design, with one that is begun from its scenes. */
  protected chooseSet(scenes: readonly KeptScene[] = []): void {
    const [designId, design] = [this.editor.desk.id(), this.editor.desk.document()];
    if (!designId || !design) return;
    const begin: PictureSetFields | undefined = scenes.length
      ? { name: `${design.name}, scenes`.slice(0, 120), about: '', shots: scenes.map(shotOf), ...this.output() }
      : undefined;
    this.editor.desk
      .whenSaved()
      .pipe(
        switchMap((revision) =>
          this.dialog
            .open<PictureSetDialog, PictureSetDialogData, boolean>(PictureSetDialog, {
              width: '860px',
              maxWidth: '95vw',
              data: {
                designs: [{ designId, name: design.name, revision }],
                setId: this.set()?.id ?? null,
                ...(begin ? { begin } : {}),
              },
            })
            .afterClosed(),
        ),
      )
      .subscribe({ next: () => this.kept.again(), error: (error: unknown) => this.notices.complain(error) });
  }
}
