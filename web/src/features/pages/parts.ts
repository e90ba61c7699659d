/** Pages of a set taken apart into parts: what the thumbnails show, and what an act makes of it. */
import type { BeginsOut, PageOut, PageWishIn } from '../../api/gen'

export interface PartOfPages {
  begins: BeginsOut
  /** Places of its pages among all, those that are left out among them. */
  places: number[]
}

/** The parts, in order. Pages before the first beginning belong to the first part. */
export function partsOf(pages: PageOut[]): PartOfPages[] {
  const found: PartOfPages[] = []
  pages.forEach((page, place) => {
    const last = found.at(-1)
    if (page.begins && !page.is_left_out) found.push({ begins: page.begins, places: [place] })
    else if (last) last.places.push(place)
    else found.push({ begins: { name: 'Part 1', played_on: 'Instrument', section_id: null }, places: [place] })
  })
  return found
}

export const wishOf = (page: PageOut): PageWishIn => ({
  id: page.id,
  is_left_out: page.is_left_out,
  begins: page.begins,
})

/** All pages, one of them changed. */
export function changed(pages: PageOut[], place: number, change: Partial<PageWishIn>): PageWishIn[] {
  return pages.map((page, at) => (at === place ? { ...wishOf(page), ...change } : wishOf(page)))
}

/**
 * A part begins at a page, or no longer does. Where the beginning is dragged to another page of its
 * part or of the one before, its name goes along.
 */
export function moveBeginning(pages: PageOut[], from: number, to: number): PageWishIn[] {
  const begins = pages[from]?.begins ?? null
  if (from === to || !begins || pages[to]?.begins) return pages.map(wishOf)
  return pages.map((page, at) => ({
    ...wishOf(page),
    begins: at === from ? null : at === to ? begins : page.begins,
  }))
}

/** A page one place to the left or to the right; where a part begins stays where it was. */
export function movePage(pages: PageOut[], place: number, by: -1 | 1): PageWishIn[] {
  const other = place + by
  const wishes = pages.map(wishOf)
  const [a, b] = [wishes[place], wishes[other]]
  if (!a || !b) return wishes
  wishes[place] = { ...b, begins: a.begins ?? null }
  wishes[other] = { ...a, begins: b.begins ?? null }
  return wishes
}
