import type { ColourCut, Dissolve, Treatment } from '@kettle/core/model';
import type { SeenThrough } from '@kettle/core/treatments';

/** What the page asks of the worker that treats pictures. */
export type TreatRequest =
  | { readonly kind: 'load'; readonly id: number; readonly assetId: string }
  | {
      readonly kind: 'treat';
      readonly id: number;
      readonly assetId: string;
      readonly treatments: readonly Treatment[];
      /** True for a first answer on a smaller copy. */
      readonly quick: boolean;
    };

/** A picture that is ready to be worked on: its working copy as it came, and what it seems to stand on. */
export interface ReadyPicture {
  readonly width: number;
  readonly height: number;
  /** Size of the picture itself, px. */
  readonly wholeWidth: number;
  readonly wholeHeight: number;
  /** Straight RGBA of the working copy. */
  readonly pixels: ArrayBuffer;
  readonly guess: ColourCut | Dissolve | null;
  /** Colours that much of the picture has, most used first. */
  readonly colours: readonly string[];
}

export type TreatReply =
  | ({ readonly kind: 'loaded'; readonly id: number } & ReadyPicture)
  | {
      readonly kind: 'treated';
      readonly id: number;
      readonly width: number;
      readonly height: number;
      readonly pixels: ArrayBuffer;
      /** What a cut made translucent inside, where that was looked for: in fine answers after a colour was taken out. */
      readonly through: SeenThrough | null;
      readonly milliseconds: number;
    }
  | { readonly kind: 'failed'; readonly id: number; readonly message: string };
