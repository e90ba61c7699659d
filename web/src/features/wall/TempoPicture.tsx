import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  Tooltip,
  XAxis,
  YAxis,
  ZAxis,
} from 'recharts'
import type { EvidenceOut } from '../../api/gen'
import { bpm, day } from '../../shared/pure/time'
import { t } from '../../words/words'

interface Point {
  at: number
  band?: [number, number]
  secure?: number
  solid?: number
  clean?: number
  slip?: number
}

const A_DAY = 24 * 3600 * 1000

/** Tempo over days: passes of the chunk by tempo, what was solid, what was secure, and the goal. */
export function TempoPicture({ evidence }: { evidence: EvidenceOut }) {
  const points = pointsOf(evidence)
  if (points.length === 0) return null
  const goal = evidence.secure?.goal
  const tempos = points.flatMap((p) => [p.clean, p.slip]).filter((tempo) => tempo !== undefined)
  const low = Math.floor((Math.min(...tempos, goal ?? 400) - 8) / 10) * 10
  const high = Math.ceil((Math.max(...tempos, goal ?? 0) + 15) / 10) * 10
  const played = new Set(evidence.passes.map((one) => one.day)).size
  const clean = evidence.passes.reduce((sum, one) => sum + one.clean, 0)
  const slips = evidence.passes.reduce((sum, one) => sum + one.slips, 0)
  const last = evidence.days.at(-1)
  const said = t('wall.cleanAndSlippedPassesOnDays', {
    clean,
    slips,
    played,
    solid: last?.solid ? t('wall.solidAt', { solid: bpm(last.solid) }) : t('wall.nothingSolidYet'),
    goal: goal ? t('wall.goalOfGoal', { goal: bpm(goal) }) : '',
  })
  return (
    <figure className="tempo-picture">
      <div role="img" aria-label={said} style={{ height: 230 }}>
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart data={points} margin={{ top: 8, right: 12, bottom: 0, left: -12 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis
              dataKey="at"
              type="number"
              domain={['dataMin - 43200000', 'dataMax + 43200000']}
              tickFormatter={(at: number) =>
                new Date(at).toLocaleDateString(undefined, { month: 'short', day: 'numeric' })
              }
              stroke="var(--muted)"
              tickCount={5}
            />
            <YAxis domain={[low, high]} allowDataOverflow tickCount={6} stroke="var(--muted)" />
            <ZAxis range={[26, 26]} />
            <Tooltip
              formatter={tempoSaid}
              labelFormatter={(at) => day(new Date(Number(at)).toISOString().slice(0, 10))}
              contentStyle={{ background: 'var(--surface)', border: '1px solid var(--line)', color: 'var(--ink)' }}
            />
            <Area
              dataKey="band"
              name={t('wall.secureBetween')}
              stroke="none"
              fill="var(--deep)"
              fillOpacity={0.18}
              connectNulls
              isAnimationActive={false}
            />
            <Line
              dataKey="secure"
              name={t('wall.secureTempo')}
              stroke="var(--deep)"
              strokeDasharray="5 3"
              dot={false}
              connectNulls
              isAnimationActive={false}
            />
            <Line
              dataKey="solid"
              name={t('wall.solidTempo')}
              type="stepAfter"
              stroke="var(--ink)"
              strokeWidth={2}
              dot={false}
              connectNulls
              isAnimationActive={false}
            />
            <Scatter
              dataKey="clean"
              name={t('wall.cleanPass')}
              fill="var(--deep)"
              shape="circle"
              isAnimationActive={false}
            />
            <Scatter
              dataKey="slip"
              name={t('wall.slippedPass')}
              fill="var(--warm)"
              shape="cross"
              isAnimationActive={false}
            />
            {goal !== undefined && (
              <ReferenceLine
                y={goal}
                stroke="var(--warm)"
                label={{
                  value: t('wall.goalOfGoal2', { goal: bpm(goal) }),
                  position: 'insideBottomRight',
                  fill: 'var(--warm)',
                }}
              />
            )}
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="muted">{t('wall.cleanSlipTheLineIsThe', { said })}</figcaption>
    </figure>
  )
}

/** A line of the tooltip: a tempo, or the range of a band. A dot's place in time is no tempo: it has no line. */
export function tempoSaid(value: unknown, name: unknown, item: { dataKey?: unknown }): [string, string] | null {
  if (item.dataKey === 'at') return null
  const tempos = (Array.isArray(value) ? value : [value]).map((tempo) => Math.round(Number(tempo)))
  return [tempos.join('–'), String(name)]
}

function noon(date: string): number {
  return new Date(`${date}T12:00:00Z`).getTime()
}

function pointsOf(evidence: EvidenceOut): Point[] {
  const days: Point[] = evidence.days
    .filter((one) => one.secure !== null)
    .map((one) => ({
      at: noon(one.day) + A_DAY / 3,
      ...(one.low !== null && one.high !== null ? { band: [one.low, one.high] as [number, number] } : {}),
      ...(one.secure !== null ? { secure: one.secure } : {}),
      ...(one.solid !== null ? { solid: one.solid } : {}),
    }))
  // At each tempo of a day a dot and a cross at most, the slow ones first, beside each other: what a
  // year of practice leaves is still a picture.
  const byDay = new Map<string, number>()
  const passes: Point[] = evidence.passes.flatMap((one) => {
    const place = byDay.get(one.day) ?? 0
    byDay.set(one.day, place + 1)
    const at = noon(one.day) - A_DAY / 3 + (place % 12) * (A_DAY / 20)
    return [
      ...(one.clean > 0 ? [{ at, clean: one.tempo }] : []),
      ...(one.slips > 0 ? [{ at: at + A_DAY / 3, slip: one.tempo }] : []),
    ]
  })
  return [...days, ...passes].sort((a, b) => a.at - b.at)
}
