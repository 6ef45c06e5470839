// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { JoinView, Preview } from '../api/types'
import { Corrector } from './Corrector'
import { PreviewTable } from './PreviewTable'
import { Unmatched } from './Unmatched'
import { whole } from '../api/whole'

afterEach(cleanup)

const preview: Preview = whole('Preview', {
  kind: 'points',
  file: 'a.csv',
  title: 'Wells',
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
    render(<Corrector preview={preview} corrections={{}} onChange={vi.fn()} />)
    expect(screen.getByText('EPSG:4326 · WGS 84')).toBeTruthy()
    expect(screen.getByText(/Guessed: all coordinates/)).toBeTruthy()
    expect(screen.getByText('semicolon')).toBeTruthy()
  })

  it('keeps earlier corrections when another is made', () => {
    const onChange = vi.fn()
    render(<Corrector preview={preview} corrections={{ source: 'A diary' }} onChange={onChange} />)
    fireEvent.change(screen.getByLabelText('Another projection'), { target: { value: ' EPSG:32626 ' } })
    fireEvent.click(screen.getByRole('button', { name: 'Use' }))
    expect(onChange).toHaveBeenCalledWith({ source: 'A diary', crs: 'EPSG:32626' })
  })

  it('offers no delimiter for files that have none', () => {
    render(<Corrector preview={{ ...preview, encoding: null, delimiter: null }} corrections={{}} onChange={vi.fn()} />)
    expect(screen.queryByText('Delimiter')).toBeNull()
    expect(screen.getByText('Projection')).toBeTruthy()
  })
})

describe('the preview', () => {
  it('shows real rows, and blanks for what is missing', () => {
    render(<PreviewTable preview={preview} onType={vi.fn()} />)
    const cells = screen.getAllByRole('cell').map((element) => element.textContent)
    expect(cells).toEqual(['-27', '52', 'Ard', '-26', '51', ''])
  })

  it('lets the type of a field be corrected', () => {
    const onType = vi.fn()
    render(<PreviewTable preview={preview} onType={onType} />)
    fireEvent.change(screen.getByLabelText('Type of lat'), { target: { value: 'text' } })
    expect(onType).toHaveBeenCalledWith('lat', 'text')
  })

  it('shows a raster in figures', () => {
    const raster = { width: 10, height: 20, bands: 3, colour: 'rgb', type: 'uint8', nodata: null }
    render(
      <PreviewTable
        preview={whole('Preview', { kind: 'raster', file: 'a.tif', title: 'A', raster })}
        onType={vi.fn()}
      />,
    )
    expect(screen.getByText('10 × 20 px, 3 bands, rgb')).toBeTruthy()
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
