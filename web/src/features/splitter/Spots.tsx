import { memo } from 'react'
import type { KinOut, MeasureOut, SurveyOut } from '../../api/gen'
import { xOf, type MeasureBox } from './scoreMap'

interface Props {
  boxes: MeasureBox[]
  measures: MeasureOut[]
  survey: SurveyOut
  kin: KinOut | undefined
  partId: string
  width: number
  height: number
}

const LEAST = 0.55

/** Hot spots under the staff (the heavier the larger), and both ends of the kin link in hand. */
export const Spots = memo(function Spots({ boxes, measures, survey, kin, partId, width, height }: Props) {
  return (
    <svg className="brackets spots" width={width} height={height} aria-hidden="true">
      {kin && [kin.a, kin.b].map((end, i) => end.part_id === partId && <KinEnd key={i} boxes={boxes} first={end.first} last={end.last} />)}
      {boxes.map((box) => {
        const spots = (survey.measures[box.index]?.spots ?? []).filter((spot) => spot.weight >= LEAST)
        return spots.map((spot, i) => {
          const x = xOf(box, spot.at.at, measures[box.index]?.length ?? '0', false) + 10
          const size = Math.min(3 + spot.weight * 1.6, 7)
          return (
            <path key={`${box.index}-${i}`} className="spot" d={`M${x - size} ${box.bottom + 12 + size}h${2 * size}l${-size} ${-2 * size}z`}>
              <title>{spot.why}</title>
            </path>
          )
        })
      })}
    </svg>
  )
})

function KinEnd({ boxes, first, last }: { boxes: MeasureBox[]; first: number; last: number }) {
  return boxes
    .filter((box) => box.index >= first && box.index <= last)
    .map((box) => (
      <rect key={box.index} className="kin-end" x={box.left} y={box.top - 10} width={box.right - box.left} height={box.bottom - box.top + 20} />
    ))
}
