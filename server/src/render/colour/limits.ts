/** Most bytes of a profile: those of presses have one or two million. */
export const MOST_PROFILE_BYTES = 16 * 1024 * 1024;
