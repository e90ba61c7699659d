/** Music between two holds, for who stands on one and looks ahead. */

/** Notes and rests of each stretch: up to the hold, that one included. One stretch where nobody stops. */
export function stretchesOf(sheet: ParentNode): Element[][] {
  const stretches: Element[][] = [[]]
  for (const measure of sheet.querySelectorAll('g.measure')) {
    const notes = [...measure.querySelectorAll('g.note, g.chord, g.rest')].map((element) => ({
      element,
      at: middle(element.querySelector('.notehead') ?? element),
    }))
    const holds = [...measure.querySelectorAll('g.fermata')].map((hold) => nearest(notes, middle(hold)))
    for (const note of notes.sort((a, b) => a.at - b.at)) {
      stretches.at(-1)?.push(note.element)
      if (holds.includes(note.element)) stretches.push([])
    }
  }
  return stretches.filter((stretch) => stretch.length > 0)
}

function nearest(notes: { element: Element; at: number }[], at: number): Element | undefined {
  return [...notes].sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at))[0]?.element
}

function middle(element: Element): number {
  const box = element.getBoundingClientRect()
  return (box.left + box.right) / 2
}

/** What stands on the sheet while only one stretch is shown: its notes and the chords and beams they hang on. */
export function showOnly(sheet: ParentNode, stretch: Element[]): () => void {
  const shown = [...stretch, ...sheet.querySelectorAll('g.beam, g.chord')].filter((one) =>
    stretch.some((note) => one === note || one.contains(note)),
  )
  shown.forEach((one) => one.classList.add('ahead'))
  return () => shown.forEach((one) => one.classList.remove('ahead'))
}
