import { useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { EditableNumber } from '../bench/EditableNumber'
import { Check } from '../bench/Check'
import { Labelled } from '../bench/Labelled'
import { type PagePart, PARTS, saidIn } from '../reader/address'
import { counted } from '../wording'
import { currentView } from '../sheet/mapBridge'
import { embedCode } from './embedCode'

/** What an address chooses, in words. */
function presets(like: string): string {
  const { ranges, choices, off, hidden, time, near } = saidIn(like.split('#')[1] ?? '')
  const filters = Object.keys(ranges).length + Object.keys(choices).length
  const said = [
    filters > 0 && counted(filters, 'filter'),
    Object.keys(off).length > 0 && 'lines of the key switched off',
    hidden.length > 0 && `${counted(hidden.length, 'layer')} hidden`,
    time !== null && 'a time',
    near && 'a distance',
  ].filter(Boolean)
  return said.length > 0 ? `Opens with ${said.join(', ')}.` : 'Nothing is chosen in that address.'
}

/** The code for somebody else's page: width, height, start view, what is chosen at first. */
export function EmbedCode({ address }: { address: string }) {
  const [size, setSize] = useState({ width: 760, height: 520 })
  const [view, setView] = useState<Awaited<ReturnType<typeof currentView>>>(null)
  const [copied, setCopied] = useState(false)
  const [fits, setFits] = useState(true)
  const [without, setWithout] = useState<readonly PagePart[]>([])
  const [like, setLike] = useState('')
  const code = embedCode(address, { ...size, fits, view, without, like })
  return (
    <Box>
      <Labelled label="Size, px" wide>
        <EditableNumber
          label="Width of the frame"
          value={size.width}
          width={56}
          onChange={(width) => setSize({ ...size, width: Math.round(width) })}
        />
        <span>×</span>
        <EditableNumber
          label="Height of the frame"
          value={size.height}
          width={56}
          onChange={(height) => setSize({ ...size, height: Math.round(height) })}
        />
      </Labelled>
      <Labelled label="" wide>
        <Check label="narrower where there is less room" checked={fits} onChange={setFits} />
      </Labelled>
      <Labelled label="With" wide>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.5 }}>
          {PARTS.map((part) => (
            <Check
              key={part}
              label={part}
              checked={!without.includes(part)}
              onChange={(on) => setWithout(PARTS.filter((each) => (each === part ? !on : without.includes(each))))}
            />
          ))}
        </Box>
      </Labelled>
      <Labelled label="Opens at" wide>
        <Button variant="outlined" onClick={() => (view ? setView(null) : void currentView().then(setView))}>
          {view ? 'Use the start view instead' : 'Use what the map shows now'}
        </Button>
      </Labelled>
      <Labelled label="Chosen as" wide>
        <InputBase
          fullWidth
          value={like}
          placeholder="an address of the page, with its filters"
          title="Choose on the page as readers do, and paste its address here: the map opens with that chosen"
          onChange={(e) => setLike(e.target.value.trim())}
          inputProps={{ 'aria-label': 'Address of the page on which filters are chosen' }}
          sx={{ fontSize: 13, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
        />
      </Labelled>
      {like && (
        <Typography variant="caption" color="text.secondary" role="status" sx={{ display: 'block' }}>
          {presets(like)}
        </Typography>
      )}
      <Typography
        component="pre"
        data-testid="embed-code"
        sx={{
          fontFamily: '"Source Code Pro", monospace',
          fontSize: 11.5,
          whiteSpace: 'pre-wrap',
          wordBreak: 'break-all',
          border: 1,
          borderColor: 'line',
          bgcolor: 'raised',
          p: 1.5,
          my: 1,
        }}
      >
        {code}
      </Typography>
      <Button
        variant="outlined"
        onClick={() =>
          void navigator.clipboard.writeText(code).then(() => {
            setCopied(true)
            setTimeout(() => setCopied(false), 2000)
          })
        }
      >
        {copied ? 'Copied' : 'Copy the code'}
      </Button>
    </Box>
  )
}
