import { Injectable, OnDestroy, computed, effect, inject, signal, untracked } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import {
  artOnArea,
  clipColours,
  onPicture,
  type Blank,
  type Box,
  type Clip,
  type ClipScene,
  type Scene,
  type ShownScene,
} from '@kettle/core';
import { firstValueFrom, skip, timeout } from 'rxjs';
import { Bench } from '../bench/bench';
import { AssetShelf } from '../data/asset-shelf';
import { BlankShelf } from '../data/blank-shelf';
import { MockupBench } from '../mockups/mockup-bench';
import { PREVIEW_SIZE, ScenePainter } from '../mockups/scene-painter';
import { SceneTexture } from '../mockups/scene-texture';
import { closeLevels, levelsOf, type Levels } from './levels';
import type { ReadyScene } from './paint-clip';

/** Where the print is when it is not known yet. */
const MIDDLE: Box = { x: 0.3, y: 0.3, width: 0.4, height: 0.4 };
/** Pictures that are kept though nobody looks at them just now; each takes about 8 MB. */
const MOST_SPARE = 16;
/** How long a picture’s art is waited for when a file is made, ms. */
const MOST_WAIT = 20_000;

interface Shown {
  readonly scene: ShownScene;
  readonly garment: string;
}

/** Pictures that a clip is made of, drawn one after the other, and again when the design has changed. */
@Injectable()
export class ClipPictures implements OnDestroy {
  private readonly bench = inject(Bench);
  private readonly mockup = inject(MockupBench);
  private readonly painter = inject(ScenePainter);
  private readonly shelf = inject(BlankShelf);
  private readonly assets = inject(AssetShelf);
  private readonly texture = new SceneTexture(this.assets);
  private readonly ready$ = toObservable(this.assets.imagesReady);
  private readonly drawn = signal<ReadonlyMap<string, Levels>>(new Map());
  private readonly focuses = signal<ReadonlyMap<string, Box>>(new Map());
  /** What is wanted on the stage, the most wanted first. */
  private readonly wanted = signal<readonly Shown[]>([]);
  /** Edition of the art that each was drawn with. */
  private readonly editions = new Map<string, number>();
  /** Grows when what is printed changes; changing a clip is none of that. */
  private edition = 0;
  private busy = false;
  private ended = false;
  private readonly art = computed(
    () => {
      const { layers, targets, keyline, keylines, field } = this.bench.desk.document() ?? {};
      return { layers, targets, keyline, keylines, field };
    },
    { equal: (a, b) => (Object.keys(a) as (keyof typeof a)[]).every((key) => a[key] === b[key]) },
  );

  constructor() {
    effect(() => {
      this.art();
      this.assets.imagesReady();
      this.edition++;
      untracked(() => void this.work());
    });
    effect(() => {
      this.wanted();
      this.mockup.blanks();
      untracked(() => void this.work());
    });
  }

  ngOnDestroy(): void {
    this.ended = true;
    for (const levels of this.drawn().values()) closeLevels(levels);
  }

  /** Says which scenes are looked at. */
  want(scenes: readonly ClipScene[]): void {
    this.wanted.set(scenes.flatMap((one) => clipColours(one).map((garment) => ({ scene: one.scene, garment }))));
  }

  /** The scenes of a clip as far as they are drawn. */
  ready(clip: Clip): readonly ReadyScene[] {
    return clip.scenes.map((one) => ({
      pictures: clipColours(one).map((garment) => this.drawn().get(keyOf({ scene: one.scene, garment })) ?? null),
      focus: this.focuses().get(placeKey(one.scene)) ?? MIDDLE,
    }));
  }

  /** A scene in its own colour, or null while that is on its way. */
  of({ scene }: ClipScene): ImageBitmap | null {
    return (
      this.drawn()
        .get(keyOf({ scene, garment: scene.garment }))
        ?.at(-1) ?? null
    );
  }

  /** The scenes of a clip at a size for its file, larger by a factor where they move. Close the pictures, or hand them on. @throws Error with a sentence */
  async make(clip: Clip, size: number, spare: number): Promise<ReadyScene[]> {
    const scenes: ReadyScene[] = [];
    for (const one of clip.scenes) {
      const pictures: Levels[] = [];
      for (const garment of clipColours(one)) {
        const wanted = one.movement === 'reveal' ? Infinity : isMoving(one) ? Math.round(size * spare) : size;
        const picture = await this.whole({ scene: one.scene, garment }, wanted);
        pictures.push(isMoving(one) ? await levelsOf(picture) : [picture]);
      }
      scenes.push({ pictures, focus: await this.focus(one.scene) });
    }
    return scenes;
  }

  private async work(): Promise<void> {
    if (this.busy || this.ended) return;
    this.busy = true;
    try {
      for (;;) {
        const next = this.wanted().find((one) => this.editions.get(keyOf(one)) !== this.edition);
        if (!next || this.ended || !this.blankOf(next.scene)) return;
        this.editions.set(keyOf(next), this.edition);
        // One that cannot be drawn shows its backdrop until the art changes.
        await this.show(next).catch(() => undefined);
      }
    } finally {
      this.busy = false;
    }
  }

  private async show(one: Shown): Promise<void> {
    const levels = await levelsOf((await this.draw(one, PREVIEW_SIZE)).picture);
    const focus = await this.focus(one.scene).catch(() => MIDDLE);
    if (this.ended) {
      closeLevels(levels);
      return;
    }
    this.focuses.update((all) => new Map(all).set(placeKey(one.scene), focus));
    const before = this.drawn().get(keyOf(one));
    this.drawn.update((all) => new Map(all).set(keyOf(one), levels));
    // The stage may be painting with it just now.
    if (before) setTimeout(() => closeLevels(before), 1000);
    this.forgetSpare();
  }

  /** What is looked at stays, and a few that were; more would fill the memory. */
  private forgetSpare(): void {
    const wanted = new Set(this.wanted().map(keyOf));
    const spare = [...this.drawn()].filter(([key]) => !wanted.has(key));
    const gone = spare.slice(0, Math.max(0, spare.length - MOST_SPARE));
    if (!gone.length) return;
    this.drawn.update((all) => new Map([...all].filter(([key]) => !gone.some(([other]) => other === key))));
    for (const [key, levels] of gone) {
      this.editions.delete(key);
      setTimeout(() => closeLevels(levels), 1000);
    }
  }

  /** A picture with all of its art. */
  private async whole(one: Shown, size: number): Promise<ImageBitmap> {
    const until = Date.now() + MOST_WAIT;
    for (;;) {
      const { picture, isComing } = await this.draw(one, size);
      if (!isComing) return picture;
      picture.close();
      if (Date.now() > until)
        throw new Error('A picture of this design did not come in time, so the clip was not made. Try again.');
      await firstValueFrom(this.ready$.pipe(skip(1), timeout({ first: 3000 }))).catch(() => undefined);
    }
  }

  private blankOf({ blankId }: ShownScene): Blank | undefined {
    return this.mockup.blanks().find((one) => one.id === blankId);
  }

  private async draw({ scene, garment }: Shown, most: number): Promise<{ picture: ImageBitmap; isComing: boolean }> {
    const [design, blank] = [this.bench.desk.document(), this.blankOf(scene)];
    if (!design || !blank) throw new Error('A product of this clip is gone. Choose another for its scene.');
    const shown: Scene = { ...scene, garment };
    const prints = this.mockup.placed(design, blank, shown);
    const size = Math.min(most, blank.width);
    const seen = { blank, areaIds: prints.map(({ area }) => area.id), crop: null, size };
    const { maps } = await firstValueFrom(this.painter.load(seen));
    const textures = prints.map((print, i) => this.texture.draw({ ...print, design, garment, seen: maps[i] }));
    const look = this.mockup.drawnScene(blank, shown, prints[0]?.requirement ?? null);
    const picture = await firstValueFrom(this.painter.picture(seen, look, textures));
    return { picture, isComing: textures.some((one) => one.isComing) };
  }

  private async focus(scene: ShownScene): Promise<Box> {
    const [design, blank] = [this.bench.desk.document(), this.blankOf(scene)];
    if (!design || !blank) return MIDDLE;
    const [{ area, requirement, placement }] = this.mockup.placed(design, blank, scene);
    const grid = await firstValueFrom(this.shelf.grid(blank.id, area.id));
    const on = onPicture(grid, area, artOnArea(design, placement, requirement, scene.garment));
    return on.print ?? on.area;
  }
}

/** Scenes that stand still need their picture at one size only. */
const isMoving = ({ movement }: ClipScene): boolean => movement !== 'still' && movement !== 'colours';
const placeKey = ({ blankId, areaId, requirementId }: ShownScene): string => `${blankId} ${areaId} ${requirementId}`;
const keyOf = ({ scene, garment }: Shown): string => JSON.stringify([{ ...scene, garment }]);
