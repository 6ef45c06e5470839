import { useQuery } from '@tanstack/react-query'
import * as limits from '../api/generated/limits'
import type { Corrections, Preview } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { isNumeric } from '../fields'
import { startingQuery } from '../sheet/queries'
import { Encodings } from './Encodings'

const DELIMITERS: [string, string][] = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['\t', 'tab'],
  ['|', 'bar'],
]
const NOWHERE = ' '
/** What was chosen of columns that are others now. */
const ANEW = { types: {}, x: null, y: null, shape: null, fields: null } satisfies Partial<Corrections>

interface Props {
  upload: string
  preview: Preview
  onChange: (values: Partial<Corrections>) => void
}

/** How a table of cells is read: its text or sheet, and the columns that make shapes. */
export function CellCorrections({ upload, preview, onChange }: Props) {
  const columns: [string, string][] = [
    [NOWHERE, 'no coordinates'],
    ...preview.fields.filter(isNumeric).map(({ name }): [string, string] => [name, name]),
  ]
  const texts = [
    ...(preview.shape ? [preview.shape] : []),
    ...preview.fields.filter(({ type }) => type === 'text').map(({ name }) => name),
  ].map((name): [string, string] => [name, name])
  const place = (values: { x?: string; y?: string }) => {
    const x = values.x ?? preview.x ?? NOWHERE
    const y = values.y ?? preview.y ?? NOWHERE
    onChange({
      x: x === NOWHERE ? null : x,
      y: y === NOWHERE ? null : y,
      shape: null,
      located: x !== NOWHERE && y !== NOWHERE ? null : false,
    })
  }
  return (
    <>
      {preview.encoding != null && <TextDialect upload={upload} preview={preview} onChange={onChange} />}
      {preview.header_row != null && (
        <Labelled label="Names in row">
          <EditableNumber
            label="Row with the names of the columns, 0 for none"
            value={preview.header_row}
            limits={limits.Corrections.header_row}
            onChange={(header_row) => onChange({ ...ANEW, header_row })}
            width={60}
          />
        </Labelled>
      )}
      {!preview.shape && (
        <>
          <Choice
            label="x, easting"
            value={preview.located ? (preview.x ?? NOWHERE) : NOWHERE}
            options={columns}
            onChange={(x) => place({ x })}
          />
          <Choice
            label="y, northing"
            value={preview.located ? (preview.y ?? NOWHERE) : NOWHERE}
            options={columns}
            onChange={(y) => place({ y })}
          />
        </>
      )}
      {texts.length > 0 && (
        <Choice
          label="Shapes in"
          value={preview.shape ?? NOWHERE}
          options={[[NOWHERE, 'no column'], ...texts]}
          onChange={(name) =>
            onChange(
              name === NOWHERE
                ? { shape: null, located: false, x: null, y: null }
                : { shape: name, located: null, x: null, y: null },
            )
          }
        />
      )}
    </>
  )
}

function TextDialect({ upload, preview, onChange }: Props) {
  const offered = useQuery(startingQuery).data?.encodings ?? []
  const now = preview.encoding ?? ''
  const encodings = [...new Set([now, ...offered])]
  return (
    <>
      <Choice
        label="Encoding"
        value={now}
        options={encodings.map((name) => [name, name] as const)}
        onChange={(encoding) => onChange({ encoding })}
      />
      <Encodings upload={upload} onTake={(encoding) => onChange({ encoding })} />
      <Choice
        label="Delimiter"
        value={preview.delimiter ?? ''}
        options={DELIMITERS}
        onChange={(delimiter) => onChange({ ...ANEW, delimiter })}
      />
      <Choice
        label="First row"
        value={preview.header ? 'names' : 'data'}
        options={
          [
            ['names', 'names the columns'],
            ['data', 'is data'],
          ] as const
        }
        onChange={(headed) => onChange({ ...ANEW, header: headed === 'names' })}
      />
      <Choice
        label="Odd rows"
        value={(preview.ragged ?? 'refuse') as 'refuse' | 'pad'}
        options={
          [
            ['refuse', 'are refused, with their lines'],
            ['pad', 'are filled or cut'],
          ] as const
        }
        onChange={(ragged) => onChange({ ragged })}
      />
    </>
  )
}
