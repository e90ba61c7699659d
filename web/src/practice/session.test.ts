import { beforeEach, describe, expect, it, vi } from 'vitest'
import { startClimb, type ClimbPlan } from './climb'
import { Outbox, type Waiting } from './outbox'
import { PracticeSession } from './session'

const kept = vi.hoisted(() => new Map<string, unknown>())
vi.mock('idb-keyval', () => ({
  get: (key: string) => Promise.resolve(kept.get(key)),
  update: (key: string, change: (old: unknown) => unknown) => {
    kept.set(key, change(kept.get(key)))
    return Promise.resolve()
  },
}))

const plan: ClimbPlan = {
  steps: [{ repetitions: 2, quarters: 4, unbroken: false, slip: 'down', isFree: false }],
  rungs: [80, 84, 88, 92],
  beat: 1,
}

let put: Waiting[] = []
let now = 0
const begin = () =>
  new PracticeSession(
    'item',
    plan,
    startClimb(plan),
    0,
    (entry) => put.push(entry),
    () => (now += 5000),
  )

beforeEach(() => {
  put = []
  now = 0
  kept.clear()
})

describe('a practice session', () => {
  it('counts at once and puts every tap into the outbox with its tempo and moment', () => {
    const session = begin()
    session.play(true)
    session.play(true)
    expect(session.snapshot().climb).toMatchObject({ tempo: 84, told: 'up' })
    expect(put).toMatchObject([
      { kind: 'played', step: 0, tempo_bpm: 80, is_clean: true, played_at: new Date(5000).toISOString() },
      { kind: 'played', tempo_bpm: 80 },
    ])
    expect(new Set(put.map((entry) => entry.id)).size).toBe(2)
  })

  it('takes the last tap back and is where it was before', () => {
    const session = begin()
    session.play(true)
    const before = session.snapshot().climb
    session.play(false)
    session.undo()
    expect(session.snapshot().climb).toEqual(before)
    expect(put.at(-1)).toEqual({ kind: 'taken back', id: put[1]?.id })
  })

  it('asks why where rungs are left out, sends the answer along, and moves nothing', () => {
    const session = begin()
    session.changeTempo(4)
    expect(session.isJump).toBe(false)
    session.changeTempo(8)
    expect(session.isJump).toBe(true)
    session.say('My teacher said so')
    session.play(true)
    expect(session.snapshot()).toMatchObject({ tempo: 92, climb: { tempo: 80, told: 'attempt' } })
    expect(put.at(-1)).toMatchObject({ tempo_bpm: 92, reason: 'My teacher said so' })
    session.backToLadder()
    session.play(true)
    expect(put.at(-1)).not.toHaveProperty('reason')
  })

  it('says so when it was played without a click', () => {
    const session = begin()
    session.useClick(false)
    session.play(true)
    expect(put.at(-1)).toMatchObject({ tempo_bpm: null })
    expect(session.snapshot().climb.told).toBe('attempt')
  })

  it('takes up what an earlier visit could not hand in, but not what was taken back of it', async () => {
    const outbox = new Outbox('me', () => Promise.resolve())
    const earlier = new PracticeSession('item', plan, startClimb(plan), 0, (entry) => void outbox.add(entry))
    earlier.play(true)
    earlier.play(true)
    earlier.undo()
    const session = begin()
    await session.takeUp(outbox)
    expect(session.snapshot().climb).toMatchObject({ tempo: 80, inARow: 1 })
  })

  it('counts once what the server had already when its answer was lost', async () => {
    const outbox = new Outbox('me', () => Promise.resolve())
    const earlier = new PracticeSession('item', plan, startClimb(plan), 0, (entry) => void outbox.add(entry))
    earlier.play(true)
    const counted = { ...startClimb(plan), inARow: 1 }
    const session = new PracticeSession('item', plan, counted, 0, (entry) => put.push(entry))
    await session.takeUp(outbox)
    session.heard(await outbox.waiting(), { doubted: [] })
    expect(session.snapshot().climb).toMatchObject({ tempo: 80, inARow: 1 })
  })

  it('tells its watchers, and shows what the server kept but does not count', () => {
    const session = begin()
    let changes = 0
    const leave = session.watch(() => (changes += 1))
    session.heard([], { level: 3, doubted: [{ id: 'a', say: 'The clock of this device is ahead.' }] })
    leave()
    const told = changes
    expect(told).toBeGreaterThan(0)
    session.play(true)
    expect(changes).toBe(told)
    expect(session.snapshot()).toMatchObject({ level: 3, doubted: [{ id: 'a' }] })
  })

  it('goes back to what the server counts, once the server has every tap', () => {
    const session = begin()
    session.play(true)
    session.play(true)
    const two = put.splice(0)
    session.play(true)
    expect(session.snapshot().climb).toMatchObject({ tempo: 84, inARow: 1 })
    const theirs = { ...startClimb(plan), inARow: 1 }
    session.heard(two, {
      climb: theirs,
      doubted: [{ id: two[1]?.id ?? '', say: 'Two repetitions came in less time than one takes.' }],
    })
    expect(session.snapshot().climb, 'a tap is still on its way').toMatchObject({ tempo: 84, inARow: 1 })
    session.heard(put, { climb: { ...theirs, tempo: 84, inARow: 0 }, doubted: [] })
    expect(session.snapshot()).toMatchObject({ climb: { tempo: 84, inARow: 0 }, tempo: 84, played: [] })
  })

  it('does not go on counting what the server will never take', () => {
    const session = begin()
    session.play(true)
    const good = put.splice(0)
    session.play(true)
    expect(session.snapshot().climb).toMatchObject({ tempo: 84 })
    session.heard(good, { climb: { ...startClimb(plan), inARow: 1 }, doubted: [] })
    session.refused(put)
    expect(session.snapshot()).toMatchObject({ climb: { tempo: 80, inARow: 1 }, tempo: 80, played: [] })
  })

  it('keeps its own count where nothing is doubted', () => {
    const session = begin()
    session.play(true)
    session.heard(put, { climb: { ...startClimb(plan), inARow: 1 }, doubted: [] })
    expect(session.snapshot().played).toHaveLength(1)
  })

  it('says where a slip fell and what it was, of that slip', () => {
    const session = begin()
    session.play(false)
    session.tellSlip({ at: { index: 3, at: '1/2' } })
    session.tellSlip({ what: 'shift' })
    session.tellSlip({ at: { index: 3, at: '0' } }) // the finger was beside it
    expect(put).toHaveLength(1)
    session.play(true)
    const slip = put[0]?.id
    expect(put[1]).toMatchObject({
      kind: 'slip told',
      slip: { repetition_id: slip, at: { index: 3, at: '0' }, what: 'shift' },
    })
    session.tellSlip({ what: 'pitch' }) // that one was clean
    session.play(true)
    expect(put).toHaveLength(4)
  })

  it('forgets what was said of a slip that is taken back', () => {
    const session = begin()
    session.play(false)
    session.tellSlip({ what: 'pitch' })
    session.undo()
    session.closeSlip()
    expect(put.map((entry) => entry.kind)).toEqual(['played', 'taken back'])
  })

  it('notes every place of a run-through, which is clean only without any', () => {
    const session = begin()
    session.playThrough([
      { index: 3, at: '0' },
      { index: 7, at: '1' },
    ])
    session.playThrough([], 1)
    session.playThrough([])
    expect(put.map((entry) => (entry.kind === 'played' ? entry.is_clean : entry.kind))).toEqual([
      false,
      'slip told',
      'slip told',
      false,
      true,
    ])
  })

  it('lets go of a slip that belongs to another layer', () => {
    const session = begin()
    session.play(true)
    const before = session.snapshot().climb
    session.play(false)
    session.tellSlip({ what: 'dynamics' }, false)
    expect(session.snapshot().climb).toEqual(before)
    expect(session.snapshot().slip).toMatchObject({ what: 'dynamics', isLetGo: true })
    expect(put.at(-1)).toEqual({ kind: 'taken back', id: put[1]?.id })
  })

  it('keeps what a helper ticks apart', () => {
    const session = begin()
    session.play(true)
    session.useHelper(true)
    session.play(true)
    expect(put).toMatchObject([{ kind: 'played' }, { source: 'helper' }])
    expect(put[0]).not.toHaveProperty('source')
    expect(session.snapshot().byHelper).toBe(1)
  })

  it('notices a ladder that came down twice from one tempo', () => {
    const session = begin()
    const fall = () => {
      session.play(false)
      session.play(false)
    }
    fall()
    expect(session.snapshot().stalledAt).toBeNull()
    session.setTempo(80)
    fall()
    expect(session.snapshot().stalledAt).toBe(80)
    session.play(true)
    session.play(true)
    expect(session.snapshot().stalledAt).toBeNull()
  })
})
