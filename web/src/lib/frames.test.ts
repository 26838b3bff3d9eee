// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { oncePerFrame, Pace } from './frames'

describe('once before a picture', () => {
  beforeEach(() => vi.useFakeTimers())
  afterEach(() => vi.useRealTimers())

  it('is done once, however often it was asked for, and again when it is asked for again', () => {
    const act = vi.fn()
    const soon = oncePerFrame(act)
    soon()
    soon()
    expect(act).not.toHaveBeenCalled()
    vi.advanceTimersByTime(200)
    expect(act).toHaveBeenCalledTimes(1)
    soon()
    vi.advanceTimersByTime(200)
    expect(act).toHaveBeenCalledTimes(2)
  })

  it('is done where no picture is drawn, the page being out of sight', () => {
    vi.stubGlobal('requestAnimationFrame', () => 0)
    const act = vi.fn()
    oncePerFrame(act)()
    vi.advanceTimersByTime(99)
    expect(act).not.toHaveBeenCalled()
    vi.advanceTimersByTime(1)
    expect(act).toHaveBeenCalledTimes(1)
    vi.unstubAllGlobals()
  })
})

describe('the pace', () => {
  it('follows how long changes took, and grows by no more than double', () => {
    const pace = new Pace()
    const first = pace.atMost
    pace.took(first, 12)
    expect(pace.atMost).toBe(first / 2)
    pace.took(first / 2, 100)
    expect(pace.atMost).toBe(4)
    for (let i = 0; i < 20; i++) pace.took(pace.atMost, 0)
    expect(pace.atMost).toBe(10_000)
  })

  it('is slower after a picture that came late, and recovers with those in time', () => {
    const pace = new Pace()
    const first = pace.atMost
    pace.picture(1000)
    pace.picture(1016)
    expect(pace.atMost).toBe(first)
    pace.picture(1050) // one was left out
    const slower = pace.atMost
    expect(slower).toBeLessThan(first)
    pace.took(slower, 0.1) // though what is done for them is quick
    expect(pace.atMost).toBe(slower)
    for (let at = 1066; at < 3000; at += 16) {
      pace.picture(at)
      pace.took(pace.atMost, 0.1)
    }
    expect(pace.atMost).toBeGreaterThanOrEqual(first)
    pace.picture(9000) // nothing was to be drawn for a while
    expect(pace.atMost).toBeGreaterThanOrEqual(first)
  })

  it('stays where there was little to do', () => {
    const pace = new Pace()
    const first = pace.atMost
    pace.took(1, 1)
    pace.took(0, 0)
    expect(pace.atMost).toBe(first)
  })
})
