// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter, Route, Routes } from 'react-router'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import type { Dataset, Team } from '../api/types'
import { Invited } from './Invited'
import { NewPassword } from './NewPassword'
import { ShareDialog } from './ShareDialog'
import { TeamPart } from './TeamPart'
import { Vetted } from './Vetted'

/** What is asked of the server, and what it answers, by method and path. */
let asked: { method: string; path: string; body: unknown }[] = []
let answers: Record<string, unknown> = {}

function answer(method: string) {
  return (path: unknown, options?: { body?: unknown }) => {
    asked.push({ method, path: String(path), body: options?.body })
    const given = answers[`${method} ${String(path)}`]
    const refused = given instanceof Error
    return Promise.resolve({
      data: refused ? undefined : (given ?? {}),
      error: refused ? { detail: given.message } : undefined,
      response: new Response(null, { status: refused ? 422 : 200 }),
    } as never)
  }
}

beforeEach(() => {
  asked = []
  answers = {}
  for (const method of ['GET', 'POST', 'PATCH', 'DELETE', 'PUT'] as const)
    vi.spyOn(client, method).mockImplementation(answer(method) as never)
  window.confirm = vi.fn(() => true)
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

function shown(what: ReactNode, at = '/') {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  return render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={[at]}>
        <Routes>
          <Route path="/" element={at === '/' ? what : <p>the sheets</p>} />
          <Route path="/invited/:token" element={what} />
          <Route path="/new-password/:person/:token" element={what} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  )
}

const sent = (method: string) => asked.filter((each) => each.method === method).map(({ path, body }) => [path, body])

const team = (role: Team['role']): Team => ({
  id: 't',
  name: 'Survey',
  role,
  members: [
    { id: '1', name: 'isla', role: 'keeper', resettable: false },
    { id: '2', name: 'brann', role: 'maker', resettable: true },
  ],
  invitations: role === 'keeper' ? [{ id: 'i', role: 'reader', made_by: 'isla', ends: '2026-06-01T10:00:00Z' }] : [],
})

describe('a team', () => {
  it('is kept by its keepers: roles, links, who is in it', async () => {
    answers['POST /api/teams/{team_id}/invitations'] = { address: 'https://maps.example/invited/abc' }
    answers['POST /api/teams/{team_id}/members/{member_id}/reset'] = {
      address: 'https://maps.example/new-password/2/x',
    }
    shown(<TeamPart team={team('keeper')} me="isla" />)
    fireEvent.change(screen.getByLabelText('Role of brann'), { target: { value: 'reader' } })
    await waitFor(() =>
      expect(sent('PATCH')).toEqual([['/api/teams/{team_id}/members/{member_id}', { role: 'reader' }]]),
    )
    fireEvent.change(screen.getByLabelText('Role of who is invited into Survey'), { target: { value: 'keeper' } })
    fireEvent.click(screen.getByText('Make a link to invite a'))
    expect(await screen.findByText('https://maps.example/invited/abc')).toBeTruthy()
    expect(sent('POST')).toEqual([['/api/teams/{team_id}/invitations', { role: 'keeper' }]])
    fireEvent.click(screen.getByText('Let choose a new password'))
    expect(await screen.findByText('https://maps.example/new-password/2/x')).toBeTruthy()
    fireEvent.click(screen.getByText('Take back'))
    fireEvent.click(screen.getByLabelText('Take out brann'))
    await waitFor(() => expect(sent('DELETE').length).toBe(2))
  })

  it('says what its server refuses', async () => {
    answers['PATCH /api/teams/{team_id}/members/{member_id}'] = new Error('A team keeps at least one keeper.')
    shown(<TeamPart team={team('keeper')} me="isla" />)
    fireEvent.change(screen.getByLabelText('Role of isla'), { target: { value: 'reader' } })
    expect((await screen.findByRole('alert')).textContent).toBe('A team keeps at least one keeper.')
  })

  it('is only looked at, or left, by others', () => {
    shown(<TeamPart team={team('maker')} me="brann" />)
    expect(screen.queryByText('Make a link to invite a')).toBeNull()
    expect(screen.queryByText('Let choose a new password')).toBeNull()
    expect(screen.queryByLabelText('Role of isla')).toBeNull()
    expect(screen.getByLabelText('Leave Survey')).toBeTruthy()
    expect(screen.queryByLabelText('Take out isla')).toBeNull()
  })

  it('is asked about before anybody is taken out', () => {
    window.confirm = () => false
    shown(<TeamPart team={team('keeper')} me="isla" />)
    fireEvent.click(screen.getByLabelText('Take out brann'))
    fireEvent.click(screen.getByText('End the team'))
    expect(sent('DELETE')).toEqual([])
  })
})

describe('sharing', () => {
  const shares = [
    { id: 'a', name: 'Survey', team: true, may_change: true, through: false },
    { id: 'b', name: 'runa', team: false, may_change: false, through: false },
    { id: 'c', name: 'Archive', team: true, may_change: false, through: true },
  ]

  it('offers teams first, and says with whom it is shared and by what', async () => {
    answers['GET /api/teams'] = [team('keeper')]
    answers['GET /api/shares/{thing_id}'] = shares
    shown(<ShareDialog id="x" title="Wells" sheet onClose={vi.fn()} />)
    const list = await screen.findByRole('list', { name: 'Who sees it' })
    await waitFor(() => expect(within(list).getAllByRole('listitem').length).toBe(3))
    expect(list.textContent).toContain('the team Survey its makers may change it')
    expect(list.textContent).toContain('runa may look')
    expect(list.textContent).toContain('the team Archive sees it by a sheet that draws it')
    expect(within(list).queryByLabelText('Share with Archive no more')).toBeNull()
    fireEvent.click(screen.getByLabelText('They may change it'))
    fireEvent.click(screen.getByRole('button', { name: 'Share' }))
    await waitFor(() =>
      expect(sent('POST')).toEqual([['/api/shares/{thing_id}', { person: '', team: 't', may_change: true }]]),
    )
    fireEvent.click(screen.getByLabelText('Share with runa no more'))
    await waitFor(() => expect(sent('DELETE').length).toBe(1))
  })

  it('is with a person by name where there is no team, and says who is not known', async () => {
    answers['GET /api/teams'] = []
    answers['GET /api/shares/{thing_id}'] = []
    answers['POST /api/shares/{thing_id}'] = new Error("Nobody is called 'nobody' here.")
    shown(<ShareDialog id="x" title="Wells" onClose={vi.fn()} />)
    expect(await screen.findByText('Nobody sees it but you.')).toBeTruthy()
    const press = screen.getByRole<HTMLButtonElement>('button', { name: 'Share' })
    expect(press.disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('Name of the person'), { target: { value: 'nobody' } })
    fireEvent.click(press)
    expect((await screen.findByRole('alert')).textContent).toBe("Nobody is called 'nobody' here.")
    expect(screen.getByLabelText<HTMLInputElement>('Name of the person').value).toBe('nobody')
  })
})

describe('vetting', () => {
  const dataset = (values: Partial<Dataset>) =>
    ({ id: 'd', may: [], vetted: null, vetted_by: null, ...values }) as never

  it('is for keepers, who take it back as well', async () => {
    shown(<Vetted dataset={dataset({ may: ['see', 'vet'] })} />)
    fireEvent.click(screen.getByText('I have looked at it: it is good'))
    await waitFor(() => expect(sent('POST')).toEqual([['/api/vetted/{thing_id}', undefined]]))
    cleanup()
    shown(<Vetted dataset={dataset({ may: ['see', 'vet'], vetted: '2026-05-01T10:00:00Z', vetted_by: 'isla' })} />)
    expect(screen.getByText(/^Vetted by isla, 1 May 2026/)).toBeTruthy()
    fireEvent.click(screen.getByText('Take that back'))
    await waitFor(() => expect(sent('DELETE').length).toBe(1))
    cleanup()
    shown(<Vetted dataset={dataset({ vetted: '2026-05-01T10:00:00Z' })} />)
    expect(screen.getByText(/somebody who has left/)).toBeTruthy()
    expect(screen.queryByRole('button')).toBeNull()
  })
})

describe('a link that was handed over', () => {
  it('takes somebody new into a team', async () => {
    answers['GET /api/invitations/{token}'] = { team: 'Survey', role: 'maker', made_by: 'isla' }
    answers['POST /api/invitations/{token}'] = new Error("Somebody is called 'isla' already.")
    shown(<Invited me={null} />, '/invited/abc')
    expect(await screen.findByText('isla invites you into the team Survey as a maker.')).toBeTruthy()
    const press = screen.getByRole<HTMLButtonElement>('button', { name: 'Come in' })
    expect(press.disabled).toBe(true)
    fireEvent.change(screen.getByLabelText('The name you choose'), { target: { value: 'isla' } })
    fireEvent.change(screen.getByLabelText('Your password, ten characters or more'), {
      target: { value: 'sedge-and-rush' },
    })
    fireEvent.click(press)
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe("Somebody is called 'isla' already."))
    answers['POST /api/invitations/{token}'] = { name: 'sunniva', makes: true }
    fireEvent.click(press)
    expect(await screen.findByText('the sheets')).toBeTruthy()
    expect(sent('POST').at(-1)?.[1]).toEqual({ name: 'isla', password: 'sedge-and-rush' })
  })

  it('takes one who has signed in with no more than a press', async () => {
    answers['GET /api/invitations/{token}'] = { team: 'Survey', role: 'reader', made_by: 'isla' }
    answers['POST /api/invitations/{token}'] = { name: 'odd', makes: true }
    shown(<Invited me="odd" />, '/invited/abc')
    fireEvent.click(await screen.findByRole('button', { name: 'Come in as odd' }))
    expect(await screen.findByText('the sheets')).toBeTruthy()
    expect(sent('POST')[0]?.[1]).toEqual({ name: '', password: '' })
  })

  it('that was taken says so', async () => {
    answers['GET /api/invitations/{token}'] = new Error('Not Found')
    shown(<Invited me={null} />, '/invited/abc')
    expect(await screen.findByText(/This invitation was taken, taken back, or is too old/)).toBeTruthy()
    expect(screen.queryByLabelText('The name you choose')).toBeNull()
  })

  it('chooses a new password, typed twice', async () => {
    answers['POST /api/new-password'] = { name: 'runa', makes: false }
    shown(<NewPassword />, '/new-password/7/key')
    const [one, two] = [
      screen.getByLabelText('The new one, ten characters or more'),
      screen.getByLabelText('The new one again'),
    ]
    fireEvent.change(one, { target: { value: 'heath-and-moor' } })
    fireEvent.change(two, { target: { value: 'heath-and-more' } })
    fireEvent.click(screen.getByRole('button', { name: 'Choose it' }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('The two are not the same.'))
    expect(sent('POST')).toEqual([])
    fireEvent.change(two, { target: { value: 'heath-and-moor' } })
    fireEvent.click(screen.getByRole('button', { name: 'Choose it' }))
    expect(await screen.findByText('the sheets')).toBeTruthy()
    expect(sent('POST')).toEqual([['/api/new-password', { person: 7, token: 'key', password: 'heath-and-moor' }]])
  })
})
