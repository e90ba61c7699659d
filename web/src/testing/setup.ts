import { cleanup, configure } from '@testing-library/react'
import { afterEach, vi } from 'vitest'
import '../words/director'

// A busy machine is slow, not wrong.
configure({ asyncUtilTimeout: 20_000 })
afterEach(cleanup)

/** There is nothing to scroll here. */
Element.prototype.scrollIntoView = () => undefined

/** Ant Design asks for the width of the screen; here there is none. */
vi.stubGlobal('matchMedia', () => ({
  matches: false,
  addListener: () => undefined,
  removeListener: () => undefined,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
}))
