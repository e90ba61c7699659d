import { RuleTester } from 'eslint'
import { describe, it } from 'vitest'
import rule from './catalogueOnly.js'

RuleTester.describe = describe
RuleTester.it = it

const page = { languageOptions: { parserOptions: { ecmaFeatures: { jsx: true } } } }

new RuleTester(page).run('catalogue-only', rule, {
  valid: [
    "const a = <p>{t('desk.title')}</p>",
    "const a = <button aria-label={t('desk.undo')} className='as link'>×</button>",
    "const a = <input name='class_code' />",
    'const a = <b>{minutes} · {place}</b>',
  ],
  invalid: [
    { code: 'const a = <p>Nothing needs you today.</p>', errors: [{ messageId: 'put' }] },
    { code: "const a = <button aria-label='Undo'>↶</button>", errors: [{ messageId: 'put' }] },
    { code: 'const a = <input placeholder={`Find ${what}`} />', errors: [{ messageId: 'put' }] },
    { code: "const a = <Line dataKey='solid' name='solid' />", errors: [{ messageId: 'put' }] },
    { code: "const a = <p>{'Nothing yet'}</p>", errors: [{ messageId: 'put' }] },
  ],
})
