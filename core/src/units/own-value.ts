/**
 * What a record itself holds under a key that came from outside: never what every object inherits, such as
 * `constructor`.
 */
export const ownValue = <T>(record: Readonly<Record<string, T>> | undefined, key: string): T | undefined =>
  record !== undefined && Object.hasOwn(record, key) ? record[key] : undefined;
