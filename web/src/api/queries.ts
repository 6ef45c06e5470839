import { QueryClient } from '@tanstack/react-query'

/** What the server has answered, for the whole application: also for actions outside of components. */
export const queries = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry: 1 } } })
