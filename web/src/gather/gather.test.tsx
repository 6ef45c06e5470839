// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render as renderBare, screen } from '@testing-library/react'
import type { ReactElement } from 'react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { JoinView, Preview } from '../api/types'
import { apart } from './arriving'
import { together } from './Arrivals'
import { Corrector } from './Corrector'
import { useHatched } from '../sheet/hatched'
import { framed } from './GlanceMap'
import { valuesSeen } from './KeptRows'
import type { UploadState } from './arriving'
import { PreviewTable } from './PreviewTable'
import { asFile } from './SendFile'
import { Unmatched } from './Unmatched'
import { whole } from '../api/whole'

afterEach(cleanup)

const render = (page: ReactElement) =>
  renderBare(<QueryClientProvider client={new QueryClient()}>{page}</QueryClientProvider>)

const preview: Preview = whole('Preview', {
  kind: 'points',
  file: 'a.csv',
  title: 'Wells',
  format: 'CSV',
  correctable: true,
  encoding: 'utf-8',
  delimiter: ';',
  header: true,
  ragged: 'refuse',
  located: true,
  x: 'lon',
  y: 'lat',
  crs: 'EPSG:4326 · WGS 84',
  crs_reason: 'Guessed: all coordinates lie within ±180 and ±90.',
  fields: [
    { name: 'lon', type: 'number' },
    { name: 'lat', type: 'number' },
    { name: 'name', type: 'text' },
  ],
  rows: [
    [-27, 52, 'Ard'],
    [-26, 51, null],
  ],
})

describe('the corrector', () => {
  it('shows every guess with its reason', () => {
    render(<Corrector upload="u" preview={preview} corrections={{}} onChange={vi.fn()} />)
    expect(screen.getByText('EPSG:4326 · WGS 84')).toBeTruthy()
    expect(screen.getByText(/Guessed: all coordinates/)).toBeTruthy()
    expect(screen.getByText('semicolon')).toBeTruthy()
  })

  it('keeps earlier corrections when another is made', () => {
    const onChange = vi.fn()
    render(<Corrector upload="u" preview={preview} corrections={{ source: 'A diary' }} onChange={onChange} />)
    fireEvent.change(screen.getByLabelText('Another projection'), { target: { value: ' EPSG:32626 ' } })
    fireEvent.click(screen.getByRole('button', { name: 'Use' }))
    expect(onChange).toHaveBeenCalledWith({ source: 'A diary', crs: 'EPSG:32626' })
  })

  it('offers no delimiter for files that have none', () => {
    render(
      <Corrector
        upload="u"
        preview={{ ...preview, correctable: false, encoding: null, delimiter: null }}
        corrections={{}}
        onChange={vi.fn()}
      />,
    )
    expect(screen.queryByText('Delimiter')).toBeNull()
    expect(screen.getByText('Projection')).toBeTruthy()
  })
})

describe('the preview', () => {
  it('shows real rows, and blanks for what is missing', () => {
    render(<PreviewTable locked={false} preview={preview} corrections={{}} onChange={vi.fn()} />)
    const cells = screen.getAllByRole('cell').map((element) => element.textContent)
    expect(cells).toEqual(['-27', '52', 'Ard', '-26', '51', ''])
  })

  it('lets the type of a field be corrected', () => {
    const onChange = vi.fn()
    render(<PreviewTable locked={false} preview={preview} corrections={{}} onChange={onChange} />)
    fireEvent.change(screen.getByLabelText('Type of lat'), { target: { value: 'text' } })
    expect(onChange).toHaveBeenCalledWith({ types: { lat: 'text' } })
  })

  it('leaves fields out and renames them, in the order of the file', () => {
    const onChange = vi.fn()
    const fields = [{ name: 'name', rename: 'well' }]
    render(<PreviewTable locked={false} preview={preview} corrections={{ fields }} onChange={onChange} />)
    expect(screen.getByLabelText<HTMLInputElement>('Name of name').value).toBe('well')
    fireEvent.click(screen.getByLabelText('Keep lon'))
    expect(onChange).toHaveBeenLastCalledWith({ fields: [{ name: 'lon', rename: '' }, fields[0]] })
    fireEvent.click(screen.getByLabelText('Keep name'))
    expect(onChange).toHaveBeenCalledTimes(1)
  })

  it('shows a raster in figures', () => {
    const raster = { width: 10, height: 20, bands: 3, colour: 'rgb', type: 'uint8', nodata: null }
    render(
      <PreviewTable
        locked={false}
        preview={whole('Preview', { kind: 'raster', file: 'a.tif', format: 'GeoTIFF', title: 'A', raster })}
        corrections={{}}
        onChange={vi.fn()}
      />,
    )
    expect(screen.getByText('10 × 20 px, 3 bands, rgb')).toBeTruthy()
  })
})

describe('a file of layers', () => {
  it('offers those in which something stands, with their rows', () => {
    const onChange = vi.fn()
    const layers = [
      { name: 'routes', kind: 'lines', rows: 0 },
      { name: 'tracks', kind: 'lines', rows: 3 },
      { name: 'waypoints', kind: 'points', rows: 1 },
    ]
    const file = { ...preview, correctable: false, layers, layer: 'tracks' }
    render(<Corrector upload="u" preview={file} corrections={{ where: 'a > 1' }} onChange={onChange} />)
    fireEvent.mouseDown(screen.getByText('tracks (3 rows)'))
    expect(screen.queryByText(/routes/)).toBeNull()
    fireEvent.click(screen.getByText('waypoints (1 row)'))
    expect(onChange).toHaveBeenCalledWith({ layer: 'waypoints' })
  })
})

describe('several rasters', () => {
  const upload = (id: string, kind: string, also?: UploadState[]) =>
    ({ id, preview: { kind }, corrections: {}, file: null, ...(also ? { also } : {}) }) as unknown as UploadState

  it('become one in the place of the first', () => {
    const ids = (uploads: readonly UploadState[]) => uploads.map(({ id, also }) => [id, also?.map((each) => each.id)])
    const files = [
      upload('t', 'table'),
      upload('a', 'raster'),
      upload('p', 'points'),
      upload('b', 'raster', [upload('c', 'raster')]),
    ]
    expect(ids(together(files))).toEqual([
      ['t', undefined],
      ['a', ['b', 'c']],
      ['p', undefined],
    ])
    expect(together(files.slice(0, 2))).toEqual(files.slice(0, 2))
    const [, one] = together(files)
    expect(one && ids(apart(one)), 'and come apart again, whole').toEqual([
      ['a', undefined],
      ['b', undefined],
      ['c', undefined],
    ])
  })
})

describe('a glance at a place', () => {
  it('frames the data with as much again beside them, true to shape', () => {
    const view = framed([-27, 51, -26, 52], 200, 100)
    expect(view.x(-26.5)).toBe(100)
    expect(view.y(51.5)).toBe(50)
    const [west, south, east, north] = view.bounds
    expect(north - south).toBeCloseTo(2)
    const narrow = Math.cos((51.5 * Math.PI) / 180)
    expect(((east - west) * narrow) / (north - south)).toBeCloseTo(2)
  })

  it('has pasted text say what it is', () => {
    expect(asFile(' {"type": "Point"}').name).toBe('pasted.geojson')
    expect(asFile('a;b').name).toBe('pasted.csv')
  })

  it('offers the values that are seen, as conditions write them', () => {
    expect(valuesSeen({ ...preview, rows: [[1, 2, "O'Ard"]] }, 'name')).toEqual(["'O''Ard'"])
    expect(valuesSeen(preview, 'lon')).toEqual(['-27', '-26'])
  })
})

describe('what does not fit', () => {
  const join = whole('JoinIn', {
    areas: 'a',
    table: 't',
    area_key: 'name',
    table_key: 'name',
    same: { Tolm: 'Tolmay' },
  })
  const view: JoinView = {
    matched: 3,
    areas: 5,
    rows: 6,
    rows_without_area: ['Ardd', 'Baye', 'Zzz'],
    rows_elsewhere: 3,
    bare_areas: 2,
    twins: 1,
    fids_without_row: [1],
    areas_without_row: ['Ard', 'Bay'],
    duplicate_keys: [{ key: 'Dun', rows: [2, 4], texts: ['t 1', 't 2'] }],
    suggestions: {
      Ardd: [{ area: 'Ard', likeness: 86, sure: true }],
      Baye: [
        { area: 'Bay', likeness: 86, sure: false },
        { area: 'Ard', likeness: 50, sure: false },
      ],
    },
    area_keys: ['Ard', 'Bay', 'Dun', 'Tolmay'],
  }
  const setUp = () => {
    const onChange = vi.fn()
    render(<Unmatched view={view} join={join} onChange={onChange} />)
    return onChange
  }

  it('is counted from both sides', () => {
    setUp()
    const text = screen.getByTestId('unmatched').textContent
    expect(text).toContain('3 of 5 areas have a row')
    expect(text).toContain('3 of 6 rows found no area')
    expect(text).toContain('2 areas without a row')
  })

  it('hatches the areas without a row on the map, for as long as it is seen', () => {
    const { unmount } = render(<Unmatched view={view} join={join} onChange={vi.fn()} />)
    expect(useHatched.getState()).toEqual({ dataset: 'a', fids: [1] })
    unmount()
    expect(useHatched.getState().dataset).toBeNull()
  })

  it('is settled one by one, by a suggestion or by leaving it out', () => {
    const onChange = setUp()
    fireEvent.click(screen.getAllByRole('button', { name: /^Bay/ })[0] as HTMLElement)
    expect(onChange).toHaveBeenCalledWith({ same: { Tolm: 'Tolmay', Baye: 'Bay' } })
    fireEvent.click(screen.getAllByRole('button', { name: 'Leave out' })[2] as HTMLElement)
    expect(onChange).toHaveBeenLastCalledWith({ same: { Tolm: 'Tolmay', Zzz: '' } })
  })

  it('is settled at one press only where that is sure', () => {
    const onChange = setUp()
    fireEvent.click(screen.getByRole('button', { name: 'Take the 1 that is sure' }))
    expect(onChange).toHaveBeenCalledWith({ same: { Tolm: 'Tolmay', Ardd: 'Ard' } })
  })

  it('asks which of two rows is right', () => {
    const onChange = setUp()
    fireEvent.click(screen.getByRole('button', { name: 'Row 5' }))
    expect(onChange).toHaveBeenCalledWith({ chosen: { Dun: 4 } })
  })

  it('can be opened again', () => {
    const onChange = setUp()
    fireEvent.click(screen.getByRole('button', { name: /Tolm → Tolmay/ }))
    expect(onChange).toHaveBeenCalledWith({ same: {} })
  })
})
