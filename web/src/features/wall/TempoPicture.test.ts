import { describe, expect, it } from 'vitest'
import { tempoSaid } from './TempoPicture'

describe('the tooltip of the tempo picture', () => {
  it('says whole tempos and the range of the band', () => {
    expect(tempoSaid(92.4, 'Secure tempo', { dataKey: 'secure' })).toEqual(['92', 'Secure tempo'])
    expect(tempoSaid([78.2, 104.9], 'Secure between', { dataKey: 'band' })).toEqual(['78–105', 'Secure between'])
  })
  it('has no line for the moment of a dot', () => {
    expect(tempoSaid(1795492800000, 'at', { dataKey: 'at' })).toBeNull()
  })
})
