import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Link from '@mui/material/Link'
import Typography from '@mui/material/Typography'

interface Operation {
  summary?: string
  description?: string
  tags?: string[]
}
interface OpenApi {
  info: { title: string; description: string }
  paths: Record<string, Record<string, Operation>>
}

/** The API in readable form, from the same OpenAPI document that tools read. */
export default function ApiPage() {
  const { data } = useQuery({
    queryKey: ['openapi'],
    queryFn: async () => (await (await fetch('/api/openapi.json')).json()) as OpenApi,
  })
  const groups = new Map<string, [string, string, Operation][]>()
  for (const [path, methods] of Object.entries(data?.paths ?? {}))
    for (const [method, operation] of Object.entries(methods)) {
      const tag = operation.tags?.[0] ?? 'other'
      groups.set(tag, [...(groups.get(tag) ?? []), [method.toUpperCase(), path, operation]])
    }
  return (
    <Box component="main" sx={{ height: '100%', overflow: 'auto' }}>
      <Box sx={{ maxWidth: 900, mx: 'auto', p: 6 }}>
        <Typography component="h1" sx={{ fontSize: 20, fontWeight: 600 }}>
          The API
        </Typography>
        <Typography color="text.secondary">
          {data?.info.description} <Link href="/api/openapi.json">OpenAPI document</Link>
        </Typography>
        {[...groups].map(([tag, operations]) => (
          <Box key={tag} component="section" sx={{ mt: 5 }}>
            <Typography component="h2" variant="h6" sx={{ borderBottom: 1, borderColor: 'line' }}>
              {tag}
            </Typography>
            {operations.map(([method, path, operation]) => (
              <Box
                key={method + path}
                sx={{ display: 'grid', gridTemplateColumns: '60px 1fr', py: 1.5, borderBottom: 1, borderColor: 'line' }}
              >
                <code>{method}</code>
                <Box>
                  <code>{path}</code>
                  <Typography variant="body2">
                    <b>{operation.summary}.</b> {operation.description}
                  </Typography>
                </Box>
              </Box>
            ))}
          </Box>
        ))}
      </Box>
    </Box>
  )
}
