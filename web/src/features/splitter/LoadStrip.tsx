import { memo } from 'react'
import type { ChunkOut, MeasureOut, SurveyOut } from '../../api/gen'
import { t } from '../../words/words'

interface Props {
  survey: SurveyOut
  measures: MeasureOut[]
  chunks: ChunkOut[]
  cursor: number
  goTo: (index: number) => void
}

const HEIGHT = 46

/** The whole part in one strip: how hard each measure is, where the chunks end, where the crux is. */
export const LoadStrip = memo(function LoadStrip({ survey, measures, chunks, cursor, goTo }: Props) {
  const count = survey.measures.length
  const most = Math.max(...survey.measures.map((m) => m.load), 0.001)
  const width = 1000 / count
  return (
    <div className="strip-row">
      <svg
        className="strip"
        viewBox={`0 0 1000 ${HEIGHT + 8}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`${t('splitter.loadOfEachMeasureTheHardest')} ${survey.crux_number}`}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect()
          goTo(Math.min(count - 1, Math.floor(((event.clientX - box.left) / box.width) * count)))
        }}
      >
        {survey.measures.map((measure, index) => {
          const height = Math.max((measure.load / most) * HEIGHT, 0.6)
          return (
            <rect
              key={index}
              className={index === survey.crux ? 'bar crux' : 'bar'}
              x={index * width + width * 0.08}
              y={HEIGHT - height}
              width={width * 0.84}
              height={height}
            >
              <title>
                {t('splitter.measureOfNumberReasonsOf', {
                  number: measures[index]?.number ?? '',
                  reasonsOf: reasonsOf(measure.spots.map((s) => s.why)),
                })}
              </title>
            </rect>
          )
        })}
        {chunks.slice(1).map((chunk) => (
          <path key={chunk.id} className="strip-edge" d={`M${chunk.start.index * width} ${HEIGHT}v8`} />
        ))}
        <rect className="strip-cursor" x={cursor * width} y={0} width={width} height={HEIGHT + 8} />
      </svg>
    </div>
  )
})

function reasonsOf(whys: string[]): string {
  const counts = new Map<string, number>()
  for (const why of whys) counts.set(why, (counts.get(why) ?? 0) + 1)
  const told = [...counts].map(([why, n]) => (n > 1 ? t('splitter.timesOfWhyN', { why, n }) : why))
  return told.slice(0, 4).join('; ') || t('splitter.nothingSpecialLower')
}
