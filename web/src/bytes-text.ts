/** Sizes of files, in words. */

const units = ['bytes', 'kB', 'MB', 'GB', 'TB'] as const

export function bytesText(bytes: number): string {
  let [value, unit] = [bytes, 0]
  while (value >= 1000 && unit < units.length - 1) {
    value /= 1000
    unit++
  }
  return `${unit === 0 || value >= 100 ? value.toFixed(0) : value.toFixed(1)} ${units[unit]}`
}
