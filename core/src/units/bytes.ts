/** File size in decimal units, e.g. `3.4 MB`. */
export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} KB`;
  const mega = bytes / 1_000_000;
  return `${mega < 10 ? mega.toFixed(1) : Math.round(mega)} MB`;
}
