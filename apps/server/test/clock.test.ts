import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { clock } from '../src/platform'

describe('the day of the firm', () => {
  beforeEach(() => void vi.useFakeTimers({ toFake: ['Date'] }))
  afterEach(() => void vi.useRealTimers())

  it('begins at midnight where the firm is, wherever the server stands and whatever the season', () => {
    const c = clock()
    // New York is five hours behind UTC in winter, four in summer.
    vi.setSystemTime('2026-11-24T04:59:00Z')
    expect([c.today(), c.time()]).toEqual(['2026-11-23', '23:59'])
    vi.setSystemTime('2026-11-24T05:00:00Z')
    expect([c.today(), c.time()]).toEqual(['2026-11-24', '00:00'])
    vi.setSystemTime('2026-07-01T03:59:00Z')
    expect(c.today()).toBe('2026-06-30')
    vi.setSystemTime('2026-07-01T04:00:00Z')
    expect(c.today()).toBe('2026-07-01')
  })
  it('follows the firm to another zone at once', () => {
    const c = clock()
    vi.setSystemTime('2026-11-24T05:30:00Z')
    expect(c.today()).toBe('2026-11-24')
    c.standIn!('America/Los_Angeles')
    expect([c.today(), c.time()]).toEqual(['2026-11-23', '21:30'])
    c.standIn!('Pacific/Honolulu')
    expect(c.time()).toBe('19:30')
  })
  it('that was fixed stays that day for whoever tries something on it', () => {
    const c = clock('2026-11-23')
    c.standIn!('Pacific/Auckland')
    expect(c.today()).toBe('2026-11-23')
  })
  it('of what was done on an evening is that evening’s, as the database keeps it and as it is sent', () => {
    const c = clock()
    for (const at of ['2026-11-24 01:30:00.000000', '2026-11-24T01:30:00Z']) expect(c.at(at)).toEqual({ day: '2026-11-23', time: '20:30' })
    // The day on which clocks go back has 25 hours, and begins before they do.
    expect(c.beginOf('2026-11-01').toISOString()).toBe('2026-11-01T04:00:00.000Z')
    expect(c.beginOf('2026-11-02').toISOString()).toBe('2026-11-02T05:00:00.000Z')
    expect(clock('2026-11-23').at('2026-11-24 01:30:00').day).toBe('2026-11-24')
  })
})
