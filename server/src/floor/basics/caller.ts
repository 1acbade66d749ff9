/** Who asks. Every handler gets it, and every thing of the seller's belongs to its owner. */
export interface Caller {
  /** Id of the seller whose things are asked for. */
  readonly owner: string;
}

/** The one seller there is today. */
export const SELLER: Caller = { owner: 'one' };
