/** What callers may have in hand at once: nobody's requests take the places of others'. */
interface Line {
  running: number
  waiting: (() => void)[]
}

/**
 * Lets so many acts of one caller run at once and keeps so many more waiting in line, in order. `take` gives what ends
 * the turn, or null where the line is full.
 */
export class Turns {
  private readonly lines = new Map<string, Line>()
  constructor(
    private readonly atOnce: number,
    private readonly inLine: number,
  ) {}

  async take(caller: string): Promise<(() => void) | null> {
    const line = this.lines.get(caller) ?? { running: 0, waiting: [] }
    this.lines.set(caller, line)
    if (line.running < this.atOnce) line.running += 1
    else if (line.waiting.length >= this.inLine) return null
    else await new Promise<void>((go) => line.waiting.push(go))
    let ended = false
    return () => {
      if (ended) return
      ended = true
      const next = line.waiting.shift()
      if (next) return next()
      line.running -= 1
      if (!line.running) this.lines.delete(caller)
    }
  }
}

/** A sum that must not be passed: bytes of bodies that are held at once. */
export class Budget {
  private used = 0
  constructor(private readonly most: number) {}

  take(amount: number): (() => void) | null {
    if (this.used + amount > this.most) return null
    this.used += amount
    let ended = false
    return () => {
      if (!ended) this.used -= amount
      ended = true
    }
  }
}
