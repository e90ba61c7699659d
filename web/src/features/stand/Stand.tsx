import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { useNavigate, useParams } from 'react-router'
import { ask } from '../../api/ask'
import { getStand, type Me } from '../../api/gen'
import { Failed, Loading } from '../../shared/ui/states'
import { StandView } from './StandView'

const PHONE = 700

export default function Stand({ me }: { me: Me }) {
  const { itemId = '' } = useParams()
  const navigate = useNavigate()
  const client = useQueryClient()
  const layout = window.innerWidth < PHONE ? 'phone-snippet' : 'snippet'
  const stand = useQuery({
    queryKey: ['stand', itemId, layout],
    queryFn: () => ask(getStand({ path: { item_id: itemId }, query: { layout } })),
    gcTime: 0,
  })
  useEffect(() => () => void client.invalidateQueries({ queryKey: ['today'] }), [client])
  if (stand.isPending) return <Loading what="Opening the music" />
  if (stand.isError) return <Failed error={stand.error} retry={() => void stand.refetch()} />
  return <StandView key={itemId} me={me} stand={stand.data} leave={() => void navigate('/')} />
}
