import type { AreaMaps, MovingBlank } from '@kettle/core/mockup';
import type { NeededPicture } from '@kettle/core/clip';
import type { DrawnPrint, ShownLook } from '../mockups/scene-messages';

/** A moving blank at a size, with the print areas that are printed on. */
export interface SeenMoving {
  readonly blank: MovingBlank;
  readonly areaIds: readonly string[];
  readonly size: number;
}

/** Name of what is seen of a moving blank, whatever is printed on it. */
export const nameOfSeen = ({ blank, size, areaIds }: SeenMoving): string => [blank.id, size, ...areaIds].join(' ');

/** One guise of a scene, ready to be printed. */
export interface PressedGuise {
  readonly look: ShownLook;
  readonly prints: readonly DrawnPrint[];
}

/** To the worker. */
export type MovingRequest =
  /** Comes first: the port at whose other end frames are read. */
  | { readonly kind: 'frames'; readonly port: MessagePort }
  | { readonly kind: 'load'; readonly id: number; readonly seen: SeenMoving }
  | {
      readonly kind: 'draw';
      readonly id: number;
      readonly seen: SeenMoving;
      readonly guises: readonly PressedGuise[];
      readonly needed: readonly NeededPicture[];
    }
  | { readonly kind: 'stop'; readonly id: number };

/** From it. */
export type MovingReply =
  | { readonly kind: 'loaded'; readonly id: number; readonly areas: readonly Pick<AreaMaps, 'pixelsPerMm' | 'part'>[] }
  | { readonly kind: 'drawn'; readonly id: number; readonly needed: NeededPicture; readonly picture: ImageBitmap }
  | { readonly kind: 'done'; readonly id: number }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string };
