import { screen, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import type { DeskLineOut, DeskOut, PieceOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { show } from '../../testing/show'
import Desk from './Desk'

const line = (more: Partial<DeskLineOut>): DeskLineOut => ({
  key: 'a',
  kind: 'stuck',
  say: 'Nia is stuck on 33–36.',
  why: 'Five days at the same tempo.',
  student_ids: ['n'],
  students: ['Nia'],
  part_id: 'p',
  chunk_id: 'c',
  ...more,
})
const desk = (more: Partial<DeskOut>): DeskOut => ({ lines: [], more: 0, put_off: 0, dates: [], ...more })
const piece = { id: 'e', parts: [] } as unknown as PieceOut
const opened = (data: DeskOut) =>
  show(<Desk />, [
    [keys.desk, data],
    [keys.pieces, [piece]],
  ])

describe('the desk', () => {
  it('sends a director with nothing to do off to make music', () => {
    opened(desk({}))
    expect(screen.getByText('Nothing needs you today. Go and make music.')).toBeTruthy()
  })

  it('says what, why, and how to put it off', () => {
    opened(desk({ lines: [line({})] }))
    const row = screen.getByRole('listitem')
    expect(row.textContent).toContain('Stuck')
    expect(row.textContent).toContain('Five days at the same tempo.')
    expect(within(row).getByRole('button', { name: 'Put off: Nia is stuck on 33–36.' })).toBeTruthy()
  })

  it('names pain first of all kinds, and leads to what the student said', () => {
    opened(desk({ lines: [line({ kind: 'hurts', say: 'Nia said that it hurts.' })] }))
    expect(screen.getByRole('listitem').textContent).toContain('Pain')
    expect(screen.getByRole('link', { name: 'Read what they said' })).toBeTruthy()
  })

  it('leads from a take to the hearing of that student', () => {
    opened(desk({ lines: [line({ kind: 'takes' })] }))
    expect(screen.getByRole('link', { name: 'Hear them' }).getAttribute('href')).toBe(
      '/hearing?part=p&chunk=c&student=n',
    )
  })

  it('says how many lines wait and how many are put off', () => {
    opened(desk({ lines: [line({})], more: 7, put_off: 2 }))
    expect(screen.getByText('7 more lines of these kinds move up as you finish these.')).toBeTruthy()
    expect(screen.getByText('2 put off.')).toBeTruthy()
  })
})
