import type { Box } from '@kettle/core/geometry';
import type { Behind, Blank } from '@kettle/core/model';
import type { AreaMaps, SceneLook, TextureGrid } from '@kettle/core/mockup';

/** How a scene is lit and coloured, and what stands behind. */
export type ShownLook = SceneLook & { readonly behind?: Behind };

/** A blank, or a part of its picture, at a size, with the print areas that are printed on. */
export interface SeenBlank {
  readonly blank: Blank;
  readonly areaIds: readonly string[];
  /** In the blank's own pixels, all even; null for all of it. */
  readonly crop: Box | null;
  readonly size: number;
}

/** A design as it is drawn for a print area. */
export interface DrawnPrint {
  readonly areaId: string;
  readonly grid: TextureGrid;
  readonly texture: ArrayBuffer;
  /** True while one of its pictures is on its way: what is drawn is not the design yet. */
  readonly isComing: boolean;
}

/** To the worker. Requests carry a number that comes back with the answer. */
export type SceneRequest =
  | { readonly kind: 'load' | 'load-small'; readonly id: number; readonly seen: SeenBlank }
  | { readonly kind: 'prepare'; readonly id: number; readonly blanks: readonly SeenBlank[] }
  | {
      readonly kind: 'draw' | 'draw-small' | 'picture';
      readonly id: number;
      readonly seen: SeenBlank;
      readonly look: ShownLook;
      /** From the lowest to the topmost. */
      readonly prints: readonly DrawnPrint[];
    };

/** From the worker. */
export type SceneReply =
  | {
      readonly kind: 'loaded';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      /** Of each print area, in the order that was asked for. */
      readonly maps: readonly AreaMaps[];
    }
  | {
      readonly kind: 'drawn';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      /** Row at which `pixels` begin: after the first frame only the rows of the print areas change. */
      readonly top: number;
      readonly pixels: ArrayBuffer;
      readonly milliseconds: number;
    }
  | {
      readonly kind: 'loaded-small';
      readonly id: number;
      /** How each print area is seen. */
      readonly areas: readonly Pick<AreaMaps, 'pixelsPerMm' | 'part'>[];
    }
  | { readonly kind: 'picture'; readonly id: number; readonly picture: ImageBitmap }
  | { readonly kind: 'drawn-small'; readonly id: number; readonly picture: Blob }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string };
