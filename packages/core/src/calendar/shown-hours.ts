/**
 * The whole hours of a day that a week must show: the office's, 7 to 20, and those of any entry before or after them. Each
 * span runs from and to `YYYY-MM-DDTHH:MM…` of one clock; one that ends on a later day runs to the end of its own.
 */
export function hoursToShow(spans: readonly { from: string; to: string }[]): { first: number; last: number } {
  const hour = (at: string) => Number(at.slice(11, 13))
  const end = ({ from, to }: { from: string; to: string }) =>
    to.slice(0, 10) > from.slice(0, 10) ? 24 : hour(to) + (to.slice(14, 16) > '00' ? 1 : 0)
  return { first: Math.min(7, ...spans.map((s) => hour(s.from))), last: Math.min(24, Math.max(20, ...spans.map(end))) }
}
