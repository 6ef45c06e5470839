import { useEffect } from 'react'
import Box from '@mui/material/Box'
import { editionTiles } from './editionTiles'
import { mapBridge } from '../sheet/mapBridge'
import { useSheet } from '../sheet/store'
import { useFrame } from '../sheet/useFrame'
import { momentOf } from '../wording'
import { useEditions } from './queries'

/** While it is there, the map shows what readers have at the address instead of the sheet. */
export function LastEdition() {
  const editions = useEditions(useSheet((s) => s.id))
  const edition = editions.data?.editions.find((candidate) => candidate.current)
  const place = useFrame()
  // Its tiles lie in its own projection, and can't be laid over a map in another.
  const elsewhere = edition !== undefined && edition.crs !== place?.crs
  useEffect(() => {
    const map = mapBridge.get()
    if (!map || !edition || elsewhere) return
    const own = map.getLayers().getArray().slice()
    const tiles = editionTiles({ ...edition, base: new URL(edition.address).pathname }, place?.frame)
    tiles.setZIndex(3000)
    own.forEach((layer) => layer.setVisible(false))
    map.addLayer(tiles)
    return () => {
      map.removeLayer(tiles)
      own.forEach((layer) => layer.setVisible(true))
    }
  }, [edition, elsewhere, place])
  return (
    <Box
      role="status"
      aria-label="Shown edition"
      sx={{
        position: 'absolute',
        left: 8,
        bottom: 8,
        px: 2,
        py: 0.5,
        bgcolor: 'background.paper',
        border: 1,
        borderColor: 'primary.main',
        fontSize: 13,
      }}
    >
      {edition && elsewhere
        ? `Edition ${edition.number} is in another projection: look at it at its address`
        : edition
          ? `Edition ${edition.number}, as readers have it since ${momentOf(edition.published)}`
          : 'Nothing is published yet'}
    </Box>
  )
}
