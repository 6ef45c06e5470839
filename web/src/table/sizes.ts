/** Px of a row, of a column, of the row's number and of the heads of the columns: a name over a glimpse of the values. */
export const ROW = 23
export const COLUMN = 132
export const FIRST = 56
export const HEAD = 42

/** Where a column stays while others are scrolled under it; none for those that go along. */
export const leftOf = (i: number, frozen: number): number | undefined => (i < frozen ? FIRST + i * COLUMN : undefined)
