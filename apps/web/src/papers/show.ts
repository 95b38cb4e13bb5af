/** Size of a file in words. */
export const sizeText = (n: number) => (n > 900_000 ? `${(n / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(n / 1000))} kB`)
/** Staff as options of a choice. */
export const options = (people: readonly { id: number; name: string }[] | null | undefined) =>
  (people ?? []).map((p) => ({ value: p.id as number | null, text: p.name }))
/** Waits for work in the background: true when it is done, else why not. */
export async function waitFor(
  ask: () => Promise<{ state: string; progress: number; error: string | null }>,
  told?: (percent: number) => void,
): Promise<string | true> {
  for (let i = 0; i < 1200; i += 1) {
    const job = await ask()
    told?.(job.progress)
    if (job.state === 'done') return true
    if (job.state === 'failed') return job.error ?? 'This could not be done.'
    await new Promise((r) => window.setTimeout(r, i < 10 ? 200 : 500))
  }
  return 'This takes longer than it should. Look again later.'
}
