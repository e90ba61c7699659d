import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import type { Me } from '../../api/gen'
import { keys } from '../../api/keys'
import { anyStand, standQuery } from '../../shared/hooks/stand.queries'
import { Failed, Loading } from '../../shared/ui/states'
import { StandView } from './StandView'
import { t } from '../../words/words'
import './stand.css'

export default function Stand({ me }: { me: Me }) {
  const { itemId = '' } = useParams()
  return <OneStand key={itemId} me={me} itemId={itemId} />
}

function OneStand({ me, itemId }: { me: Me; itemId: string }) {
  const navigate = useNavigate()
  const client = useQueryClient()
  const stand = useQuery({
    ...standQuery(itemId),
    placeholderData: () => anyStand(client, itemId),
    refetchOnMount: 'always',
  })
  const begun = useRef(false)
  const [shown, setShown] = useState(stand.data)
  useEffect(() => {
    // What the server says anew is shown as long as nothing was counted on what was there before.
    if (stand.data && !begun.current) setShown(stand.data)
  }, [stand.data])
  useEffect(() => () => void client.invalidateQueries({ queryKey: keys.today }), [client])
  const onBegun = useCallback(() => {
    begun.current = true
  }, [])
  if (shown) return <StandView me={me} stand={shown} leave={() => void navigate('/')} onBegun={onBegun} />
  if (stand.isError) return <Failed error={stand.error} retry={() => void stand.refetch()} />
  return <Loading what={t('stand.loadingTheMusic')} />
}
