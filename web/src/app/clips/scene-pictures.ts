import { Injectable, OnDestroy, computed, inject } from '@angular/core';
import type { Box } from '@kettle/core/geometry';
import type { ClipScene } from '@kettle/core/model';
import { needsLevels, pictureSizeFor, type Guise } from '@kettle/core/clip';
import { EMPTY, Observable, catchError, concatMap, defer, from, ignoreElements } from 'rxjs';
import { MockupEditor } from '../mockups/mockup-editor';
import type { Levels } from './bitmaps';
import { ClipScenes, keyOf } from './clip-scenes';
import { closeLevels, levelsOf } from './levels';

/** Memory that is taken by pictures nobody needs just now, bytes: a dozen for a clip of 1080 px. */
const MOST_BYTES = 120e6;

/** Size of a clip, px. */
export interface ClipPixels {
  readonly width: number;
  readonly height: number;
}

/** A picture, and who needs it. */
interface Kept {
  readonly levels: Promise<Levels>;
  /** 0 while it is drawn. */
  bytes: number;
  users: number;
  isDropped: boolean;
}

/**
 * Pictures of still scenes as large as files need them. What was drawn for one file is there for the next, and a seller who
 * only looks has those of the next file drawn ahead.
 */
@Injectable()
export class ScenePictures implements OnDestroy {
  private readonly scenes = inject(ClipScenes);
  private readonly mockup = inject(MockupEditor);
  /** Another one whenever what is printed changes, or what it is printed on. */
  readonly edition = computed(() => {
    this.scenes.art();
    this.scenes.arrived();
    this.scenes.otherArt();
    this.mockup.blanks();
    return {};
  });
  /** Edition of what is kept. */
  private drawnFor: object | null = null;
  /** By what they show, the one used last at the end. */
  private readonly kept = new Map<string, Kept>();
  private bytes = 0;

  ngOnDestroy(): void {
    for (const key of this.kept.keys()) this.drop(key);
  }

  /**
   * Gives all pictures of a scene to `hand`, once they are drawn; they are there until it returns.
   * @throws Error with a sentence when one cannot be drawn
   */
  async use<T>(
    one: ClipScene,
    size: ClipPixels,
    hand: (made: { readonly focus: Box; readonly guises: readonly Levels[] }) => T,
  ): Promise<T> {
    const used: Kept[] = [];
    try {
      const guises: Levels[] = [];
      for (const guise of this.scenes.guises(one)) {
        const kept = this.take(one, guise, size);
        kept.users++;
        used.push(kept);
        guises.push(await kept.levels);
      }
      return hand({ focus: await this.scenes.focus(one), guises });
    } finally {
      for (const kept of used) if (--kept.users === 0 && kept.isDropped) close(kept);
    }
  }

  /** Draws pictures before anybody needs them, one after the other, until as many are there as are kept. Ends when nobody subscribes. */
  ahead(scenes: readonly ClipScene[], size: ClipPixels): Observable<never> {
    return defer(() => {
      const wanted = new Set<Levels>();
      const hasRoom = (): boolean => [...wanted].reduce((sum, levels) => sum + bytesOf(levels), 0) < MOST_BYTES;
      return from(scenes.filter(({ scene }) => !this.scenes.movingBlank(scene))).pipe(
        concatMap((one) =>
          hasRoom() ? this.use(one, size, ({ guises }) => guises.forEach((levels) => wanted.add(levels))) : EMPTY,
        ),
        ignoreElements(),
        // eslint-disable-next-line no-restricted-syntax -- it is said when a file is made
        catchError(() => EMPTY),
      );
    });
  }

  private take(one: ClipScene, guise: Guise, size: ClipPixels): Kept {
    if (this.drawnFor !== this.edition()) {
      this.drawnFor = this.edition();
      for (const key of this.kept.keys()) this.drop(key);
    }
    const wanted = pictureSizeFor(one, Math.max(size.width, size.height));
    // One that does not change its size is needed at that alone.
    const least = needsLevels(one) ? size.width : null;
    const key = `${wanted} ${least} ${keyOf({ ...one, guise })}`;
    const kept = this.kept.get(key) ?? this.begin(key, one, guise, wanted, least);
    this.kept.delete(key);
    this.kept.set(key, kept);
    return kept;
  }

  private begin(key: string, one: ClipScene, guise: Guise, wanted: number, least: number | null): Kept {
    const kept: Kept = { levels: this.drawn(one, guise, wanted, least), bytes: 0, users: 0, isDropped: false };
    kept.levels.then(
      (levels) => {
        kept.bytes = bytesOf(levels);
        if (kept.isDropped) return;
        this.bytes += kept.bytes;
        for (const oldest of this.kept.keys()) {
          if (this.bytes <= MOST_BYTES) break;
          this.drop(oldest);
        }
      },
      // What could not be drawn is tried again when it is asked for again.
      () => {
        if (this.kept.get(key) === kept) this.kept.delete(key);
      },
    );
    return kept;
  }

  private async drawn(one: ClipScene, guise: Guise, wanted: number, least: number | null): Promise<Levels> {
    const { picture } = await this.scenes.whole(
      () => this.scenes.still(one, guise, wanted),
      (again) => again.picture.close(),
    );
    return least === null ? [picture] : levelsOf(picture, least);
  }

  private drop(key: string): void {
    const kept = this.kept.get(key)!;
    this.kept.delete(key);
    this.bytes -= kept.bytes;
    kept.isDropped = true;
    if (kept.users === 0) close(kept);
  }
}

/** Once it is drawn; what failed has nothing to close. */
const close = ({ levels }: Kept): void => void levels.then(closeLevels, () => undefined);
const bytesOf = (levels: Levels): number => levels.reduce((sum, { width, height }) => sum + width * height * 4, 0);
