import { describe, expect, it } from 'vitest'
import { wallCsv } from './csv'

describe('the wall as CSV', () => {
  it('has a line a student and never hands a spreadsheet a formula', () => {
    const place = { index: 0, at: '0' }
    const chunk = { id: 'x', label: '9–10', tab: '9–10', start: place, end: place, landing: false }
    const rows = [{ student_id: 'y', name: '=cmd"A"', levels: [3], seams: ['' as const], due: [] }]
    expect(
      wallCsv({ deepest: 0, beside: 0, of: 1, waiting: 0, stuck: 0, chunks: [chunk], standings: [''], rows }),
    ).toBe('"Student","9–10"\r\n"\'=cmd""A""",3\r\n')
  })
})
