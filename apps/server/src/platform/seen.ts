import { refused } from './problem'

/**
 * Refuses to write over what somebody else changed after it was read. `seen` is the record as its reader had it, in the form in which it
 * is sent; `now` is what is kept, read after it was locked. Who sends none is not judged.
 */
export function unchangedSince<S extends object>(now: { readonly [K in keyof S]: unknown }, seen: S | undefined, what: string): void {
  if (!seen) return
  const one = (value: unknown) => JSON.stringify(value ?? null)
  const differs = Object.keys(seen).some((k) => one(seen[k as keyof S]) !== one(now[k as keyof S]))
  if (differs) throw refused('changed-meanwhile', `Somebody else changed ${what} while you wrote. Nothing was written over.`)
}
