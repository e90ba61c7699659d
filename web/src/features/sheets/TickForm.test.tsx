import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { App } from 'antd'
import { describe, expect, it } from 'vitest'
import type { SheetOut } from '../../api/gen'
import { show } from '../../testing/show'
import { TickForm } from './TickForm'

const sheet = (ticked: number[]): SheetOut => ({
  code: 'K7QX',
  name: 'Nia',
  title: 'Etude',
  lines: [{ item_id: 'i', chunk: '33–36', drill: 'Ladder', rungs: [60, 72, 84], ticked }] as SheetOut['lines'],
})
const form = (ticked: number[] = []) =>
  show(
    <App>
      <TickForm sheet={sheet(ticked)} />
    </App>,
  )
const rung = (tempo: string) => screen.getByRole<HTMLButtonElement>('button', { name: tempo })

describe('ticks of a sheet', () => {
  it('begin with nothing to enter', () => {
    form()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'No new ticks' }).disabled).toBe(true)
  })

  it('count every tempo up to the highest that is tapped', async () => {
    form()
    await userEvent.click(rung('84'))
    expect(screen.getByRole('button', { name: 'Enter 3 ticks' })).toBeTruthy()
    expect(rung('60').getAttribute('aria-pressed')).toBe('true')
  })

  it('go back one tempo at a second tap', async () => {
    form()
    await userEvent.click(rung('72'))
    await userEvent.click(rung('72'))
    expect(screen.getByRole('button', { name: 'Enter 1 tick' })).toBeTruthy()
  })

  it('leave those alone that were entered before', () => {
    form([60])
    expect(rung('60').disabled).toBe(true)
    expect(rung('72').disabled).toBe(false)
  })
})
