import { afterEach, beforeEach, expect, it } from 'vitest'
import { clearStage, setStage, stage } from '../testing/sounds'
import { chime } from './chime'
import { AudioClock } from './clock'
import { frequencyOf } from './voices'

beforeEach(setStage)
afterEach(clearStage)

it('ends the time that was planned with two falling notes', async () => {
  await chime(new AudioClock())
  expect(stage.tones.map((tone) => tone.pitch)).toEqual([frequencyOf(76), frequencyOf(72)])
  expect((stage.tones[1]?.at ?? 0) - (stage.tones[0]?.at ?? 0)).toBeCloseTo(0.35)
})
