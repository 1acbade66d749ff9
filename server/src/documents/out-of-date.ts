/**
 * Whether something that was made is out of date: when making it now would follow another recipe. Nobody sets a flag,
 * and nobody else decides it. `now` is the recipe it would follow by now, or several where it may stand for any of them;
 * null where it cannot be made any more.
 */
export const isOutOfDate = (
  made: { readonly recipe: string },
  ...now: readonly (string | null | undefined)[]
): boolean => !now.includes(made.recipe);

/**
 * The same for many at once, in SQL: joins the output that is not out of date to rows that have a design and the recipe
 * that was found for it.
 * @param as what the output is called, `rows` what those rows are called
 */
export const joinCurrent = (kind: 'print-file' | 'picture', as: string, rows: string): string =>
  `LEFT JOIN output ${as} ON ${as}.design_id = ${rows}.design_id AND ${as}.kind = '${kind}' AND ${as}.recipe = ${rows}.recipe`;
