/** Waits for work in the background: true when it is done, else why not. */
export async function waitFor(
  ask: () => Promise<{ state: string; progress: number; error: string | null }>,
  told?: (percent: number) => unknown,
  /** Nobody waits any more. */
  ended: () => boolean = () => false,
): Promise<string | true> {
  for (let i = 0; i < 1200 && !ended(); i += 1) {
    const job = await ask()
    told?.(job.progress)
    if (job.state === 'done') return true
    if (job.state === 'failed') return job.error ?? 'This could not be done.'
    await new Promise((r) => window.setTimeout(r, i < 10 ? 200 : 500))
  }
  return 'This takes longer than it should. Look again later.'
}
