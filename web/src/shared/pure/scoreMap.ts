/** Where measures and notes stand on the drawing, so that brackets can be laid over them. */
import type { ChunkOut, MeasureOut, PositionOut } from '../../api/gen'
import { isSameTime, toNumber } from './fraction'

export interface Point {
  at: string
  x: number
}

export interface MeasureBox {
  index: number
  system: number
  left: number
  right: number
  top: number
  bottom: number
  /** The top of what is printed over the staff here: a tempo, a letter, words. */
  ceiling: number
  points: Point[]
}

export interface Segment {
  x0: number
  x1: number
  /** Where the bracket's line is drawn: over everything printed above its system. */
  rise: number
  top: number
  bottom: number
  isFirst: boolean
  isLast: boolean
}

const NOTE_ID = /^[nr](\d+)-(\d+)_(\d+)-/

/** The place in the part of a note of a drawing, by its name; null for what is no note of the part. */
export function placeOfNote(id: string): PositionOut | null {
  const match = NOTE_ID.exec(id)
  if (!match) return null
  const [, index = '0', over = '0', under = '1'] = match
  return { index: Number(index), at: under === '1' ? over : `${over}/${under}` }
}

/** Measure the drawing inside a container; all numbers are pixels from the container's corner. */
export function mapScore(container: HTMLElement): MeasureBox[] {
  const origin = container.getBoundingClientRect()
  const boxes: MeasureBox[] = []
  let system = -1
  let lastTop = Number.NEGATIVE_INFINITY
  for (const group of container.querySelectorAll<SVGGElement>('g.measure')) {
    const index = Number(/^m(\d+)$/.exec(group.id)?.[1] ?? NaN)
    const lines = group.querySelectorAll<SVGPathElement>('g.staff > path')
    const first = lines[0]?.getBoundingClientRect()
    const last = lines[lines.length - 1]?.getBoundingClientRect()
    if (Number.isNaN(index) || !first || !last) continue
    const top = first.top - origin.top
    if (Math.abs(top - lastTop) > 20) system += 1
    lastTop = top
    boxes.push({
      index,
      system,
      left: first.left - origin.left,
      right: first.right - origin.left,
      top,
      bottom: last.bottom - origin.top,
      ceiling: ceilingOf(group, origin.top),
      points: pointsOf(group, origin.left),
    })
  }
  return boxes
}

function ceilingOf(group: SVGGElement, top: number): number {
  const marks = [...group.querySelectorAll('g.tempo, g.reh, g.dir')]
  return Math.min(...marks.map((mark) => mark.getBoundingClientRect().top - top))
}

function pointsOf(group: SVGGElement, left: number): Point[] {
  const found = new Map<string, number>()
  for (const element of group.querySelectorAll<SVGGElement>('g.note, g.rest, g.mRest')) {
    const match = NOTE_ID.exec(element.id)
    if (!match) continue
    const head = element.querySelector('.notehead') ?? element
    const at = match[3] === '1' ? (match[2] ?? '0') : `${match[2] ?? '0'}/${match[3] ?? '1'}`
    const x = head.getBoundingClientRect().left - left
    found.set(at, Math.min(found.get(at) ?? Infinity, x))
  }
  return [...found].map(([at, x]) => ({ at, x })).sort((a, b) => toNumber(a.at) - toNumber(b.at))
}

/** The x of an offset in a measure; between two notes where none stands. */
export function xOf(box: MeasureBox, at: string, length: string, isEdge: boolean): number {
  const first = box.points[0]
  if (isSameTime(at, '0')) return isEdge && first ? Math.max(box.left, first.x - 16) : box.left
  if (isSameTime(at, length)) return box.right
  const exact = box.points.find((point) => isSameTime(point.at, at))
  if (exact) return exact.x - 5
  const value = toNumber(at)
  const before = box.points.filter((p) => toNumber(p.at) < value).at(-1)
  const after = box.points.find((p) => toNumber(p.at) > value)
  const [a, xa] = before ? [toNumber(before.at), before.x] : [0, box.left]
  const [b, xb] = after ? [toNumber(after.at), after.x] : [toNumber(length), box.right]
  return xa + ((xb - xa) * (value - a)) / Math.max(b - a, 1e-6) - 5
}

/** A chunk as one horizontal segment on each system it touches. */
export function segmentsOf(chunk: ChunkOut, boxes: MeasureBox[], measures: MeasureOut[]): Segment[] {
  const lastIndex = isSameTime(chunk.end.at, '0') ? chunk.end.index - 1 : chunk.end.index
  const inside = boxes.filter((box) => box.index >= chunk.start.index && box.index <= lastIndex)
  const systems = [...new Set(inside.map((box) => box.system))]
  return systems.map((system, place) => {
    const row = inside.filter((box) => box.system === system)
    const head = row[0] as MeasureBox
    const tail = row[row.length - 1] as MeasureBox
    const lengthOf = (box: MeasureBox) => measures[box.index]?.length ?? '0'
    const isSystemStart = boxes.find((box) => box.system === system) === head
    const x0 =
      head.index === chunk.start.index
        ? xOf(head, chunk.start.at, lengthOf(head), isSystemStart)
        : xOf(head, '0', lengthOf(head), isSystemStart)
    const endsHere = tail.index === chunk.end.index && !isSameTime(chunk.end.at, '0')
    const x1 = endsHere ? xOf(tail, chunk.end.at, lengthOf(tail), false) : tail.right
    return {
      x0: x0 + 2,
      x1: x1 - 2,
      rise: riseOf(boxes.filter((box) => box.system === system)),
      top: head.top,
      bottom: head.bottom,
      isFirst: place === 0,
      isLast: place === systems.length - 1,
    }
  })
}

const LOWEST_RISE = 40
const HIGHEST_RISE = 92

function riseOf(row: MeasureBox[]): number {
  const top = row[0]?.top ?? 0
  const ceiling = Math.min(...row.map((box) => box.ceiling))
  return top - Math.min(Math.max(LOWEST_RISE, top - ceiling + 8), HIGHEST_RISE)
}

/** The written place nearest to a click. */
export function nearest(boxes: MeasureBox[], x: number, y: number): PositionOut | null {
  const bySystem = [...boxes].sort((a, b) => distance(a, y) - distance(b, y))
  const system = bySystem[0]?.system
  const row = boxes.filter((box) => box.system === system)
  const box = row.find((b) => x >= b.left && x < b.right) ?? (x < (row[0]?.left ?? 0) ? row[0] : row.at(-1))
  if (!box) return null
  const point = [...box.points].sort((a, b) => Math.abs(a.x + 6 - x) - Math.abs(b.x + 6 - x))[0]
  return { index: box.index, at: point?.at ?? '0' }
}

function distance(box: MeasureBox, y: number): number {
  return Math.abs((box.top + box.bottom) / 2 - y)
}

export function comparePlaces(a: PositionOut, b: PositionOut): number {
  return a.index - b.index || toNumber(a.at) - toNumber(b.at)
}

/** Which chunk of the map holds a place. */
export function chunkAt(chunks: ChunkOut[], place: PositionOut): number {
  return chunks.findIndex((c) => comparePlaces(c.start, place) <= 0 && comparePlaces(place, c.end) < 0)
}
