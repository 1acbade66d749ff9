let last = 0;

/** An id that nothing else made in this browser has. @param begin a letter that says what it is for */
export const newId = (begin: string): string => `${begin}${Date.now().toString(36)}${(last++).toString(36)}`;
