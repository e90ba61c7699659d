/** What a person reads or hears comes from the catalogue in src/words: it is read as a whole, and said in US and UK words. */
const SPOKEN = new Set([
  'aria-label',
  'title',
  'label',
  'placeholder',
  'what',
  'description',
  'alt',
  'okText',
  'cancelText',
])
/** The name of a field goes to the server; that of a line of a chart is read. */
const isOfChart = (element) => element.attributes.some((one) => one.name?.name === 'dataKey')
const LETTERS = /\p{L}{2}/u

/** Signs and names that are the same in every catalogue. */
const SAME = new Set(['Crumb', 'MIDI', 'PIN', 'CSV'])

const isStyle = (element) => element.openingElement?.name.name === 'style'
const isRead = ({ parent: { parent: holder } }) => holder.type !== 'JSXAttribute' && !isStyle(holder)

export default {
  meta: {
    type: 'problem',
    schema: [],
    messages: { put: "Put '{{text}}' into the catalogue in src/words/en, and say it by its key." },
  },
  create(context) {
    const check = (node, text) => {
      const said = text.trim()
      if (LETTERS.test(said) && !SAME.has(said))
        context.report({ node, messageId: 'put', data: { text: said.slice(0, 40) } })
    }
    return {
      JSXText: (node) => {
        if (!isStyle(node.parent)) check(node, node.value)
      },
      JSXAttribute: (node) => {
        const isChartName = node.name.name === 'name' && isOfChart(node.parent)
        if (!isChartName && !SPOKEN.has(node.name.name)) return
        const value = node.value?.type === 'JSXExpressionContainer' ? node.value.expression : node.value
        if (value?.type === 'Literal' && typeof value.value === 'string') check(node, value.value)
        if (value?.type === 'TemplateLiteral') check(node, value.quasis.map((part) => part.value.raw).join(' '))
      },
      'JSXExpressionContainer > Literal': (node) => {
        if (typeof node.value === 'string' && isRead(node)) check(node, node.value)
      },
      'JSXExpressionContainer > TemplateLiteral': (node) => {
        if (isRead(node)) check(node, node.quasis.map((part) => part.value.raw).join(' '))
      },
    }
  },
}
