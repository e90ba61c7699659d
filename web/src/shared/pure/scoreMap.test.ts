import { describe, expect, it } from 'vitest'
import type { ChunkOut, MeasureOut } from '../../api/gen'
import { chunkAt, nearest, segmentsOf, xOf, type MeasureBox } from './scoreMap'

const measures: MeasureOut[] = Array.from({ length: 4 }, (_, i) => ({
  number: String(i + 1),
  length: '4',
  first_beat: 1,
  beats: ['0', '1', '2', '3'],
}))

// Two systems of two measures, a note on each beat but the last.
const boxes: MeasureBox[] = [0, 1, 2, 3].map((index) => ({
  index,
  system: Math.floor(index / 2),
  left: (index % 2) * 200,
  right: (index % 2) * 200 + 200,
  top: index < 2 ? 100 : 300,
  bottom: index < 2 ? 140 : 340,
  ceiling: index < 2 ? 100 : 250,
  points: [0, 1, 2].map((at) => ({ at: String(at), x: (index % 2) * 200 + 20 + at * 50 })),
}))

const chunk = (start: [number, string], end: [number, string]): ChunkOut => ({
  id: 'c',
  label: 'c',
  tab: 'c',
  start: { index: start[0], at: start[1] },
  end: { index: end[0], at: end[1] },
  landing: false,
})

describe('places on the score', () => {
  it('stand at their note, at the barline, or between two notes', () => {
    const box = boxes[0] as MeasureBox
    expect(xOf(box, '1', '4', false)).toBe(65)
    expect(xOf(box, '4', '4', false)).toBe(200)
    expect(xOf(box, '3/2', '4', false)).toBe(90)
    expect(xOf(box, '3', '4', false)).toBeGreaterThan(xOf(box, '2', '4', false))
  })

  it('are found by a click near a note', () => {
    expect(nearest(boxes, 74, 118)).toEqual({ index: 0, at: '1' })
    expect(nearest(boxes, 330, 320)).toEqual({ index: 3, at: '2' })
  })
})

describe('a bracket', () => {
  it('is one segment on a system and goes on over the next', () => {
    expect(segmentsOf(chunk([0, '0'], [2, '0']), boxes, measures)).toHaveLength(1)
    const [first, second] = segmentsOf(chunk([1, '0'], [2, '1']), boxes, measures)
    expect(first).toMatchObject({ isFirst: true, isLast: false, x1: 198 + 200 })
    expect(second).toMatchObject({ isFirst: false, isLast: true, top: 300 })
  })

  it('rises over what is printed above the staff', () => {
    const [low] = segmentsOf(chunk([0, '0'], [1, '0']), boxes, measures)
    const [high] = segmentsOf(chunk([2, '0'], [3, '0']), boxes, measures)
    expect(low?.rise).toBe(60)
    expect(high?.rise).toBe(300 - 58)
  })
})

describe('the chunk that holds a place', () => {
  const map = [chunk([0, '0'], [1, '2']), chunk([1, '2'], [4, '0'])]
  it('is the one before its end', () => {
    expect(chunkAt(map, { index: 1, at: '3/2' })).toBe(0)
    expect(chunkAt(map, { index: 1, at: '2' })).toBe(1)
    expect(chunkAt(map, { index: 4, at: '0' })).toBe(-1)
  })
})
