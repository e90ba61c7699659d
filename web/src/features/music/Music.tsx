import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Upload } from 'antd'
import { Link } from 'react-router'
import { ask, said } from '../../api/ask'
import { listPieces, uploadPiece, type PartOut, type PieceOut } from '../../api/gen'
import { bpm } from '../../shared/lib/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { keyName } from './keys'

const pieceKeys = { all: ['pieces'] as const }

export default function Music() {
  const client = useQueryClient()
  const pieces = useQuery({ queryKey: pieceKeys.all, queryFn: () => ask(listPieces()) })
  const upload = useMutation({
    mutationFn: (file: File) => ask(uploadPiece({ body: { file } })),
    onSuccess: () => client.invalidateQueries({ queryKey: pieceKeys.all }),
  })
  const bring = (
    <Upload
      accept=".musicxml,.mxl,.xml"
      showUploadList={false}
      customRequest={({ file }) => upload.mutate(file as File)}
    >
      <Button type="primary" size="large" loading={upload.isPending}>
        Bring in a part
      </Button>
    </Upload>
  )
  return (
    <div className="page">
      <div className="page-head">
        <div>
          <h1>Music</h1>
          <p className="lead">MusicXML (.musicxml) or its compressed kind (.mxl), from any notation program.</p>
        </div>
        {bring}
      </div>
      {upload.isError && (
        <Alert type="error" showIcon closable title={said(upload.error)} description="Nothing was stored." role="alert" />
      )}
      {upload.isSuccess && (
        <Alert
          type="success"
          showIcon
          closable
          role="status"
          title={`${upload.data.title} is here.`}
          description={<Findings parts={upload.data.parts} />}
        />
      )}
      {pieces.isPending && <Loading what="Looking through the library" />}
      {pieces.isError && <Failed error={pieces.error} retry={() => void pieces.refetch()} />}
      {pieces.data?.length === 0 && (
        <Empty title="No music yet">
          <p>Bring in an etude or a part: it is read, engraved large, and ready to be split.</p>
        </Empty>
      )}
      <ul className="pieces">
        {pieces.data?.map((piece) => <PieceCard key={piece.id} piece={piece} />)}
      </ul>
    </div>
  )
}

function Findings({ parts }: { parts: PartOut[] }) {
  const found = parts.flatMap((part) => part.findings.map((text) => `${part.name}: ${text}`))
  if (found.length === 0) return <>Every measure adds up.</>
  return (
    <ul>
      {found.map((text) => (
        <li key={text}>{text}</li>
      ))}
    </ul>
  )
}

function PieceCard({ piece }: { piece: PieceOut }) {
  return (
    <li className="piece">
      <h2>{piece.title}</h2>
      <p className="muted">{piece.composer || piece.file_name}</p>
      <table className="plain">
        <thead>
          <tr>
            <th>Part</th>
            <th>Key as written</th>
            <th>Meter</th>
            <th>Goal</th>
            <th>Measures</th>
            <th>
              <span className="visually-hidden">Go to</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {piece.parts.map((part) => (
            <tr key={part.id}>
              <td>
                <Link to={`/parts/${part.id}/split`}>{part.name}</Link>
                {part.instrument !== part.name && <span className="muted"> · {part.instrument}</span>}
              </td>
              <td>{keyName(part.key_fifths, part.mode)}</td>
              <td>{part.time}</td>
              <td>{bpm(part.goal_bpm)}</td>
              <td>
                {part.measures}
                {part.has_pickup && <span className="muted"> with pickup, last is {part.last_number}</span>}
              </td>
              <td>
                <Link to={`/parts/${part.id}/split`}>Open</Link>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </li>
  )
}
