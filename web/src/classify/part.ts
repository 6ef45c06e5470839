/** What part of the numbers the histogram shows, and along which axis. */
export interface Part {
  low: number | null
  high: number | null
  logarithmic: boolean
}
export const ALL: Part = { low: null, high: null, logarithmic: false }
