import { useEffect } from 'react'
import Box from '@mui/material/Box'
import { editionTiles } from '../embed/tiles'
import { mapBridge } from '../sheet/mapBridge'
import { useSheet } from '../sheet/store'
import { momentOf } from '../wording'
import { useEditions } from './queries'

/** While it is there, the map shows what readers have at the address instead of the sheet. */
export function LastEdition() {
  const editions = useEditions(useSheet((s) => s.id))
  const edition = editions.data?.editions.find((one) => one.current)
  useEffect(() => {
    const map = mapBridge.get()
    if (!map || !edition) return
    const own = map.getLayers().getArray().slice()
    const tiles = editionTiles({ ...edition, base: new URL(edition.address).pathname })
    tiles.setZIndex(3000)
    own.forEach((layer) => layer.setVisible(false))
    map.addLayer(tiles)
    return () => {
      map.removeLayer(tiles)
      own.forEach((layer) => layer.setVisible(true))
    }
  }, [edition])
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
      {edition
        ? `Edition ${edition.number}, as readers have it since ${momentOf(edition.published)}`
        : 'Nothing is published yet'}
    </Box>
  )
}
