import { useQuery } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { ask, said } from '../../api/ask'
import { getSheet } from '../../api/gen'
import { keys } from '../../api/keys'
import { Loading } from '../../shared/ui/states'
import { TickForm } from './TickForm'
import { t } from '../../words/words'
import { Say } from '../../words/Say'
import './sheets.css'

/** A sheet is found by the code printed on it. */
export default function Sheets() {
  const { code = '' } = useParams()
  const navigate = useNavigate()
  const [typed, setTyped] = useState('')
  const sheet = useQuery({
    queryKey: keys.sheet(code),
    queryFn: () => ask(getSheet({ path: { code } })),
    enabled: code !== '',
    retry: false,
  })
  return (
    <div className="page narrow">
      <h1>{t('sheets.practiceSheets')}</h1>
      <form
        className="code-form"
        onSubmit={(event) => {
          event.preventDefault()
          const wanted = typed.replaceAll(/\s/g, '').toUpperCase()
          setTyped('')
          if (wanted) void navigate(`/sheets/${encodeURIComponent(wanted)}`)
        }}
      >
        <label className="field">
          <span>{t('sheets.codeOnTheSheet')}</span>
          <Input
            aria-label={t('sheets.codeOnTheSheet')}
            autoFocus
            autoCapitalize="characters"
            autoComplete="off"
            size="large"
            maxLength={12}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <Button type="primary" size="large" htmlType="submit" disabled={typed.trim() === ''}>
          {t('sheets.findIt')}
        </Button>
      </form>
      {code === '' && (
        <p className="muted">
          <Say it="sheets.youPrintSheetsFromAssignmentsType" components={[<Link to="/sent" />]} />
        </p>
      )}
      {code !== '' && sheet.isPending && <Loading what={t('sheets.loadingTheSheet')} />}
      {sheet.isError && (
        <p className="refusal" role="alert">
          {said(sheet.error)}
        </p>
      )}
      {sheet.data && <TickForm key={sheet.data.code} sheet={sheet.data} />}
    </div>
  )
}
