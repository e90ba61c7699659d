import { RuleTester } from 'eslint'
import { describe, it } from 'vitest'
import rule from './featureWall.js'

RuleTester.describe = describe
RuleTester.it = it

new RuleTester().run('the wall between features', rule, {
  valid: [
    { filename: 'src/features/wall/Wall.tsx', code: "import { Grid } from './Grid'" },
    { filename: 'src/features/wall/Wall.tsx', code: "import { Level } from '../../shared/ui/Level'" },
    { filename: 'src/features/wall/Wall.tsx', code: "import { Button } from 'antd'" },
    { filename: 'src/app/App.tsx', code: "import('../features/wall/Wall')" },
  ],
  invalid: [
    {
      filename: 'src/features/today/Today.tsx',
      code: "import { Asked } from '../takes/Asked'",
      errors: [{ messageId: 'other' }],
    },
    {
      filename: 'src/features/today/deep/Line.tsx',
      code: "import { Asked } from '../../takes/Asked'",
      errors: [{ messageId: 'other' }],
    },
    {
      filename: 'src/features/today/Today.tsx',
      code: "export { Asked } from '../../features/takes/Asked'",
      errors: [{ messageId: 'other' }],
    },
    { filename: 'src/features/today/Today.tsx', code: "import('../takes/Asked')", errors: [{ messageId: 'other' }] },
    {
      filename: 'src/shared/ui/Line.tsx',
      code: "import { Asked } from '../../features/takes/Asked'",
      errors: [{ messageId: 'below' }],
    },
    {
      filename: 'src/practice/day.ts',
      code: "import { Asked } from '../features/takes/Asked'",
      errors: [{ messageId: 'below' }],
    },
  ],
})
