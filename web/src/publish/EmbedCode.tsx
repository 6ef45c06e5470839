import { useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { EditableNumber } from '../bench/EditableNumber'
import { Check } from '../bench/Check'
import { Labelled } from '../bench/Labelled'
import { type PagePart, PARTS } from '../reader/address'
import { currentView } from '../sheet/mapBridge'
import { embedCode } from './embedCode'

/** The code for somebody else's page: width, height, start view. */
export function EmbedCode({ address }: { address: string }) {
  const [size, setSize] = useState({ width: 760, height: 520 })
  const [view, setView] = useState<Awaited<ReturnType<typeof currentView>>>(null)
  const [copied, setCopied] = useState(false)
  const [fits, setFits] = useState(true)
  const [without, setWithout] = useState<readonly PagePart[]>([])
  const code = embedCode(address, { ...size, fits, view, without })
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
