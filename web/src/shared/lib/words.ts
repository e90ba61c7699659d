/** School English of the US, in which the interface is written, and of the UK where it differs. */
import { skipToken, useQuery } from '@tanstack/react-query'
import type { Me } from '../../api/gen'
import { keys } from '../../api/keys'

const UK: Record<string, string> = {
  measure: 'bar',
  measures: 'bars',
  'quarter note': 'crotchet',
  quarter: 'crotchet',
  quarters: 'crotchets',
  halves: 'minims',
  eighths: 'quavers',
  sixteenths: 'semiquavers',
}
const WORD = new RegExp(
  `\\b(${Object.keys(UK)
    .sort((a, b) => b.length - a.length)
    .join('|')})\\b`,
  'gi',
)

/** A sentence of ours in the words of a school; what somebody else wrote is never passed here. */
export function saidIn(words: Me['words'] | undefined, text: string): string {
  if (words !== 'uk') return text
  return text.replace(WORD, (word) => {
    const other = UK[word.toLowerCase()] ?? word
    return word[0] === word[0]?.toUpperCase() ? other.charAt(0).toUpperCase() + other.slice(1) : other
  })
}

/** Says the interface's own sentences in the words of the school that is signed in. */
export function useWords(): (text: string) => string {
  // Whoever signs in is asked for elsewhere; here it is only read.
  const me = useQuery<Me | null>({ queryKey: keys.me, queryFn: skipToken })
  return (text) => saidIn(me.data?.words, text)
}
