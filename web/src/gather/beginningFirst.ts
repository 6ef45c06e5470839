import { createFilterOptions } from '@mui/material/Autocomplete'
import type { FilterOptionsState } from '@mui/material/useAutocomplete'

const begin = createFilterOptions<string>({ matchFrom: 'start' })
const hold = createFilterOptions<string>()

/** The names that hold what is typed, those that begin with it first: who types “Pal” means Palestine before Nepal. */
export function beginningFirst(names: string[], typed: FilterOptionsState<string>): string[] {
  return [...new Set([...begin(names, typed), ...hold(names, typed)])]
}
