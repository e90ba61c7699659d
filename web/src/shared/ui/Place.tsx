/** The name of a place in the music; what its signs mean is told on hover and to screen readers. */
export function Place({ name, tab = name }: { name: string; tab?: string }) {
  const said = explained(name, tab)
  return said ? <span title={said}>{tab}</span> : <>{tab}</>
}

/** What a name's signs mean, in words; empty where it has none. */
export function explained(name: string, tab: string = name): string {
  const lines = tab === name ? [] : [name]
  if (name.includes('→')) lines.push('→ runs into the next note and stops on it: its landing')
  return lines.join('. ')
}
