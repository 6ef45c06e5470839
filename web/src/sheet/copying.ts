import { answered, client } from '../api/client'
import * as limits from '../api/generated/limits'

const MARK = ', copy'

/** A new sheet of one's own with the document of another. */
export async function copyOf(id: string) {
  const { document } = await answered(client.GET('/api/sheets/{sheet_id}', { params: { path: { sheet_id: id } } }))
  const title = `${document.title.slice(0, limits.Sheet.title.most - MARK.length)}${MARK}`
  return answered(client.POST('/api/sheets', { body: { ...document, title } }))
}
