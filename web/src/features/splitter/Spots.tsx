import { memo, useMemo } from 'react'
import type { KinOut, MeasureOut, SurveyOut } from '../../api/gen'
import { isSameTime } from '../../shared/pure/fraction'
import { xOf, type MeasureBox } from '../../shared/pure/scoreMap'

interface Props {
  boxes: MeasureBox[]
  measures: MeasureOut[]
  survey: SurveyOut
  kin: KinOut | undefined
  partId: string
  width: number
  height: number
}

/** Only the heaviest few are drawn: a sign at every note says nothing. */
const SHARE = 0.12
const LEAST = 0.5

/** Hot spots under the staff (the heavier the larger), and both ends of the kin link in hand. */
export const Spots = memo(function Spots({ boxes, measures, survey, kin, partId, width, height }: Props) {
  const least = useMemo(() => leastDrawn(survey), [survey])
  return (
    <svg className="brackets spots" width={width} height={height} aria-hidden="true">
      {kin &&
        [kin.a, kin.b].map(
          (end, i) => end.part_id === partId && <KinEnd key={i} boxes={boxes} first={end.first} last={end.last} />,
        )}
      {boxes.map((box) => {
        const spots = (survey.measures[box.index]?.spots ?? []).filter((spot) => spot.weight >= least)
        return spots.map((spot, i) => {
          const note = box.points.find((point) => isSameTime(point.at, spot.at.at))
          const x = (note?.x ?? xOf(box, spot.at.at, measures[box.index]?.length ?? '0', true)) + 6
          const size = Math.min(3 + spot.weight * 1.6, 7)
          return (
            <path
              key={`${box.index}-${i}`}
              className="spot"
              d={`M${x - size} ${box.bottom + 12 + size}h${2 * size}l${-size} ${-2 * size}z`}
            >
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
      <rect
        key={box.index}
        className="kin-end"
        x={box.left}
        y={box.top - 10}
        width={box.right - box.left}
        height={box.bottom - box.top + 20}
      />
    ))
}

function leastDrawn(survey: SurveyOut): number {
  const weights = survey.measures.flatMap((m) => m.spots.map((s) => s.weight)).sort((a, b) => b - a)
  const last = Math.max(Math.round(survey.measures.length * SHARE * 4), 8)
  return Math.max(weights[Math.min(last, weights.length - 1)] ?? LEAST, LEAST)
}
