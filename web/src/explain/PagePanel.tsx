import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { Check } from '../bench/Check'
import { PlainSelect } from '../bench/PlainSelect'
import { ENGLISH } from '../reader/words'
import { LogoChoice } from './LogoChoice'
import { PageSketch } from './PageSketch'
import { editReader, type Reader, useReader } from './reader'

const CONTROLS = {
  zoom: 'Buttons that zoom',
  wheel_zoom: 'The wheel zooms',
  full_screen: 'Full screen',
  locate: 'Where the reader is',
  measure: 'Measure',
  layers: 'Layers, each to be seen or not',
  ground: 'The ground, to be seen or not',
  download: 'The data, to be taken along',
  share: 'The address of what is shown',
} as const satisfies Record<keyof Reader['controls'], string>

const LOOKS = [
  ['light', 'light'],
  ['dark', 'dark'],
  ['either', 'as the reader’s machine is set'],
] as const
const KEY_AT = [
  ['right', 'key at right'],
  ['left', 'key at left'],
  ['below', 'key below'],
] as const
const TYPED = { border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, fontSize: 12.5 }

/** How the readers' page is set out: its tools, the text beside the map, the language that it speaks. */
export function PagePanel() {
  const reader = useReader()
  if (!reader) return null
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '250px minmax(0, 1fr) 250px',
        gap: 3,
        p: 2,
        pl: 3,
        minHeight: 0,
        height: '100%',
      }}
    >
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 0.5, overflow: 'auto' }}>
        {(Object.keys(CONTROLS) as (keyof typeof CONTROLS)[]).map((name) => (
          <Check
            key={name}
            label={CONTROLS[name]}
            checked={reader.controls[name]}
            onChange={(on) => editReader(`control-${name}`, (draft) => void (draft.controls[name] = on))}
          />
        ))}
      </Box>
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1, minHeight: 0 }}>
        <InputBase
          multiline
          value={reader.text}
          placeholder="Beside the map, in Markdown: what it shows, how it was made."
          onChange={(e) => editReader('text', (draft) => void (draft.text = e.target.value.slice(0, 20_000)))}
          inputProps={{ 'aria-label': 'Text beside the map' }}
          sx={{
            ...TYPED,
            flex: 1,
            alignItems: 'flex-start',
            overflow: 'auto',
            p: 1,
            fontFamily: '"Source Code Pro", monospace',
          }}
        />
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <Typography variant="body2" color="text.secondary">
            Language
          </Typography>
          <InputBase
            value={reader.language}
            onChange={(e) => {
              const language = e.target.value.trim()
              if (/^[a-zA-Z]{2,3}(-[a-zA-Z0-9]{1,8}){0,3}$/.test(language))
                editReader('language', (draft) => void (draft.language = language))
            }}
            inputProps={{ 'aria-label': 'Language of the page, as en or de-AT' }}
            sx={{ ...TYPED, width: 72, height: 26 }}
          />
          <Words words={reader.words} />
        </Box>
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <Typography variant="body2" color="text.secondary" component="span" noWrap sx={{ flexShrink: 0 }}>
            The page is
          </Typography>
          <PlainSelect
            label="Look of the page"
            value={reader.look}
            options={LOOKS}
            sx={{ minWidth: 0, flex: 1 }}
            onChange={(look) => editReader('look', (draft) => void (draft.look = look))}
          />
          <PlainSelect
            label="Where the key stands"
            value={reader.key_at}
            options={KEY_AT}
            sx={{ minWidth: 0, flex: 1 }}
            onChange={(place) => editReader('key_at', (draft) => void (draft.key_at = place))}
          />
          <Box sx={{ display: 'flex', alignItems: 'center', flexShrink: 0 }}>
            <LogoChoice
              value={reader.logo ?? null}
              onChange={(logo) => editReader('logo', (draft) => void (draft.logo = logo))}
            />
          </Box>
        </Box>
      </Box>
      <PageSketch reader={reader} />
    </Box>
  )
}

/** The page's own words in another language come as a file: an object of English names and what they are to say. */
function Words({ words }: { words: Reader['words'] }) {
  const many = Object.keys(words).length
  const take = (file: File | undefined) =>
    void file
      ?.text()
      .then((text) => JSON.parse(text) as Record<string, unknown>)
      .then((translated) => {
        const kept = Object.entries(translated).filter(
          (entry): entry is [string, string] => typeof entry[1] === 'string',
        )
        editReader('words', (draft) => void (draft.words = Object.fromEntries(kept.slice(0, 200))))
      })
      .catch(() => undefined)
  const english = `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(ENGLISH, null, 1))}`
  return (
    <>
      <Typography variant="body2" noWrap sx={{ flex: 1 }}>
        {many > 0 ? `${many} words of its own` : 'its words are English'}
      </Typography>
      <Button href={english} download="words.json">
        The English words
      </Button>
      <Button component="label" variant="outlined">
        Words from a file
        <input
          hidden
          type="file"
          accept="application/json,.json"
          aria-label="File of words"
          onChange={(e) => take(e.target.files?.[0])}
        />
      </Button>
      {many > 0 && (
        <Button onClick={() => editReader('words', (draft) => void (draft.words = {}))}>English again</Button>
      )}
    </>
  )
}
