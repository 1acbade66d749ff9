import { Injectable, OnDestroy, computed, effect, inject, signal } from '@angular/core';
import { areaOf, placeScene, requirementForBlank, type Blank } from '@kettle/core';
import { Subject, debounceTime, firstValueFrom } from 'rxjs';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Bench } from '../bench/bench';
import { AssetShelf } from '../data/asset-shelf';
import { RequirementShelf } from '../data/requirement-shelf';
import { MockupBench } from './mockup-bench';
import { ScenePainter } from './scene-painter';
import { SceneTexture } from './scene-texture';

/** How long the design lies still before small pictures are drawn again, ms. */
const STILL_MS = 400;

/**
 * Small true pictures of the design on each blank that is seen in the list, drawn one after the other behind the one
 * that is looked at, and again when the design has changed. Provided by the mockups station.
 */
@Injectable()
export class SmallScenes implements OnDestroy {
  private readonly bench = inject(Bench);
  private readonly mockup = inject(MockupBench);
  private readonly painter = inject(ScenePainter);
  private readonly assets = inject(AssetShelf);
  private readonly requirements = inject(RequirementShelf);
  private readonly texture = new SceneTexture(this.assets);
  private readonly pictures = signal<ReadonlyMap<string, string>>(new Map());
  private readonly begun = signal(false);
  private readonly seen = new Map<string, Blank>();
  /** Edition of the design that each blank was drawn with. */
  private readonly drawn = new Map<string, number>();
  private readonly due = new Subject<void>();
  private edition = 0;
  private busy = false;
  private ended = false;
  private readonly sold = computed(() => this.bench.current()?.garment);

  constructor() {
    effect(() => {
      this.bench.desk.document();
      this.assets.imagesReady();
      this.requirements.all();
      this.sold();
      if (!this.begun()) return;
      this.edition++;
      this.due.next();
    });
    this.due.pipe(debounceTime(STILL_MS), takeUntilDestroyed()).subscribe(() => void this.work());
  }

  ngOnDestroy(): void {
    this.ended = true;
    for (const url of this.pictures().values()) URL.revokeObjectURL(url);
  }

  /** The first large picture is there: small ones may follow. */
  begin(): void {
    this.begun.set(true);
  }

  /** What stands for a blank: the design on it, or the bare product until that is drawn. */
  picture(blankId: string): string {
    return this.pictures().get(blankId) ?? `/api/blanks/${blankId}/thumbnail`;
  }

  isDrawn(blankId: string): boolean {
    return this.pictures().has(blankId);
  }

  see(blank: Blank, isSeen: boolean): void {
    if (!isSeen) this.seen.delete(blank.id);
    else {
      this.seen.set(blank.id, blank);
      if (this.begun()) this.due.next();
    }
  }

  private async work(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    try {
      for (;;) {
        const next = [...this.seen.values()].find((blank) => this.drawn.get(blank.id) !== this.edition);
        if (!next || this.ended) return;
        // One that cannot be drawn keeps its bare picture and is not tried again for this edition.
        this.drawn.set(next.id, this.edition);
        await this.draw(next).catch(() => undefined);
      }
    } finally {
      this.busy = false;
    }
  }

  private async draw(blank: Blank): Promise<void> {
    const design = this.bench.desk.document();
    if (!design) return;
    const scene = this.mockup.sceneOn(blank);
    const requirement = requirementForBlank(design, blank, this.requirements.all(), scene.requirementId);
    const area = areaOf(blank, scene.areaId);
    const placement = placeScene(design, blank, area, requirement, {
      garment: scene.garment,
      trueSize: scene.trueSize,
    });
    const pixelsPerMm = await firstValueFrom(this.painter.loadSmall(blank, area.id));
    const { grid, texture } = this.texture.draw({
      design,
      requirement,
      garment: scene.garment,
      area,
      placement,
      pixelsPerMm,
    });
    const picture = await firstValueFrom(this.painter.drawSmall(blank, area.id, scene, grid, texture));
    if (this.ended) return;
    const url = URL.createObjectURL(picture);
    const before = this.pictures().get(blank.id);
    this.pictures.update((all) => new Map(all).set(blank.id, url));
    // The picture on the screen goes on showing what it has decoded.
    if (before) URL.revokeObjectURL(before);
  }
}
