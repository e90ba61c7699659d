import { readFileSync, readdirSync } from 'node:fs'
import path from 'node:path'
import ts from 'typescript'
import { describe, expect, it } from 'vitest'
import { DIRECTOR } from './director'
import { catalogue, t } from './words'

const HERE = path.dirname(new URL(import.meta.url).pathname)
type Sentences = Record<string, string>

function read(words: 'en' | 'uk'): Sentences {
  const found: Sentences = {}
  for (const file of readdirSync(path.join(HERE, words))) {
    const room = file.replace('.json', '')
    const sentences = JSON.parse(readFileSync(path.join(HERE, words, file), 'utf8')) as Sentences
    for (const [key, text] of Object.entries(sentences)) found[`${room}.${key}`] = text
  }
  return found
}

function sources(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const at = path.join(folder, entry.name)
    if (entry.isDirectory()) return entry.name === 'gen' ? [] : sources(at)
    return /\.tsx?$/.test(entry.name) && !entry.name.includes('.test.') ? [readFileSync(at, 'utf8')] : []
  })
}

const feature = (name: string) => path.join('features', name)
const placeholders = (text: string) => [...text.matchAll(/\{\{(\w+)\}\}/g)].map((match) => match[1]).sort()
const us = read('en')
const uk = read('uk')

/** The keys of an object literal, by name; a spread or anything else tells nothing. */
function namesOf(values: ts.Node | undefined): string[] {
  if (!values || !ts.isObjectLiteralExpression(values)) return []
  return values.properties.flatMap((one) => (one.name && ts.isIdentifier(one.name) ? one.name.text : []))
}

/** Every place where the page says a sentence: its keys, and the names of the values that it gives. */
function saidIn(source: string): { keys: string[]; given: string[] }[] {
  const found: { keys: string[]; given: string[] }[] = []
  const literals = (node: ts.Node): string[] =>
    ts.isStringLiteral(node)
      ? [node.text]
      : ts.isConditionalExpression(node)
        ? [...literals(node.whenTrue), ...literals(node.whenFalse)]
        : []
  const look = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && node.expression.getText() === 't' && node.arguments[0]) {
      found.push({ keys: literals(node.arguments[0]), given: namesOf(node.arguments[1]) })
    }
    if (ts.isJsxSelfClosingElement(node) && node.tagName.getText() === 'Say') {
      const attributes = node.attributes.properties.filter(ts.isJsxAttribute)
      const key = attributes.find((one) => one.name.getText() === 'it')?.initializer
      const values = attributes.find((one) => one.name.getText() === 'values')?.initializer
      found.push({
        keys: key ? literals(key) : [],
        given: values && ts.isJsxExpression(values) ? namesOf(values.expression) : [],
      })
    }
    ts.forEachChild(node, look)
  }
  look(ts.createSourceFile('page.tsx', source, ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX))
  return found
}

describe('the catalogue', () => {
  it('is given a value for each of its placeholders, and no other', () => {
    const wrong = sources(path.join(HERE, '..')).flatMap((source) =>
      saidIn(source).flatMap(({ keys, given }) =>
        keys.flatMap((key) => {
          const forms = [us[key], us[`${key}_one`], us[`${key}_other`]].filter((text) => text !== undefined)
          const wanted = new Set(forms.flatMap(placeholders))
          if (forms.length > 1) wanted.add('count')
          const names = [...new Set(given)].sort()
          return names.join() === [...wanted].sort().join() ? [] : [{ key, wanted: [...wanted], given }]
        }),
      ),
    )
    expect(wrong).toEqual([])
  })

  it('has no sentence that nothing says', () => {
    const page = sources(path.join(HERE, '..')).join('\n')
    const unused = Object.keys(us).filter(
      (key) =>
        !page.includes(`'${key.replace(/_(one|other)$/, '')}'`) &&
        !page.includes(`"${key.replace(/_(one|other)$/, '')}"`),
    )
    expect(unused).toEqual([])
  })

  it('lets a phone say no sentence of the desk, which it does not load', () => {
    const phone = ['shared', 'practice', 'app', ...['stand', 'today', 'takes', 'mymusic', 'signin'].map(feature)]
    const desk = new RegExp(`['"\`](${Object.keys(DIRECTOR).join('|')})\\.[A-Za-z]+['"\`]`, 'g')
    const said = phone.flatMap((room) => sources(path.join(HERE, '..', room)).flatMap((text) => text.match(desk) ?? []))
    expect(said).toEqual([])
    expect(`t('wall.student')`.match(desk)).not.toBeNull()
  })

  it('has every plural in both of its forms', () => {
    const stems = (form: string) =>
      Object.keys(us)
        .filter((key) => key.endsWith(form))
        .map((key) => key.slice(0, -form.length))
    expect(stems('_one').sort()).toEqual(stems('_other').sort())
  })

  it('has nothing for the UK alone, and the same numbers and names in both', () => {
    for (const [key, text] of Object.entries(uk)) {
      expect(us).toHaveProperty([key])
      expect(placeholders(text), key).toEqual(placeholders(us[key] ?? ''))
    }
  })

  it('leaves no US word for the UK to read', () => {
    const american =
      /\b(measures?|quarter notes?|quarters|eighths|sixteenths|half notes?|half steps?|eighths?|sixteenths?)\b/i
    // Where a school chooses its words, both stand side by side.
    const choice = Object.keys(us).find((key) => us[key] === 'US: measure, quarter note')
    const left = Object.entries(us).filter(
      ([key, text]) => key !== choice && american.test((uk[key] ?? text).replace(/\{\{.*?\}\}/g, '')),
    )
    expect(left).toEqual([])
  })

  it('puts numbers and names in, and chooses between one and many', () => {
    expect(t('hearing.slipsMarked', { count: 1 })).toBe('1 slip marked.')
    expect(t('hearing.slipsMarked', { count: 3 })).toBe('3 slips marked.')
  })

  it('speaks of bars in the UK, and falls back on the sentence of the US', () => {
    const british = catalogue.cloneInstance({ lng: 'en-GB' })
    expect(british.t('splitter.everySoManyMeasures')).toBe('Every so many bars')
    expect(british.t('desk.undo')).toBe('Undo')
  })
})
