import { Injectable, OnDestroy, computed, effect, inject, signal } from '@angular/core';
import type { Scene } from '@kettle/core/model';
import { Subject, debounceTime, firstValueFrom } from 'rxjs';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Editor } from '../editor/editor';
import { AssetShelf } from '../data/asset-shelf';
import { RequirementShelf } from '../data/requirement-shelf';
import { MockupEditor } from './mockup-editor';
import { ScenePainter, SMALL_SIZE } from './scene-painter';
import { SceneTexture } from './scene-texture';

/** How long the design lies still before small pictures are drawn again, ms. */
const STILL_MS = 400;

interface SmallScene {
  readonly key: string;
  readonly scene: () => Scene | null;
}

/**
 * Small true pictures of the design on each blank and in each kept scene that is seen in a list, drawn one after the
 * other behind the one that is looked at, and again when the design has changed. Provided by the mockups station.
 */
@Injectable()
export class SmallScenes implements OnDestroy {
  private readonly editor = inject(Editor);
  private readonly mockup = inject(MockupEditor);
  private readonly painter = inject(ScenePainter);
  private readonly assets = inject(AssetShelf);
  private readonly requirements = inject(RequirementShelf);
  private readonly texture = new SceneTexture(this.assets);
  private readonly pictures = signal<ReadonlyMap<string, string>>(new Map());
  private readonly begun = signal(false);
  private readonly seen = new Map<string, SmallScene>();
  /** Edition of the design that each scene was drawn with. */
  private readonly drawn = new Map<string, number>();
  private readonly due = new Subject<void>();
  private edition = 0;
  private busy = false;
  private ended = false;
  private readonly sold = computed(() => this.editor.current()?.garment);

  constructor() {
    effect(() => {
      this.editor.desk.document();
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

  /**
   * What stands for a scene: the design on its blank, or the bare product until that is drawn.
   * @param key of the scene; a blank's own id for the way it would be shown
   */
  picture(blankId: string, key = blankId): string {
    return this.pictures().get(key) ?? `/api/blanks/${blankId}/thumbnail`;
  }

  isDrawn(key: string): boolean {
    return this.pictures().has(key);
  }

  /** @param scene how it is shown by now, asked for whenever it is drawn; null when it is gone */
  see(key: string, scene: () => Scene | null, isSeen: boolean): void {
    if (!isSeen) this.seen.delete(key);
    else {
      this.seen.set(key, { key, scene });
      if (this.begun()) this.due.next();
    }
  }

  private async work(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    const { edition } = this;
    try {
      // While a hand moves the design it waits: what comes after the last move begins anew.
      while (this.edition === edition) {
        const next = [...this.seen.values()].find(({ key }) => this.drawn.get(key) !== edition);
        if (!next || this.ended) return;
        // One that cannot be drawn keeps its bare picture and is not tried again for this edition.
        this.drawn.set(next.key, edition);
        await this.draw(next).catch(() => undefined);
      }
    } finally {
      this.busy = false;
      // The design changed while one was drawn, and whoever asked then found this busy.
      if (this.edition !== edition) this.due.next();
    }
  }

  private async draw({ key, scene: shown }: SmallScene): Promise<void> {
    const [design, scene] = [this.editor.desk.document(), shown()];
    const blank = this.mockup.blanks().find((one) => one.id === scene?.blankId);
    if (!design || !scene || !blank) return;
    const prints = this.mockup.placed(design, blank, scene);
    const seen = {
      blank,
      areaIds: prints.map(({ area }) => area.id),
      crop: await this.mockup.cropOf(design, blank, scene),
      size: SMALL_SIZE,
    };
    const areas = await firstValueFrom(this.painter.loadSmall(seen));
    const drawn = prints.map((print, i) =>
      this.texture.draw({ ...print, design, garment: scene.garment, seen: areas[i] }),
    );
    const look = this.mockup.drawnScene(blank, scene, prints[0]?.requirement ?? null);
    const picture = await firstValueFrom(this.painter.drawSmall(seen, look, drawn));
    if (this.ended) return;
    const url = URL.createObjectURL(picture);
    const before = this.pictures().get(key);
    this.pictures.update((all) => new Map(all).set(key, url));
    // The picture on the screen goes on showing what it has decoded.
    if (before) URL.revokeObjectURL(before);
  }
}
