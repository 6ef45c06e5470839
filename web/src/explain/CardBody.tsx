import Box from '@mui/material/Box'

/** HTML of a card. The server has sanitised it; nothing else may be given here. */
export function CardBody({ html }: { html: string }) {
  return (
    <Box
      sx={{
        fontSize: 13.5,
        lineHeight: 1.4,
        '& h1, & h2, & h3': { fontSize: 15.5, m: 0, mb: 1 },
        '& p': { m: 0, mb: 1 },
        '& ul, & ol': { m: 0, pl: 4 },
        '& table': { borderCollapse: 'collapse', mb: 1 },
        '& th, & td': { p: 0, pr: 2 },
        '& th:not([align])': { textAlign: 'left' },
        '& img': { maxWidth: '100%', height: 'auto' },
        '& figure': { m: 0, mb: 1 },
        '& small': { display: 'block' },
        '& figcaption, & small': { fontSize: 12, color: 'text.secondary' },
      }}
      dangerouslySetInnerHTML={{ __html: html }}
    />
  )
}
