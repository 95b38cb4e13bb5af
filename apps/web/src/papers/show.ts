/** Size of a file in words. */
export const sizeText = (n: number) => (n > 900_000 ? `${(n / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(n / 1000))} kB`)
/** Staff as options of a choice. */
export const options = (people: readonly { id: number; name: string }[] | null | undefined) =>
  (people ?? []).map((p) => ({ value: p.id as number | null, text: p.name }))
