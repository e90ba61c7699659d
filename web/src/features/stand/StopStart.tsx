import { Button } from 'antd'
import { useEffect, useState } from 'react'
import type { StepOut } from '../../api/gen'
import { fragmentsOf, onceMore, START, TIMES, type Bookmark } from '../../practice/fragments'
import type { SyncQueue } from '../../practice/syncQueue'
import { write } from '../../shared/hooks/diary'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

const kept = (itemId: string) => `crumb.bookmark.${itemId}`

function readBookmark(itemId: string): Bookmark {
  try {
    return (JSON.parse(localStorage.getItem(kept(itemId)) ?? 'null') as Bookmark | null) ?? START
  } catch {
    return START
  }
}

/** Where one is in the fragments of a step; the bookmark stays on the device until another day. */
export function useFragments(itemId: string, step: StepOut | undefined, queue: SyncQueue) {
  const [mark, setMark] = useState(() => readBookmark(itemId))
  const fragments = fragmentsOf([...new Set(step?.sounds.map((sound) => sound.note) ?? [])])
  const place = Math.min(mark.fragment, fragments.length - 1)
  function move(next: Bookmark) {
    setMark(next)
    try {
      localStorage.setItem(kept(itemId), JSON.stringify(next))
    } catch {
      // No room: the diary has it.
    }
    if (next.fragment !== mark.fragment) {
      write(queue, { kind: 'bookmark', fragment: next.fragment, of: fragments.length, times: next.times }, itemId)
    }
  }
  return {
    notes: fragments[place] ?? [],
    place,
    of: fragments.length,
    times: mark.times,
    once: () => move(onceMore(mark, fragments.length)),
    go: (fragment: number) => move({ fragment: Math.min(Math.max(fragment, 0), fragments.length - 1), times: 0 }),
  }
}

export type Fragments = ReturnType<typeof useFragments>

export function StopStart({ fragments }: { fragments: Fragments }) {
  const { place, of, times, once, go, notes } = fragments
  useEffect(() => {
    const elements = notes.flatMap((id) => [...document.querySelectorAll(`.stand-music [id="${CSS.escape(id)}"]`)])
    elements.forEach((one) => one.classList.add('fragment'))
    return () => elements.forEach((one) => one.classList.remove('fragment'))
  }, [notes])
  return (
    <>
      <p className="told" role="status">
        {t('stand.fragmentOfOfTimesStopOn', { fragment: place + 1, of, times, TIMES })}
      </p>
      <section className="pad" aria-label={t('stand.stopAndStart')}>
        <Button onClick={() => go(place - 1)} disabled={place === 0}>
          {t('stand.back')}
        </Button>
        <Button onClick={() => go(place + 1)} disabled={place >= of - 1}>
          {t('stand.skip')}
        </Button>
        <button type="button" className="clean" onClick={once}>
          <Say it="stand.once" components={[<kbd />]} />
        </button>
      </section>
    </>
  )
}
