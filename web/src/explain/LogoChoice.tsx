import { useState } from 'react'
import Button from '@mui/material/Button'
import Popover from '@mui/material/Popover'
import type { Icon } from '../api/types'
import { IconPicker } from '../draw/IconPicker'

/** The picture beside the title, of the icons that one keeps. */
export function LogoChoice({ value, onChange }: { value: Icon | null; onChange: (icon: Icon | null) => void }) {
  const [at, setAt] = useState<HTMLElement | null>(null)
  return (
    <>
      <Button variant="outlined" aria-haspopup="dialog" onClick={(e) => setAt(e.currentTarget)}>
        {value ? `Logo: ${value.name || 'an icon'}` : 'Logo …'}
      </Button>
      {value && <Button onClick={() => onChange(null)}>No logo</Button>}
      <Popover
        open={at !== null}
        anchorEl={at}
        onClose={() => setAt(null)}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Logo' } as object }}
      >
        <IconPicker
          value={value}
          onChange={(icon) => {
            onChange(icon)
            setAt(null)
          }}
        />
      </Popover>
    </>
  )
}
