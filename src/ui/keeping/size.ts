/** A size on a disk, in words. */
export function sizeOf(bytes: number): string {
  const gigabytes = bytes / 1024 ** 3;
  return gigabytes >= 1 ? `${gigabytes.toFixed(1)} GB` : `${Math.ceil(bytes / 1024 ** 2)} MB`;
}
