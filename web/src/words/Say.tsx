import type { ReactElement } from 'react'
import { Trans } from 'react-i18next'
import { catalogue, type Key, type Values } from './words'

interface Props {
  it: Key
  values?: Values
  /** What stands for <0>, <1> … in the sentence: a link, a key to press, a number in bold. */
  components: ReactElement[]
}

/** A sentence of the catalogue with elements inside it. */
export function Say({ it, values = {}, components }: Props) {
  const key: string = it
  return <Trans i18n={catalogue} i18nKey={key} values={values} components={components} />
}
