import shapes from './levelShapes.json'

type Point = number[]

/** What a level looks like in a box of 24 by 24; the font of the Wall is made of the same numbers. */
interface Shape {
  outline?: Point[]
  filled?: Point[]
  tone?: number
  solid?: Point[]
  check?: Point[]
  ring?: { radius: number; width: number; dashes?: number; drawn?: number }
}

/** One stroke or area of a shape. */
export interface Piece {
  d: string
  fill: 'none' | 'currentColor'
  stroke: 'none' | 'currentColor' | 'var(--surface)'
  strokeWidth?: number
  opacity?: number
  strokeDasharray?: string
}

const line = (points: Point[]) => `M${points.map((point) => point.join(' ')).join(' L')}`
const closed = (points: Point[]) => `${line(points)} Z`
const circle = (radius: number) =>
  `M${12 - radius} 12 a${radius} ${radius} 0 1 0 ${2 * radius} 0 a${radius} ${radius} 0 1 0 ${-2 * radius} 0 Z`

function dashed(radius: number, dashes: number, drawn: number): string {
  const each = (2 * Math.PI * radius) / dashes
  return `${drawn * each} ${(1 - drawn) * each}`
}

function piecesOf({ outline, filled, tone, solid, check, ring }: Shape): Piece[] {
  const found: Piece[] = []
  if (outline) found.push({ d: closed(outline), fill: 'none', stroke: 'currentColor', strokeWidth: 2 })
  if (filled) found.push({ d: closed(filled), fill: 'currentColor', stroke: 'none', opacity: tone })
  if (solid) found.push({ d: closed(solid), fill: 'currentColor', stroke: 'none' })
  if (check) found.push({ d: line(check), fill: 'none', stroke: 'var(--surface)', strokeWidth: 2.2 })
  if (ring)
    found.push({
      d: circle(ring.radius),
      fill: 'none',
      stroke: 'currentColor',
      strokeWidth: ring.width,
      strokeDasharray: ring.dashes === undefined ? undefined : dashed(ring.radius, ring.dashes, ring.drawn ?? 1),
    })
  return found
}

/** A level as a shape with more corners the higher it is, which fills up: readable in grey, too. */
export const LEVEL_SHAPES: readonly Piece[][] = (shapes as Shape[]).map(piecesOf)

/** The same as a letter of the font of the Wall: hundreds of them move there, and letters move lightest. */
export const levelLetter = (level: number) => String.fromCharCode(0xe000 + level)
