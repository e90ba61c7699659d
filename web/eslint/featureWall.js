import path from 'node:path'

/**
 * The wall between features: a feature uses what is shared, never another feature; what is shared
 * uses no feature at all. Paths are resolved, so that '../x/y' is seen for what it is.
 */
const FEATURES = `${path.sep}features${path.sep}`

/** The feature that a file is in; null outside of all. */
function featureOf(file) {
  const at = file.lastIndexOf(FEATURES)
  return at < 0 ? null : (file.slice(at + FEATURES.length).split(path.sep)[0] ?? null)
}

/** Rooms below the features: they know none. */
const BELOW = /[\\/]src[\\/](shared|practice|sound|api)[\\/]/

export default {
  meta: {
    type: 'problem',
    schema: [],
    messages: {
      other: "The feature '{{from}}' uses the feature '{{to}}'. What both want goes into shared.",
      below: "What is below the features uses the feature '{{to}}'.",
    },
  },
  create(context) {
    const file = path.resolve(context.filename)
    const from = featureOf(file)
    const isBelow = BELOW.test(file)
    const check = (node) => {
      const wanted = node.source?.value
      if (typeof wanted !== 'string' || !wanted.startsWith('.')) return
      const to = featureOf(path.resolve(path.dirname(file), wanted))
      if (to === null || to === from) return
      if (from !== null) context.report({ node, messageId: 'other', data: { from, to } })
      else if (isBelow) context.report({ node, messageId: 'below', data: { to } })
    }
    return {
      ImportDeclaration: check,
      ExportNamedDeclaration: check,
      ExportAllDeclaration: check,
      ImportExpression: check,
    }
  },
}
