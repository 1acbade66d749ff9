/** Why the program does not start, in a sentence for whoever starts it. */
export class StartError extends Error {}
