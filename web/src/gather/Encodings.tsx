import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Popover from '@mui/material/Popover'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'

/** How the rows in which encodings differ read under each; pressing one takes it. */
export function Encodings({ upload, onTake }: { upload: string; onTake: (encoding: string) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const seen = useQuery({
    queryKey: ['encodings', upload],
    queryFn: () =>
      answered(client.POST('/api/uploads/{upload_id}/encodings', { params: { path: { upload_id: upload } } })),
    staleTime: Infinity,
    retry: false,
  })
  // Plain letters read the same under all of them.
  if (!seen.data?.length) return null
  return (
    <>
      <Button size="small" onClick={(e) => setAnchor(e.currentTarget)}>
        Compare encodings
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Box sx={{ p: 1, maxWidth: 620 }}>
          {seen.data.map(({ encodings: [first = '', ...others], lines, fits }) => (
            <ButtonBase
              key={first}
              onClick={() => {
                setAnchor(null)
                onTake(first)
              }}
              sx={{
                display: 'block',
                width: '100%',
                textAlign: 'left',
                p: 0.75,
                borderBottom: 1,
                borderColor: 'line',
                opacity: fits ? 1 : 0.65,
                '&:hover, &:focus-visible': { bgcolor: 'tint' },
              }}
            >
              <Typography variant="body2" sx={{ fontWeight: 600 }}>
                {[first, ...others].join(', ')}
                {fits ? '' : ' · some characters stand for nothing'}
              </Typography>
              {lines.map((line, i) => (
                <Typography key={i} variant="body2" noWrap>
                  {line}
                </Typography>
              ))}
            </ButtonBase>
          ))}
        </Box>
      </Popover>
    </>
  )
}
