import { existsSync, readFileSync, readdirSync } from 'node:fs'
import path from 'node:path'
import { expect, it } from 'vitest'

const SOURCES = path.join(path.dirname(new URL(import.meta.url).pathname), '..', '..')

/** A file that a style names and that is not there is left out of the build without a word. */
it('every file that a style names is there: the shapes of levels are a font', () => {
  const styles = readdirSync(SOURCES, { recursive: true, encoding: 'utf8' }).filter((file) => file.endsWith('.css'))
  const named = styles.flatMap((style) =>
    [...readFileSync(path.join(SOURCES, style), 'utf8').matchAll(/url\('(\.[^'?]*)/g)].map((match) =>
      path.join(SOURCES, path.dirname(style), match[1] ?? ''),
    ),
  )
  expect(named.length).toBeGreaterThan(0)
  expect(named.filter((file) => !existsSync(file))).toEqual([])
})
