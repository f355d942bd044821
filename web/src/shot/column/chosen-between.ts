/** What is chosen when a second line is pressed with Shift: everything from the first to it, the second first. */
export function chosenBetween(ids: readonly string[], from: string, to: string): readonly string[] {
  const [a, b] = [ids.indexOf(from), ids.indexOf(to)]
  if (a < 0 || b < 0) return [to]
  const between = ids.slice(Math.min(a, b), Math.max(a, b) + 1)
  return [to, ...between.filter((id) => id !== to)]
}
