import type { PanelSettings } from './settings'

/** What may wake a panel. */
export type Waker = 'touch' | 'somebody' | 'noise' | 'hub'

type Asleep = Pick<PanelSettings, 'darkAfter' | 'quietFor' | 'seesFrom' | 'hearsFrom'>

const SECOND = 1000
/** For so long before it goes dark it is dimmed, in ms. */
const DIMS_FOR = 10_000

/** Whether a panel is lit: it goes dark some time after the last touch, and wakes at what is set. Times are in ms. */
export class Awake {
  lit = true
  wokenBy: Waker = 'touch'
  private active: number
  private darkAt = 0

  constructor(
    private settings: () => Asleep,
    now: number,
  ) {
    this.active = now
  }

  /** Lights it, or has it stay lit; returns whether it was dark. */
  wake(by: Waker, now: number): boolean {
    const was = !this.lit
    if (was) this.wokenBy = by
    this.lit = true
    this.active = now
    return was
  }
  darken(now: number) {
    this.lit = false
    this.darkAt = now
  }
  /** Takes how much the camera sees moving, or how loud it is, in percent; returns whether that woke it. */
  sense(by: 'somebody' | 'noise', level: number, now: number): boolean {
    const from = by === 'somebody' ? this.settings().seesFrom : this.settings().hearsFrom
    if (!from || level < from) return false
    if (!this.lit && now - this.darkAt < this.settings().quietFor * SECOND) return false
    return this.wake(by, now)
  }
  /** Lets time pass; returns whether it went dark now. */
  tick(now: number): boolean {
    const after = this.settings().darkAfter * SECOND
    if (!this.lit || !after || now - this.active < after) return false
    this.darken(now)
    return true
  }
  /** Whether it is about to go dark. */
  dims(now: number): boolean {
    const after = this.settings().darkAfter * SECOND
    return this.lit && after > 2 * DIMS_FOR && now - this.active > after - DIMS_FOR
  }
}

/** Whether an hour of the day is in the night, which may go over midnight. */
export const isNight = (hour: number, from: number, until: number) =>
  from <= until ? hour >= from && hour < until : hour >= from || hour < until
