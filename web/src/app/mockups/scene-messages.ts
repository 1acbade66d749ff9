import type { AreaMaps, Blank, SceneLook, TextureGrid } from '@kettle/core';

/** To the worker. Requests carry a number that comes back with the answer. */
export type SceneRequest =
  | {
      readonly kind: 'load';
      readonly id: number;
      readonly blank: Blank;
      readonly areaId: string;
      readonly size: number;
    }
  | {
      readonly kind: 'prepare';
      readonly id: number;
      readonly blanks: readonly { readonly blank: Blank; readonly areaId: string }[];
      readonly size: number;
    }
  | {
      readonly kind: 'draw';
      readonly id: number;
      readonly blankId: string;
      readonly areaId: string;
      readonly look: SceneLook;
      readonly grid: TextureGrid;
      readonly texture: ArrayBuffer;
    }
  | {
      readonly kind: 'load-small';
      readonly id: number;
      readonly blank: Blank;
      readonly areaId: string;
      readonly size: number;
    }
  | {
      readonly kind: 'draw-small';
      readonly id: number;
      readonly blankId: string;
      readonly areaId: string;
      readonly look: SceneLook;
      readonly grid: TextureGrid;
      readonly texture: ArrayBuffer;
    };

/** From the worker. */
export type SceneReply =
  | {
      readonly kind: 'loaded';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      readonly maps: AreaMaps;
    }
  | {
      readonly kind: 'drawn';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      /** Row at which `pixels` begin: after the first frame only the rows of the print area change. */
      readonly top: number;
      readonly pixels: ArrayBuffer;
      readonly milliseconds: number;
    }
  | { readonly kind: 'loaded-small'; readonly id: number; readonly pixelsPerMm: number }
  | { readonly kind: 'drawn-small'; readonly id: number; readonly picture: Blob }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string };
