import { useRef, useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Icon, KeptIcon } from '../api/types'

const ICONS = ['icons']

/** The icons that one keeps, to look at and to take; new ones are sent as SVG or PNG, with whose they are. */
export function IconPicker({ value, onChange }: { value: Icon | null; onChange: (icon: Icon | null) => void }) {
  const queries = useQueryClient()
  const file = useRef<HTMLInputElement>(null)
  const [credit, setCredit] = useState('')
  const { data } = useQuery({ queryKey: ICONS, queryFn: () => answered(client.GET('/api/icons')), staleTime: 30_000 })
  const again = () => queries.invalidateQueries({ queryKey: ICONS })
  const send = useMutation({
    mutationFn: (sent: File) => {
      const form = new FormData()
      form.append('file', sent)
      form.append('credit', credit)
      return answered(client.POST('/api/icons', { body: form as never, bodySerializer: (body) => body }))
    },
    onSuccess: (kept) => {
      onChange(kept.icon)
      void again()
    },
  })
  const remove = useMutation({
    mutationFn: ({ id }: KeptIcon) =>
      answered(client.DELETE('/api/icons/{icon_id}', { params: { path: { icon_id: id } } })),
    onSuccess: again,
  })
  return (
    <Box sx={{ p: 1, borderTop: 1, borderColor: 'line', width: 240 }}>
      <Typography variant="body2" color="text.secondary">
        Icons of your own
      </Typography>
      <Box role="listbox" aria-label="Icons" tabIndex={-1} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, my: 0.5 }}>
        {data?.map((kept) => (
          <ButtonBase
            key={kept.id}
            role="option"
            aria-selected={kept.icon.content === value?.content}
            aria-label={kept.icon.name || 'icon'}
            title={[
              kept.icon.name,
              kept.icon.credit,
              kept.may.includes('remove') ? 'Delete takes it out of the library' : `of ${kept.owner}`,
            ]
              .filter(Boolean)
              .join(' · ')}
            onClick={() => onChange(kept.icon)}
            onKeyDown={(e) => {
              if (e.key !== 'Delete' || !kept.may.includes('remove')) return
              // What has the keys is about to be gone.
              e.currentTarget.parentElement?.focus()
              remove.mutate(kept)
            }}
            sx={{
              width: 34,
              height: 34,
              border: 1,
              borderColor: kept.icon.content === value?.content ? 'primary.main' : 'line',
            }}
          >
            <img src={`data:image/png;base64,${kept.picture}`} alt="" style={{ maxWidth: 26, maxHeight: 26 }} />
          </ButtonBase>
        ))}
        {data?.length === 0 && (
          <Typography variant="caption" color="text.secondary">
            None yet: send an SVG or a PNG.
          </Typography>
        )}
      </Box>
      <InputBase
        value={credit}
        onChange={(e) => setCredit(e.target.value)}
        placeholder="Whose it is, for the credits"
        inputProps={{ 'aria-label': 'Credit of the next icon', maxLength: limits.Icon.credit.most }}
        sx={{ fontSize: 12.5, width: '100%', borderBottom: 1, borderColor: 'line', mb: 0.5 }}
      />
      <input
        ref={file}
        type="file"
        accept=".svg,.png,image/svg+xml,image/png"
        aria-label="Icon file"
        style={{ display: 'none' }}
        onChange={(e) => {
          const sent = e.target.files?.[0]
          if (sent) send.mutate(sent)
          e.target.value = ''
        }}
      />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button size="small" variant="outlined" onClick={() => file.current?.click()} disabled={send.isPending}>
          Send an icon
        </Button>
        {value && (
          <Button size="small" onClick={() => onChange(null)}>
            A shape instead
          </Button>
        )}
      </Box>
      {(send.error ?? remove.error) && (
        <Typography role="alert" variant="caption" sx={{ color: 'error.main', display: 'block', mt: 0.5 }}>
          {(send.error ?? remove.error)?.message}
        </Typography>
      )}
    </Box>
  )
}
