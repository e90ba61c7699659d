import { useEffect, useState, type RefObject } from 'react'
import { mapScore, type MeasureBox } from '../pure/scoreMap'

/** Where the measures of an engraved score lie on the screen, at whatever width it has. */
export function useScoreBoxes(score: RefObject<HTMLDivElement | null>, svg: string) {
  const [boxes, setBoxes] = useState<MeasureBox[]>([])
  const [size, setSize] = useState({ width: 0, height: 0 })
  useEffect(() => {
    const element = score.current
    if (!element) return
    const observer = new ResizeObserver(() => {
      setBoxes(mapScore(element))
      setSize({ width: element.clientWidth, height: element.clientHeight })
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [score, svg])
  return { boxes, size }
}
