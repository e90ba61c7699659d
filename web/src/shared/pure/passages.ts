import type { MyPartOut, OwedOut, AskedPassageOut } from '../../api/gen'

/** What can be recorded of a part: its chunks, and what was asked for beside them. */
export function recordable(part: MyPartOut, asked: OwedOut[]): { id: string; label: string }[] {
  const chunks = part.chunks.map((chunk) => ({ id: chunk.id, label: chunk.label.replace('→', '') }))
  const known = new Set(chunks.map((chunk) => chunk.id))
  const others = passagesOf(asked).filter((passage) => passage.part_id === part.part_id && !known.has(passage.chunk_id))
  const byId = new Map(
    others.map((passage) => [passage.chunk_id, { id: passage.chunk_id, label: passage.label.replace('→', '') }]),
  )
  return [...chunks, ...byId.values()]
}

export function passagesOf(asked: OwedOut[]): AskedPassageOut[] {
  return asked.flatMap((task) => task.things.flatMap((thing) => thing.either))
}

/** A passage as it is said where several pieces are asked for: Lantern Etude 13–14, or its run-through. */
export function passageName(passage: AskedPassageOut): string {
  return `${passage.title} ${passage.label.replace('→', '')}`
}
