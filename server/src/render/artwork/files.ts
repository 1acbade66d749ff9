/** Local paths of artwork files by content hash. */
export type Files = Readonly<Record<string, string>>;
