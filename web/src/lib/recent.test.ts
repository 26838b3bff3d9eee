import { describe, expect, it } from 'vitest'
import type { Choice } from './choice'
import { HERE } from './likely'
import { recentFirst } from './recent'

const choices: Choice[] = [
  { value: 'lamp~power', title: 'Lamp: power', group: HERE, note: 'Hall' },
  { value: 'door~open', title: 'Door: open', group: 'Hall' },
  { value: 'kiln~power', title: 'Kiln: power', group: 'Mill room' },
  { value: 'gate~open', title: 'Gate: open', group: 'Yard' },
]
const order = (recent: string[]) => recentFirst(choices, recent).map((c) => c.value)

describe('what was chosen lately', () => {
  it('comes after what the rule speaks of, the newest first, each once, with its room beside it', () => {
    expect(order(['gate~open', 'lamp~power', 'kiln~power'])).toEqual([
      'lamp~power',
      'gate~open',
      'kiln~power',
      'door~open',
    ])
    expect(recentFirst(choices, ['gate~open'])[1]).toEqual({
      value: 'gate~open',
      title: 'Gate: open',
      group: 'Chosen lately',
      note: 'Yard',
    })
  })

  it('is left out where it is not there any more', () => {
    expect(recentFirst(choices, ['gone~open'])).toBe(choices)
  })
})
