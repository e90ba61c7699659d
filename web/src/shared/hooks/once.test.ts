import { describe, expect, it } from 'vitest'
import { onceIds } from './once'

function counted() {
  let made = 0
  return onceIds(() => `id ${++made}`)
}

describe('an act that is sent', () => {
  it('keeps its id until there is an answer', async () => {
    const once = counted()
    const sent: string[] = []
    const lost = (id: string) => {
      sent.push(id)
      return Promise.reject(new Error('no network'))
    }
    await expect(once({ drill: 'alone' }, lost)).rejects.toThrow('no network')
    await once({ drill: 'alone' }, (id) => Promise.resolve(sent.push(id)))
    expect(sent).toEqual(['id 1', 'id 1'])
  })

  it('has a new id once the last one was answered', async () => {
    const once = counted()
    expect(await once({ drill: 'alone' }, (id) => Promise.resolve(id))).toBe('id 1')
    expect(await once({ drill: 'alone' }, (id) => Promise.resolve(id))).toBe('id 2')
  })

  it('has a new id when it is another act', async () => {
    const once = counted()
    await expect(once({ drill: 'alone' }, () => Promise.reject(new Error('no network')))).rejects.toThrow()
    expect(await once({ drill: 'seams' }, (id) => Promise.resolve(id))).toBe('id 2')
  })
})
