import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatSelectModule } from '@angular/material/select';
import { MatSliderModule } from '@angular/material/slider';
import type { Picture } from '@kettle/contract';
import {
  colourwayOf,
  designOnScene,
  factsOfLayer,
  formatBytes,
  isInRoom,
  legibility,
  LEAST_PICTURE,
  MOST_PICTURE,
  PICTURE_ADVICE,
  PICTURE_FORMATS,
  PICTURE_SIZES,
  printAreasOf,
  type Colourway,
  type DesignDocument,
  type PictureFit,
  type PictureFormat,
  type Scene,
} from '@kettle/core';
import { Subject, concatMap, from, merge, startWith, switchMap, filter, EMPTY, catchError } from 'rxjs';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Bench } from '../bench/bench';
import { TargetPicture, fieldCanvas } from '../bench/target-picture';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { JobFeed } from '../jobs/job-feed';
import { BlankList } from './blank-list';
import { MockupBench } from './mockup-bench';
import { SceneFrame } from './scene-frame';
import { SceneList } from './scene-list';
import { SceneView } from './scene-view';
import { ScenePainter } from './scene-painter';
import { SmallScenes } from './small-scenes';

/** The design on products: blanks, colours, light, and the pictures made of them. */
@Component({
  selector: 'ks-mockups-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    MatButtonModule,
    MatIconModule,
    MatSelectModule,
    MatSliderModule,
    SceneView,
    SceneFrame,
    SceneList,
    TargetPicture,
    BlankList,
  ],
  providers: [MockupBench, ScenePainter, SmallScenes],
  templateUrl: './mockups-station.html',
  styleUrl: './mockups-station.scss',
})
export class MockupsStation {
  protected readonly bench = inject(Bench);
  protected readonly mockup = inject(MockupBench);
  protected readonly feed = inject(JobFeed);
  private readonly api = inject(Api);
  private readonly assets = inject(AssetShelf);
  private readonly notices = inject(Notices);
  private readonly refresh = new Subject<void>();

  protected readonly size = signal<number>(2000);
  protected readonly format = signal<PictureFormat>('jpeg');
  /** Exact frame of the pictures, px, and their byte limit, kB; none when empty. */
  protected readonly frame = signal<{ width: number; height: number } | null>(null);
  protected readonly limitKb = signal<number | null>(null);
  protected readonly formats = PICTURE_FORMATS;
  protected readonly advice = PICTURE_ADVICE;
  protected readonly pictures = signal<readonly Picture[]>([]);
  protected readonly sizes = PICTURE_SIZES;
  protected readonly formatBytes = formatBytes;
  protected readonly field = computed(() => fieldCanvas(this.bench.desk.document()?.field ?? { width: 1, height: 1 }));
  /** The design in the version for a garment. */
  protected designOn(garment: string): DesignDocument {
    return designOnScene(this.bench.desk.document()!, this.mockup.requirement(), garment);
  }

  protected readonly identity = [1, 0, 0, 1, 0, 0] as const;

  /** Areas that are printed one by one. */
  protected readonly areas = computed(() => {
    const blank = this.mockup.blank();
    return blank ? printAreasOf(blank) : [];
  });
  /** The picture brings its room along: there is no wall to colour. */
  protected readonly inRoom = computed(() => {
    const blank = this.mockup.blank();
    return blank !== null && isInRoom(blank);
  });
  protected readonly jobs = computed(() => this.feed.runningFor(this.bench.desk.id(), 'pictures'));

  /** Colourways that a press of the button makes: the ticked set, or the one that is seen. */
  protected readonly toMake = computed<Colourway[]>(() => {
    const [blank, scene] = [this.mockup.blank(), this.mockup.scene()];
    if (!blank || !scene) return [];
    const ticked = blank.colourways.filter((one) => this.mockup.setOf().has(one.name));
    return ticked.length
      ? ticked
      : [
          colourwayOf(blank, scene.garment) ?? {
            name: scene.garment,
            hex: scene.garment,
          },
        ];
  });
  protected readonly legible = computed(() => {
    const [scene, design] = [this.mockup.scene(), this.bench.desk.document()];
    const inks =
      design?.layers
        .filter((layer) => !layer.hidden)
        .flatMap((layer) => factsOfLayer(layer, this.assets.facts())?.inks ?? []) ?? [];
    if (!scene || !inks.length) return null;
    const total = inks.reduce((sum, ink) => sum + ink.share, 0);
    const { lost, bestContrast } = legibility(
      inks.map((ink) => ({ hex: ink.hex, share: ink.share / total })),
      scene.garment,
    );
    const name =
      this.mockup.blank()?.colourways.find((one) => one.hex.toLowerCase() === scene.garment.toLowerCase())?.name ??
      scene.garment;
    return lost >= 0.12
      ? { fine: false, sentence: `${name}: ${Math.round(lost * 100)} % of the ink is lost on this colour.` }
      : { fine: true, sentence: `${name}: reads well, contrast ${bestContrast.toFixed(1)} to 1.` };
  });

  constructor() {
    merge(this.refresh, this.feed.changes.pipe(filter((job) => job.kind === 'pictures')))
      .pipe(
        startWith(null),
        switchMap(() => {
          const id = untracked(this.bench.desk.id);
          return id ? this.api.pictures(id).pipe(catchError(() => EMPTY)) : EMPTY;
        }),
        takeUntilDestroyed(),
      )
      .subscribe((pictures) => this.pictures.set(pictures));
    // After a save a picture may be out of date.
    effect(() => {
      this.bench.desk.id();
      this.bench.desk.revision();
      this.refresh.next();
    });
  }

  protected tick(colour: Colourway): void {
    this.mockup.setOf.update((before) => {
      const after = new Set(before);
      if (!after.delete(colour.name)) after.add(colour.name);
      return after;
    });
  }

  protected tickAll(): void {
    const all = this.mockup.blank()?.colourways ?? [];
    this.mockup.setOf.update((before) => new Set(before.size === all.length ? [] : all.map((one) => one.name)));
  }

  protected showsThrough({ inkOpacity }: Scene): string {
    const share = Math.round((1 - inkOpacity) * 100);
    return share === 0 ? 'none' : `${share} %`;
  }

  /** What is asked for beside size and kind. */
  private fit(): { fit?: PictureFit } {
    const [frame, limit] = [this.frame(), this.limitKb()];
    const fit = { ...(frame ? { frame } : {}), ...(limit ? { maxBytes: limit * 1000 } : {}) };
    return Object.keys(fit).length ? { fit } : {};
  }

  protected setSize(value: string): void {
    if (value === 'own') this.frame.set({ width: 1200, height: 900 });
    else {
      this.frame.set(null);
      this.size.set(Number(value));
    }
  }

  protected setFrame(side: 'width' | 'height', value: string): void {
    const px = Math.round(Math.min(MOST_PICTURE, Math.max(LEAST_PICTURE, Number(value) || 0)));
    this.frame.update((frame) => frame && { ...frame, [side]: px });
  }

  protected setLimit(value: string): void {
    const kb = Math.round(Number(value));
    this.limitKb.set(kb > 0 ? Math.max(5, kb) : null);
  }

  protected setFormat(value: string): void {
    this.format.set(PICTURE_FORMATS.find((one) => one === value) ?? 'jpeg');
  }

  protected make(): void {
    const scene = this.mockup.scene();
    if (scene) this.order([{ scene, colourways: this.toMake() }]);
  }

  /** One picture of each kept scene, in its own colour. */
  protected makeScenes(scenes: readonly Scene[]): void {
    this.order(
      scenes.map((scene) => {
        const blank = this.mockup.blanks().find((one) => one.id === scene.blankId);
        const own = blank && colourwayOf(blank, scene.garment);
        return { scene, colourways: [own ?? { name: scene.garment, hex: scene.garment }] };
      }),
    );
  }

  /** Runs are asked for one after the other, all of the revision that is seen. */
  private order(wanted: readonly { readonly scene: Scene; readonly colourways: readonly Colourway[] }[]): void {
    const [id, design] = [this.bench.desk.id(), this.bench.desk.document()];
    if (!id || !design) return;
    this.bench.desk
      .whenSaved()
      .pipe(
        switchMap((revision) =>
          from(wanted).pipe(
            concatMap(({ scene, colourways }) => {
              const blank = this.mockup.blanks().find((one) => one.id === scene.blankId);
              if (!blank) return EMPTY;
              return this.api.makePictures(id, {
                revision,
                blankId: scene.blankId,
                areaId: scene.areaId,
                requirementId: this.mockup.requirementOn(blank, scene.requirementId)?.id ?? null,
                colourways: [...colourways],
                size: this.size(),
                format: this.format(),
                ...this.fit(),
                backdrop: scene.backdrop,
                inkOpacity: scene.inkOpacity,
                shadow: scene.shadow,
                ...(scene.trueSize ? { trueSize: true } : {}),
                ...(scene.crop ? { crop: scene.crop } : {}),
                ...(scene.also ? { also: [...scene.also] } : {}),
                ...(scene.own ? { own: scene.own } : {}),
              });
            }),
          ),
        ),
      )
      .subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }
}
