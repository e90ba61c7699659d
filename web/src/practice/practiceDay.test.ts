import { describe, expect, it } from 'vitest'
import { isBreakDue, newPracticeDay, practised, proudOf, rested, withLine, type DrillToday } from './practiceDay'

const line = (change: Partial<DrillToday>): DrillToday => ({
  itemId: 'a',
  chunk: '33–36→',
  drill: 'Alone',
  fromTempo: 82,
  toTempo: 82,
  fromLevel: 2,
  toLevel: 2,
  clean: 0,
  slips: 0,
  longest: 0,
  isFinished: false,
  ...change,
})

describe('a practiceDay', () => {
  it('asks for a break after twenty-five minutes, wherever they were spent', () => {
    let practiceDay = newPracticeDay('2026-01-01')
    for (let minute = 1; minute <= 24; minute++) practiceDay = practised(practiceDay, 60, minute * 60_000)
    expect(isBreakDue(practiceDay)).toBe(false)
    practiceDay = practised(practiceDay, 60, 25 * 60_000)
    expect(isBreakDue(practiceDay)).toBe(true)
    expect(isBreakDue(rested(practiceDay))).toBe(false)
  })

  it('takes some minutes away from it for the break', () => {
    let practiceDay = practised(newPracticeDay('2026-01-01'), 20 * 60, 20 * 60_000)
    practiceDay = practised(practiceDay, 10 * 60, 40 * 60_000)
    expect(practiceDay.stretch).toBe(600)
  })

  it('has one line for a drill, the newest', () => {
    const practiceDay = withLine(withLine(newPracticeDay('d'), line({ clean: 1 })), line({ clean: 3 }))
    expect(practiceDay.did.map((one) => one.clean)).toEqual([3])
  })
})

describe('a sentence to be proud of', () => {
  it('tells the greatest thing that happened', () => {
    expect(proudOf([line({ clean: 3, toTempo: 90 }), line({ itemId: 'b', clean: 1, toLevel: 3 })])).toBe(
      '33–36 rose from level 2 to 3.',
    )
    expect(proudOf([line({ clean: 3, isFinished: true })])).toBe('You played 33–36 clean at goal tempo.')
    expect(proudOf([line({ clean: 3, toTempo: 90 })])).toContain('8 beats a minute faster')
    expect(proudOf([line({ clean: 9, longest: 5 })])).toBe('5 clean in a row on 33–36.')
  })

  it('finds something true in a day of slips, and says nothing of a day without a note', () => {
    expect(proudOf([line({ clean: 2, slips: 9, longest: 1 })])).toContain('for 11 tries')
    expect(proudOf([line({ slips: 1 })])).toBe('You began with 33–36.')
    expect(proudOf([line({})])).toBeNull()
    expect(proudOf([])).toBeNull()
  })
})
