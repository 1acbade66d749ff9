import type { Graphic } from '@kettle/core/drawing';
import type { RenderPool } from '../render/render-pool.js';

/** The graphics library, read when it is first asked for. */
export class GraphicsService {
  private kept: Promise<readonly Graphic[]> | null = null;

  constructor(private readonly pool: RenderPool) {}

  all(): Promise<readonly Graphic[]> {
    this.kept ??= this.pool.run('graphics', null).catch((error: unknown) => {
      this.kept = null;
      throw error;
    });
    return this.kept;
  }
}
